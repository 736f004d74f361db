import type { SeriesReport } from "./series-report.ts";

/** The figures of one series that a list of many shows. */
export interface SeriesRow {
  series: string;
  n: number;
  /** Theil–Sen, in the unit a week, with its 95% interval. */
  weekly: number | null;
  low: number | null;
  high: number | null;
  reached: string | null;
  hasCriterion: boolean;
  fourPoint: string | null;
  nap: number | null;
}

/** The figures of one series as a row of the results file; null where a figure cannot be computed. */
export const seriesRow = ({
  series,
  n,
  theilSen,
  mastery,
  fourPoint,
  comparisons,
}: SeriesReport): SeriesRow => ({
  ...{ series, n, fourPoint },
  weekly: theilSen?.slopePerWeek ?? null,
  low: aWeek(theilSen?.lowPerDay),
  high: aWeek(theilSen?.highPerDay),
  reached: mastery?.on ?? null,
  hasCriterion: mastery !== null,
  nap: comparisons.at(-1)?.nap ?? null,
});

const aWeek = (perDay: number | null | undefined): number | null => (perDay == null ? null : 7 * perDay);
