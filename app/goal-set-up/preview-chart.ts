import type { ProgressChart } from "#core/chart/chart.ts";
import { chartDescription, progressChart } from "#core/chart/progress-chart.ts";
import { goalProgress } from "#core/progress/goal-figures.ts";
import { type EntryFigure, goalSeries } from "#core/progress/points.ts";
import type { GoalSetup } from "#core/model/goal.ts";

/** The chart that a goal set up like this would have; null where there is nothing to draw. */
export interface PreviewChart {
  chart: ProgressChart | null;
  description: string;
}

export interface PreviewQuestion {
  setup: GoalSetup;
  figures: readonly EntryFigure[];
}

export function previewChart({ setup, figures }: PreviewQuestion): PreviewChart {
  const series = goalSeries(setup, figures);
  const chart = progressChart(setup, series, goalProgress(setup, series));
  return { chart, description: chart ? chartDescription(series, chart) : "" };
}
