import type { Rate, RateChange } from "./rate.ts";

const schoolWeek = 5;

/** "0.57 a day (95% interval 0.38 to 0.81, widened because bad days cluster), 2.8 in five days" */
export const rateWords = ({ perDay, low, high, widened }: Rate): string =>
  `${perDay.toFixed(2)} a day (95% interval ${low.toFixed(2)} to ${high.toFixed(2)}${widened ? ", widened because bad days cluster" : ""}), ${(schoolWeek * perDay).toFixed(1)} in five days`;

/** Two spans in words, how many times as often, and what the test says; null where a span has no observed day. */
export function changeWords(rates: RateChange | null): string {
  if (rates === null) return "One of the two spans has no observed school day: they cannot be compared.";
  const { before, after, ratio, p } = rates;
  const none = before.incidents === 0 && after.incidents === 0 ? "none in either" : "none before";
  const times = ratio === null ? none : `${ratio.toFixed(2)} times as often`;
  const chance = p !== null && p > 0.05 ? ": may well be chance" : "";
  const tested =
    p === null
      ? "Too few days, or all alike: not tested."
      : `By the ranks of the daily counts p ${p < 0.001 ? "< 0.001" : `= ${p.toFixed(3)}`}${chance}.`;
  return `${before.incidents} in ${before.days} observed days before, ${before.perDay.toFixed(2)} a day; ${after.incidents} in ${after.days} since, ${after.perDay.toFixed(2)} a day: ${times}. ${tested}`;
}
