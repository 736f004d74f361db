import quantile from "@stdlib/stats-base-dists-chisquare-quantile";
import { mean, sampleVariance, sum } from "simple-statistics";
import { type DayCount, weekPermutationP } from "./week-permutation.ts";

const z95 = 1.959964;
/** Daily counts that vary more than this, as variance over mean, are not a Poisson's. */
const mostDispersion = 1.2;

/** How often, in incidents a school day on which somebody watched. */
export interface Rate {
  incidents: number;
  /** Observed school days: those with "observed, none" count, with 0. */
  days: number;
  perDay: number;
  /** 95% interval of `perDay`. */
  low: number;
  high: number;
  /** Is the interval widened, because bad days cluster? */
  widened: boolean;
}

/**
 * Incidents per observed school day with a 95% interval: the exact Poisson one where the daily counts vary no more than a
 * Poisson's would (variance/mean ≤ 1.2), else on the log scale with the variance (variance/mean)/total.
 *
 * @param daily the count of each observed school day, days without an incident included
 * @returns null without an observed day
 *
 * Source: Garwood, F. (1936). Fiducial limits for the Poisson distribution. Biometrika, 28, 437–442. Widening by the
 * dispersion as in quasi-Poisson regression: McCullagh & Nelder (1989), Generalized Linear Models, from memory.
 *
 * @example incidentRate([0, 2, 1, 0, 1]) // 4 in 5 days: 0.8 a day (0.22 to 2.05)
 */
export function incidentRate(daily: readonly number[]): Rate | null {
  const days = daily.length;
  if (days === 0) return null;
  const incidents = sum([...daily]);
  const perDay = incidents / days;
  const dispersion = days > 1 && incidents > 0 ? sampleVariance([...daily]) / mean([...daily]) : 1;
  const base = { incidents, days, perDay };
  if (dispersion <= mostDispersion) {
    const low = incidents === 0 ? 0 : quantile(0.025, 2 * incidents) / 2;
    const high = quantile(0.975, 2 * incidents + 2) / 2;
    return { ...base, low: low / days, high: high / days, widened: false };
  }
  const spread = Math.exp(z95 * Math.sqrt(dispersion / incidents));
  return { ...base, low: perDay / spread, high: perDay * spread, widened: true };
}

/** Two spans of days, compared. */
export interface RateChange {
  before: Rate;
  after: Rate;
  /** How many times as often afterwards; null where there was nothing before. */
  ratio: number | null;
  /** By a permutation of whole school weeks; null with fewer than 4 weeks a side, or where all are alike. */
  p: number | null;
}

/**
 * The change of the rate between two spans: the ratio of the rates, and p of their difference from a permutation of whole school weeks, so that
 * the two cannot point in different directions.
 *
 * @param before,after the count of each observed school day of the span
 * @returns null where a span has no observed day
 */
export function rateChange(before: readonly DayCount[], after: readonly DayCount[]): RateChange | null {
  const counts = (days: readonly DayCount[]) => days.map(({ count }) => count);
  const [first, second] = [incidentRate(counts(before)), incidentRate(counts(after))];
  if (!first || !second) return null;
  return {
    before: first,
    after: second,
    ratio: first.incidents === 0 ? null : second.perDay / first.perDay,
    p: weekPermutationP(before, after),
  };
}
