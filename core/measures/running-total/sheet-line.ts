import type { RunningTotalMeasure } from "./schema.ts";
import type { SheetLine } from "../sheet-line.ts";

export const runningTotalLine: SheetLine<RunningTotalMeasure> = {
  codes: () => [],
  columns: ({ unit }) => [unit],
  hint: ({ unit }) => `${unit}: 12.5`,
  read(_, text) {
    const amount = text.replace(",", ".");
    return /^\d{1,7}(\.\d+)?$/.test(amount) ? { amount: Number(amount) } : null;
  },
};
