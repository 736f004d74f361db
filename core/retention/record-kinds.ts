/**
 * The kinds of record that a school may keep for different times. `record` is everything: what is left when the others are erased, and the
 * others with it.
 */
export const recordKinds = ["observations", "incidents", "jots", "messages", "record"] as const;
export type RecordKind = (typeof recordKinds)[number];

/** For how many years after a student left a kind is kept, and the rule that says so, in the school's words. */
export interface RetentionRule {
  years: number;
  source: string;
}

/** What the school has set. A kind that is not here has no rule: nobody but the school knows its state's law. */
export type RetentionRules = Partial<Record<RecordKind, RetentionRule>>;
