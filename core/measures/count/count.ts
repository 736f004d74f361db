import type * as z from "zod/mini";

import type { Kind } from "../kind.ts";
import { refused, type Scored, scored } from "../score.ts";
import type { CountMeasure, CountEntry, observed } from "./schema.ts";

export type { CountMeasure, CountEntry } from "./schema.ts";

const secondsPer = { minute: 60, hour: 3600 };
const units = { observation: "count", minute: "per minute", hour: "per hour" };

/**
 * Scores a count: the count itself, or per minute or hour of observation.
 *
 * @param entry `{count, observedSeconds?}`; seconds are needed for a rate
 *
 * Source: count and rate of responding, Cooper, Heron & Heward, Applied Behavior Analysis (from memory).
 *
 * @example scoreCount({kind: "count", per: "minute"}, {count: 12, observedSeconds: 480}) // 1.5 per minute
 */
export function scoreCount(
  { per }: Pick<CountMeasure, "per">,
  { count, observedSeconds }: z.infer<typeof observed>,
): Scored {
  if (per === "observation") return scored(count, units[per]);
  if (observedSeconds === undefined)
    return refused("observedSeconds", "How long was it observed? The figure needs it.");
  return scored((count * secondsPer[per]) / observedSeconds, units[per]);
}

/** How often something happened, as a count or as a rate. */
export const count: Kind<CountMeasure, CountEntry> = {
  score: scoreCount,
  problems: (_, { count, atSeconds }) =>
    atSeconds && atSeconds.length !== count
      ? [{ field: "atSeconds", message: "The marks in order and the counts do not agree." }]
      : [],
  unit: ({ per }) => units[per],
  line: ({ counted }, { count, observedSeconds }, { value, unit }, words) =>
    words.count({
      ...{ count, counted, observedSeconds },
      rate: unit === "count" ? null : { value: value ?? 0, unit },
    }),
};
