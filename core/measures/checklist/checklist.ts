import type * as z from "zod/mini";

import { type Kind, plainKind } from "../kind.ts";
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
  ...plainKind,
  score: scoreChecklist,
  unit: () => "percent",
  partsCalled: ["item", "items"],
  creditedMeans: () => "known",
  parts: ({ items }, { known, probed = items }) =>
    items
      .filter((item) => probed.includes(item))
      .map((part) => {
        const isKnown = known.includes(part);
        return { part, said: isKnown ? "known" : "not yet", credited: isKnown ? 1 : 0, of: 1 };
      }),
  line: (_, __, score, words) => words.checklist(score),
  facts: ({ items }, { known, probed = items }) => [
    { label: "Known", value: items.filter((item) => known.includes(item)).join(", ") || "none" },
    {
      label: "Not yet",
      value: items.filter((item) => probed.includes(item) && !known.includes(item)).join(", ") || "none",
    },
    ...(items.some((item) => !probed.includes(item))
      ? [{ label: "Not probed", value: items.filter((item) => !probed.includes(item)).join(", ") }]
      : []),
  ],
};
