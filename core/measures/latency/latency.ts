import type * as z from "zod/mini";

import type { Kind } from "../kind.ts";
import { refused, type Scored, scored, scoredShare } from "../score.ts";
import type { LatencyMeasure, LatencyEntry, observed } from "./schema.ts";

export type { LatencyMeasure, LatencyEntry } from "./schema.ts";

/** The median where a no-response is longer than any delay; null where it falls among the no-responses. */
function medianWith(delays: readonly number[], noResponse: number): number | null {
  const sorted = [...delays].sort((a, b) => a - b);
  const n = sorted.length + noResponse;
  const [low, high] = [sorted[Math.ceil(n / 2) - 1], sorted[Math.floor(n / 2)]];
  return low === undefined || high === undefined ? null : (low + high) / 2;
}

/**
 * Scores delays between a signal and the response: their median or mean in seconds, or the percentage answered in time.
 *
 * @param entry `{delaysSeconds, noResponse?}`
 * @returns a no-response counts as longer than any delay: the median is null where it falls among them, the mean is null
 *   if there is any, and `within` counts it as not in time
 *
 * Source: response latency, Cooper, Heron & Heward, Applied Behavior Analysis (from memory); a median over answers alone
 * would reward refusing, hence the rule for no-responses.
 *
 * @example scoreLatency({report: "within", withinSeconds: 30}, {delaysSeconds: [12, 28, 45], noResponse: 1}) // 50 percent, 2 of 4
 */
export function scoreLatency(
  { report, withinSeconds = 0 }: Pick<LatencyMeasure, "report" | "withinSeconds">,
  { delaysSeconds, noResponse = 0 }: z.infer<typeof observed>,
): Scored {
  const n = delaysSeconds.length + noResponse;
  if (n === 0) return refused("delaysSeconds", "There was no signal to answer, so nothing is saved.");
  const detail = { noResponse };
  if (report === "within")
    return scoredShare(delaysSeconds.filter((delay) => delay <= withinSeconds).length, n, { detail });
  const value =
    report === "median"
      ? medianWith(delaysSeconds, noResponse)
      : noResponse > 0
        ? null
        : delaysSeconds.reduce((sum, delay) => sum + delay, 0) / n;
  return scored(value, "seconds", {
    detail,
    ...(value === null
      ? {
          why: {
            value:
              report === "median" ? "the median falls among the no-responses" : "there were no-responses",
          },
        }
      : {}),
  });
}

/** How long it takes from a signal to the response. */
export const latency: Kind<LatencyMeasure, LatencyEntry> = {
  score: scoreLatency,
  unit: ({ report }) => (report === "within" ? "percent" : "seconds"),
  line: ({ report, withinSeconds = 0 }, { delaysSeconds, noResponse = 0 }, score, words) =>
    report === "within"
      ? words.latencyWithin(score, withinSeconds, noResponse)
      : words.latency(score.value, report, delaysSeconds.length + noResponse, noResponse),
};
