import * as z from "zod/mini";
import { lengthOfTime } from "../words/amounts.ts";
import { countsWithPercent } from "../words/numbers.ts";
import { observedSeconds } from "./fields.ts";
import { type Kind, plainKind } from "./kind.ts";
import { refused, type Scored, scoredShare } from "./score.ts";

export const intervalsMeasure = z.object({
  kind: z.literal("intervals"),
  method: z.enum(
    ["partial", "whole", "momentary"],
    "Say how an interval is scored: partial, whole or momentary.",
  ),
  intervalSeconds: observedSeconds,
  /** How many intervals one observation has. */
  planned: z.optional(
    z.int("Give a whole number.").check(z.gte(1, "At least 1."), z.lte(500, "At most 500.")),
  ),
});
export type IntervalsMeasure = z.infer<typeof intervalsMeasure>;

const observed = z.object({
  marks: z
    .string("Mark each interval.")
    .check(z.regex(/^[01-]*$/, "Each interval is 1, 0 or - (not observed)."), z.maxLength(10_000)),
});
export const intervalsEntry = z.extend(observed, { kind: z.literal("intervals") });
export type IntervalsEntry = z.infer<typeof intervalsEntry>;

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
  if (seen === "") return refused("marks", "No interval was observed: nothing measured is nothing stored.");
  return scoredShare(seen.replaceAll("0", "").length, seen.length, {
    detail: { notObserved: marks.length - seen.length },
  });
}

const methodWords = {
  partial: "partial interval",
  whole: "whole interval",
  momentary: "momentary time sampling",
};

/** Time sampling: was it seen in, throughout or at the end of each interval? */
export const intervals: Kind<IntervalsMeasure, IntervalsEntry> = {
  ...plainKind,
  name: "Intervals",
  when: "Seen or not in each short stretch of time: on task, engaged, talking out.",
  measure: intervalsMeasure,
  observed,
  entry: intervalsEntry,
  score: (_, entry) => scoreIntervals(entry),
  unit: () => "percent",
  line: ({ intervalSeconds }, { marks }, score) => {
    const missed = marks.length - marks.replaceAll("-", "").length;
    return `${countsWithPercent(score, `intervals of ${lengthOfTime(intervalSeconds)}`)}${missed > 0 ? `, ${missed} not observed` : ""}`;
  },
  facts: ({ method }, { marks }) => [
    { label: "Method", value: methodWords[method] },
    { label: "In order", value: marks.replaceAll("-", "·").replaceAll("1", "✓").replaceAll("0", "–") },
  ],
};
