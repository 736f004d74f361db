import { max, mean, median, min, sampleStandardDeviation } from "simple-statistics";

export interface PhaseStatistics {
  n: number;
  mean: number;
  median: number;
  /** With n − 1; null for one value. */
  sd: number | null;
  min: number;
  max: number;
}

/**
 * The usual figures of the values of one phase, in the measure's unit.
 *
 * @returns null without a value
 *
 * Source: any textbook, by the library simple-statistics; the mean is one of sessions, not of pooled opportunities.
 */
export function phaseStatistics(values: readonly number[]): PhaseStatistics | null {
  const all = [...values];
  if (all.length === 0) return null;
  return {
    n: all.length,
    mean: mean(all),
    median: median(all),
    sd: all.length < 2 ? null : sampleStandardDeviation(all),
    min: min(all),
    max: max(all),
  };
}
