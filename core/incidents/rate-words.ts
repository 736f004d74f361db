import { capitalise, percent } from "../words/numbers.ts";
import type { Rate, RateChange } from "./rate.ts";

const schoolWeek = 5;

/** "0.57 a day (95% interval 0.38 to 0.81, widened because bad days cluster), 2.8 in five days" */
export const rateWords = ({ perDay, low, high, widened }: Rate): string =>
  `${perDay.toFixed(2)} a day (95% interval ${low.toFixed(2)} to ${high.toFixed(2)}${widened ? ", widened because bad days cluster" : ""}), ${(schoolWeek * perDay).toFixed(1)} in five days`;

const fractions = [
  [1 / 4, "one-quarter"],
  [1 / 3, "one-third"],
  [1 / 2, "half"],
  [2 / 3, "two-thirds"],
  [3 / 4, "three-quarters"],
] as const;
const multiples = [
  [2, "twice"],
  [3, "three times"],
  [4, "four times"],
  [5, "five times"],
] as const;
/** A ratio is called by a plain name within a tenth of it. */
const near = 0.1;

/** How many times as often, as one says it: "about one-third as often", "about twice as often", "15% more often", "as often". */
export function timesWords(ratio: number): string {
  const named = [...fractions, ...multiples].find(([value]) => Math.abs(ratio / value - 1) <= near);
  if (ratio > multiples[3][0] * (1 + near)) return `about ${Math.round(ratio)} times as often`;
  if (named && Math.abs(ratio - 1) > near) return `about ${named[1]} as often`;
  const change = Math.round(100 * Math.abs(ratio - 1));
  return change === 0 ? "as often" : `${percent(change)} ${ratio < 1 ? "less" : "more"} often`;
}

/** "p < .001", "p = .04": as reports of statistics write it. */
export function pWords(p: number): string {
  return p < 0.001 ? "p < .001" : `p = ${p.toFixed(p < 0.1 ? 3 : 2).replace(/^0/, "")}`;
}

/** Two spans in words, how many times as often, and what the test says; null where a span has no observed day. */
export function changeWords(rates: RateChange | null): string {
  if (rates === null) return "One of the two spans has no observed school day, so they cannot be compared.";
  const { before, after, ratio, p } = rates;
  const none = before.incidents === 0 && after.incidents === 0 ? "none in either" : "none before";
  const times = ratio === null ? none : timesWords(ratio);
  const tested =
    p === null
      ? " (fewer than four school weeks on a side: not tested)"
      : ` (${pWords(p)}${p > 0.05 ? ", may be chance" : ""})`;
  return `Before: ${before.incidents} in ${before.days} observed days, ${before.perDay.toFixed(2)} a day. Since: ${after.incidents} in ${after.days}, ${after.perDay.toFixed(2)} a day. ${capitalise(times)}${tested}.`;
}
