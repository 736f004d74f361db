import type * as z from "zod/mini";
import type { Kind } from "../kind.ts";
import { refused, type Scored, scoredShare } from "../score.ts";
import type { IntervalsMeasure, IntervalsEntry, observed } from "./schema.ts";

export type { IntervalsMeasure, IntervalsEntry } from "./schema.ts";

/**
 * Scores interval recording: 100 · intervals scored 1 / intervals observed, in percent.
 *
 * @param entry `{marks}`, one of `1`, `0` and `-` (not observed) for each interval
 *
 * Source: partial-interval, whole-interval and momentary time sampling, Cooper, Heron & Heward, Applied Behavior
 * Analysis (from memory). Neighbouring intervals are alike, so an interval of confidence would be too narrow: none.
 *
 * @example scoreIntervals({ marks: "110-1" }) // 75 percent, 3 of 4
 */
export function scoreIntervals({ marks }: z.infer<typeof observed>): Scored {
  const seen = marks.replaceAll("-", "");
  if (seen === "") return refused("marks", "No interval was observed, so nothing is saved.");
  return scoredShare(seen.replaceAll("0", "").length, seen.length, {
    detail: { notObserved: marks.length - seen.length },
  });
}

/** Time sampling: was it seen in, throughout or at the end of each interval? */
export const intervals: Kind<IntervalsMeasure, IntervalsEntry> = {
  score: (_, entry) => scoreIntervals(entry),
  unit: () => "percent",
  line: ({ intervalSeconds }, { marks }, score, words) => {
    const missed = marks.length - marks.replaceAll("-", "").length;
    return words.intervals(score, intervalSeconds, missed);
  },
};
