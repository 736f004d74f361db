import type { ProgressChart } from "./chart.ts";
import type { TimeTick } from "./time-axis.ts";

/**
 * The chart for a drawing so small that the title of its axis stands above it: without that title, and without the ticks whose words
 * would touch those before them.
 *
 * @param wide how many letters fit below its time axis
 */
export function smallChart(chart: ProgressChart, wide: number): ProgressChart {
  const ticks: TimeTick[] = [];
  for (const tick of chart.ticks) {
    const last = ticks.at(-1);
    const apart = last ? ((tick.day - last.day) / (chart.toDay - chart.fromDay)) * wide : Infinity;
    if (!last || apart > last.label.length + 1) ticks.push(tick);
  }
  return { ...chart, ticks, axisTitle: "" };
}
