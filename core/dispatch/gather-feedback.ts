/** How answers are put in order: as they came, by name, or mixed, so that their order says nothing. */
export const feedbackOrders = ["as they came", "by name", "mixed"] as const;
export type FeedbackOrder = (typeof feedbackOrders)[number];

/** How who answered is named. */
export const feedbackNames = ["names", "initials", "none"] as const;
export type FeedbackNames = (typeof feedbackNames)[number];

/** What one person answered: a text for each prompt, empty where they left it out. */
export interface FeedbackAnswer {
  personId: string;
  name: string;
  initials: string;
  /** When, ISO 8601: in this order they came. */
  at: string;
  texts: readonly string[];
}

/** A number from a text, the same each time (FNV-1a, 32 bit): to mix by. */
function hashOf(text: string): number {
  let hash = 0x811c9dc5;
  for (const unit of text) hash = Math.imul(hash ^ (unit.codePointAt(0) ?? 0), 0x01000193) >>> 0;
  return hash;
}

/** The order that holds: without names, an order by name would say who they are. */
export const orderFor = (order: FeedbackOrder, names: FeedbackNames): FeedbackOrder =>
  order === "by name" && names === "none" ? "mixed" : order;

/**
 * Several people's answers as one text: each prompt with its answers below it.
 *
 * @param seed what a mixed order is made from; another prompt is mixed otherwise, so that nobody is found by their place
 */
export function gatherFeedback(
  prompts: readonly string[],
  answers: readonly FeedbackAnswer[],
  { order, names, seed }: { order: FeedbackOrder; names: FeedbackNames; seed: string },
): string {
  const held = orderFor(order, names);
  return prompts
    .map((prompt, place) => {
      const keyOf = ({ personId, name, at }: FeedbackAnswer) =>
        held === "as they came"
          ? at
          : held === "by name"
            ? name.toLocaleLowerCase("en")
            : String(hashOf(`${seed} ${place} ${personId}`)).padStart(10, "0");
      const lines = answers
        .filter(({ texts }) => (texts[place] ?? "").trim() !== "")
        .map((answer) => ({ answer, key: keyOf(answer) }))
        .sort((a, b) => (a.key < b.key ? -1 : a.key > b.key ? 1 : 0))
        .map(({ answer }) => {
          const by = names === "names" ? answer.name : names === "initials" ? answer.initials : null;
          return `• ${(answer.texts[place] ?? "").trim()}${by ? ` (${by})` : ""}`;
        });
      return lines.length > 0 ? [prompt, ...lines].join("\n") : null;
    })
    .filter((part) => part !== null)
    .join("\n\n");
}
