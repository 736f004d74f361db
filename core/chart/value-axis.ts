import { lengthOfTime, number } from "../words/amounts.ts";

export interface ValueAxis {
  /** On a log axis equal factors are equal heights: for a count per time that multiplies. */
  scale: "linear" | "log";
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

const isRate = (unit: string) => unit.startsWith("per ");
/** A rate whose values are all far above 0 fills its chart better without the empty foot. */
const farAbove = 0.35;
const roomBelow = 0.8;

function lowEnd(values: readonly number[]): number {
  const [lowest, highest] = [Math.min(...values), Math.max(0, ...values)];
  return values.length > 0 && lowest > farAbove * highest ? roomBelow * lowest : 0;
}

/**
 * The upright axis of a chart: 0 to 100 for percentages, else from 0 to a round number above everything drawn; of a rate whose values are
 * all far above 0 from a round number below them.
 *
 * @param values everything that has to fit: points, criterion, ends of the aim line
 * @param unit of the measure's value
 */
export function valueAxis(values: readonly number[], unit: string): ValueAxis {
  const highest = Math.max(0, ...values);
  const low = isRate(unit) ? lowEnd(values) : 0;
  const step =
    unit === "percent"
      ? 20
      : unit === "seconds"
        ? (timeSteps.find((one) => one * mostSteps >= highest) ?? roundStep(highest))
        : Math.max(unit === "count" ? 1 : 0, highest > nothing ? roundStep(highest - low) : 1);
  const high = unit === "percent" ? 100 : Math.max(step, Math.ceil(highest / step) * step);
  const foot = Math.floor(low / step) * step;
  const label = (value: number) =>
    unit === "seconds" ? (value === 0 ? "0" : lengthOfTime(value)) : number(value);
  return {
    scale: "linear",
    low: foot,
    high,
    ticks: Array.from({ length: Math.round((high - foot) / step) + 1 }, (_, index) => ({
      value: foot + index * step,
      label: label(foot + index * step),
    })),
  };
}

/** Beyond so many decades only the powers of ten are marked. */
const mostDecades = 2;

/**
 * An upright axis of equal factors, from the power of ten below everything drawn to the one above.
 *
 * @param values everything that has to fit; those not above 0 have no place on it
 * @returns null where nothing is above 0
 */
export function logAxis(values: readonly number[]): ValueAxis | null {
  const above = values.filter((value) => value > 0);
  if (above.length === 0) return null;
  const first = Math.floor(Math.log10(Math.min(...above)));
  const last = Math.max(first + 1, Math.ceil(Math.log10(Math.max(...above))));
  const between = last - first <= mostDecades ? [1, 2, 5] : [1];
  const values10 = Array.from({ length: last - first }, (_, at) =>
    between.map((factor) => factor * 10 ** (first + at)),
  ).flat();
  return {
    ...{ scale: "log", low: 10 ** first, high: 10 ** last },
    ticks: [...values10, 10 ** last].map((value) => ({ value, label: String(Number(value.toPrecision(1))) })),
  };
}

/** How high a value stands: 0 at the foot of the axis, 1 at its top; what lies beyond stands at its end. */
export function heightOf({ scale, low, high }: ValueAxis, value: number): number {
  const share =
    scale === "linear"
      ? (value - low) / (high - low)
      : Math.log(Math.max(value, low) / low) / Math.log(high / low);
  return Math.min(1, Math.max(0, share));
}
