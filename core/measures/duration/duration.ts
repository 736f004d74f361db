import type * as z from "zod/mini";
import { lengthOfTime } from "../../words/amounts.ts";

import type { Kind } from "../kind.ts";
import { refused, type Scored, scored } from "../score.ts";
import type { DurationMeasure, DurationEntry, observed } from "./schema.ts";

export type { DurationMeasure, DurationEntry } from "./schema.ts";

const sum = (bouts: readonly number[]) => bouts.reduce((total, bout) => total + bout, 0);

/**
 * Scores bouts of behavior: their total, mean or longest in seconds, or 100 · total / time observed in percent.
 *
 * @param entry `{boutsSeconds, observedSeconds?}`; no bouts: total and share are 0, mean and longest are null
 *
 * Source: total duration and duration per occurrence, Cooper, Heron & Heward, Applied Behavior Analysis (from memory).
 *
 * @example scoreDuration({kind: "duration", report: "share"}, {boutsSeconds: [60, 90], observedSeconds: 600}) // 25 percent
 */
export function scoreDuration(
  { report }: Pick<DurationMeasure, "report">,
  { boutsSeconds, observedSeconds }: z.infer<typeof observed>,
): Scored {
  const total = sum(boutsSeconds);
  if (observedSeconds !== undefined && total > observedSeconds + 1e-9)
    return refused(
      "boutsSeconds",
      `The bouts last ${lengthOfTime(total)} together, longer than the ${lengthOfTime(observedSeconds)} observed.`,
    );
  const detail = { bouts: boutsSeconds.length, total };
  if (report === "share") {
    if (observedSeconds === undefined)
      return refused("observedSeconds", "How long was it observed? The figure needs it.");
    return scored((100 * total) / observedSeconds, "percent", { detail });
  }
  if (report === "total") return scored(total, "seconds", { detail });
  if (boutsSeconds.length === 0)
    return scored(null, "seconds", { detail, why: { value: "there was no bout" } });
  return scored(report === "mean" ? total / boutsSeconds.length : Math.max(...boutsSeconds), "seconds", {
    detail,
  });
}

/** How long something lasts, bout by bout. */
export const duration: Kind<DurationMeasure, DurationEntry> = {
  score: scoreDuration,
  problems: (_, { boutsSeconds, startsSeconds }) =>
    startsSeconds && startsSeconds.length !== boutsSeconds.length
      ? [{ field: "startsSeconds", message: "There must be one start for each bout." }]
      : [],
  unit: ({ report }) => (report === "share" ? "percent" : "seconds"),
  line: ({ report }, { boutsSeconds, observedSeconds }, { value }, words) =>
    words.duration({ value, report, bouts: boutsSeconds.length, observedSeconds }),
};
