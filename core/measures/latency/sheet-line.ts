import type { LatencyMeasure } from "./schema.ts";
import { type SheetLine, whole } from "../sheet-line.ts";
import { readLengthOfTime } from "../../words/read-time.ts";

export const latencyLine: SheetLine<LatencyMeasure> = {
  codes: () => [],
  columns: () => ["delays, n for no response"],
  hint: () => "12 s, 8 s, n (n is no response)",
  read(_, text) {
    const parts = text.split(/[,;]/).map((part) => part.trim());
    const answers = parts.filter((part) => !/^n$/i.test(part));
    const delays = answers.map((part) => (whole(part) === null ? readLengthOfTime(part) : Number(part)));
    return delays.includes(null)
      ? null
      : { delaysSeconds: delays, noResponse: parts.length - answers.length };
  },
};
