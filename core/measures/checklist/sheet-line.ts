import type { ChecklistMeasure } from "./schema.ts";
import type { SheetLine } from "../sheet-line.ts";

export const checklistLine: SheetLine<ChecklistMeasure> = {
  codes: () => [
    { code: "1", means: "known" },
    { code: "0", means: "not yet" },
    { code: "-", means: "not probed" },
  ],
  columns: ({ items }) => items,
  hint: () => "1, 0 or - for each item, in order: 110-1",
  read(measure, text) {
    if (!/^[01-]+$/.test(text)) return null;
    if (text.length !== measure.items.length)
      return `Write ${measure.items.length} codes, one for each of the items; there are ${text.length}.`;
    const having = (mark: RegExp) => measure.items.filter((_, index) => mark.test(text[index] ?? ""));
    const probed = having(/[01]/);
    return { known: having(/1/), ...(probed.length === measure.items.length ? {} : { probed }) };
  },
};
