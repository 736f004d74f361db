import type * as z from "zod/mini";

import type { Kind } from "../kind.ts";
import { refused, type Scored, scoredShare } from "../score.ts";
import type { ChecklistMeasure, ChecklistEntry, observed } from "./schema.ts";

export type { ChecklistMeasure, ChecklistEntry } from "./schema.ts";

/**
 * Scores a checklist: 100 · known items / probed items, in percent.
 *
 * @param measure the items: words, letters, tools
 * @param entry `{known, probed?}`; without `probed` all items were; an item named twice counts once
 * @returns the score, or the problems: an item that is none of the measure's, or known without having been probed
 *
 * Source: share of a named set known, common practice. A fully probed list is no sample of anything: no interval.
 */
export function scoreChecklist(
  { items }: ChecklistMeasure,
  { known, probed = items }: z.infer<typeof observed>,
): Scored {
  for (const [field, list] of [
    ["probed", probed],
    ["known", known],
  ] as const) {
    const unknown = list.find((item) => !items.includes(item));
    if (unknown !== undefined) return refused(field, `“${unknown}” is not one of this goal’s items.`);
  }
  const asked = new Set(probed);
  if (asked.size === 0) return refused("probed", "No item was probed.");
  const unasked = known.find((item) => !asked.has(item));
  if (unasked !== undefined) return refused("known", `“${unasked}” is known but was not probed.`);
  return scoredShare(new Set(known).size, asked.size);
}

/** Which items of a named set are known. */
export const checklist: Kind<ChecklistMeasure, ChecklistEntry> = {
  score: scoreChecklist,
  unit: () => "percent",
  line: (_, __, score, words) => words.checklist(score),
};
