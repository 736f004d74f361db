import { type KindDetails, plainDetails } from "../kind-details.ts";
import type { ChecklistMeasure, ChecklistEntry } from "./schema.ts";

export const checklistDetails: KindDetails<ChecklistMeasure, ChecklistEntry> = {
  ...plainDetails,
  partsCalled: ["item", "items"],
  creditedMeans: () => "known",
  parts: ({ items }, { known, probed = items }) =>
    items
      .filter((item) => probed.includes(item))
      .map((part) => {
        const isKnown = known.includes(part);
        return { part, said: isKnown ? "known" : "not yet", credited: isKnown ? 1 : 0, of: 1 };
      }),
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
