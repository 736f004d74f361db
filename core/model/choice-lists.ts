/** The choice lists a student has of their own. */
export const choiceLists = ["setting", "antecedent", "behavior", "consequence", "setting event"] as const;
export type ChoiceList = (typeof choiceLists)[number];

/** One choice of a student's list. */
export interface Choice {
  choiceId: string;
  list: ChoiceList;
  name: string;
  /** What exactly counts as it; behaviors have one before anything is compared. */
  definition: string | null;
  /** Words of one incident, not offered again. */
  once: boolean;
  retired: boolean;
}

/** What a list is called in the names of form fields, which hold no space. */
export const fieldOfList = (list: ChoiceList): string => list.replace(" ", "-");
