import { lengthOfTime, number } from "../words/amounts.ts";

export interface ValueAxis {
  low: number;
  high: number;
  ticks: { value: number; label: string }[];
}

const timeSteps = [1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 900, 1800, 3600, 7200, 14_400, 36_000];
const mostSteps = 6;
/** Less than anything that is measured in a school: below it, floating point is all there is. */
const nothing = 1e-9;

function roundStep(highest: number): number {
  const power = 10 ** Math.floor(Math.log10(highest / mostSteps));
  return ([1, 2, 5, 10].find((step) => step * power * mostSteps >= highest) ?? 10) * power;
}

/**
 * The upright axis of a chart: 0 to 100 for percentages, else from 0 to a round number above everything drawn.
 *
 * @param values everything that has to fit: points, criterion, ends of the aim line
 * @param unit of the measure's value
 */
export function valueAxis(values: readonly number[], unit: string): ValueAxis {
  const highest = Math.max(0, ...values);
  const step =
    unit === "percent"
      ? 20
      : unit === "seconds"
        ? (timeSteps.find((one) => one * mostSteps >= highest) ?? roundStep(highest))
        : Math.max(unit === "count" ? 1 : 0, highest > nothing ? roundStep(highest) : 1);
  const high = unit === "percent" ? 100 : Math.max(step, Math.ceil(highest / step) * step);
  const label = (value: number) =>
    unit === "seconds" ? (value === 0 ? "0" : lengthOfTime(value)) : number(value);
  return {
    low: 0,
    high,
    ticks: Array.from({ length: Math.round(high / step) + 1 }, (_, index) => ({
      value: index * step,
      label: label(index * step),
    })),
  };
}
