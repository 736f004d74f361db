import { mean } from "simple-statistics";

export interface RaterFigure {
  rater: string;
  /** How many scored works. */
  n: number;
  /** Mean of the sessions, in the unit of the measure's value. */
  mean: number;
  last: number;
}

/**
 * What each rater gave, kept apart: two people who score the same work by a rubric are two readings of it, never one number.
 *
 * @param entries in the order observed; those without a value are left out
 * @returns raters in the order of their first entry; empty when there are fewer than two
 *
 * Source: ours. A mean of sessions, since each work is a session of its own.
 */
export function byRater(entries: readonly { rater: string; value: number | null }[]): RaterFigure[] {
  const raters = new Map<string, number[]>();
  for (const { rater, value } of entries)
    if (value !== null) raters.set(rater, [...(raters.get(rater) ?? []), value]);
  if (raters.size < 2) return [];
  return [...raters].map(([rater, values]) => ({
    rater,
    n: values.length,
    mean: mean(values),
    last: values.at(-1) ?? Number.NaN,
  }));
}
