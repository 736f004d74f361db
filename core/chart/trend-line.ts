import { median } from "simple-statistics";
import { type TheilSen, theilSen } from "../progress/theil-sen.ts";
import { fewestForTrend } from "../progress/trend.ts";
import type { ValueAxis } from "./value-axis.ts";

export interface ChartLine {
  from: [day: number, value: number];
  to: [day: number, value: number];
}

/** The trend of one phase: its line, and the band that the 95% interval of its slope makes about the middle of the points. */
export interface ChartTrend {
  line: ChartLine;
  /** At the first day, the middle one and the last; null where the slope has no interval. */
  band: [day: number, low: number, high: number][] | null;
}

/** The part of a line that lies within the measure's range: a trend at 104% is not drawn. */
export function clipToRange(line: ChartLine, low: number, high: number): ChartLine {
  const [x0, y0] = line.from;
  const [x1, y1] = line.to;
  const clip = ([x, y]: [number, number]): [number, number] => {
    const bounded = Math.min(high, Math.max(low, y));
    return y === bounded || y1 === y0
      ? [x, bounded]
      : [x0 + ((bounded - y0) * (x1 - x0)) / (y1 - y0), bounded];
  };
  return { from: clip(line.from), to: clip(line.to) };
}

/**
 * The Theil–Sen line through the points of one phase, straight on the axis it is drawn on: on a log axis it is fitted to the
 * logarithms.
 *
 * @param points in date order
 * @param known the line through them on a linear axis, where it has been fitted already: x in day numbers
 * @returns null below five points, on one day only, or on a log axis with a value that is not above 0
 */
export function trendLine(
  points: readonly { day: number; value: number }[],
  { scale, low, high }: ValueAxis,
  known: TheilSen | null = null,
): ChartTrend | null {
  const isLog = scale === "log";
  if (points.length < fewestForTrend || (isLog && points.some(({ value }) => value <= 0))) return null;
  const [into, back] = isLog ? [Math.log10, (y: number) => 10 ** y] : [Number, Number];
  const onAxis = points.map(({ day, value }) => ({ x: day, y: into(value) }));
  const trend = isLog ? theilSen(onAxis) : (known ?? theilSen(onAxis));
  const [first, last] = [points[0]?.day, points.at(-1)?.day];
  if (!trend || first === undefined || last === undefined) return null;
  const at = (day: number): [number, number] => [day, trend.intercept + trend.slope * day];
  const clipped = clipToRange({ from: at(first), to: at(last) }, into(low), into(high));
  const [middleX, middleY] = [median(onAxis.map(({ x }) => x)), median(onAxis.map(({ y }) => y))];
  const [lowSlope, highSlope] = [trend.low, trend.high];
  return {
    line: {
      from: [clipped.from[0], back(clipped.from[1])],
      to: [clipped.to[0], back(clipped.to[1])],
    },
    band:
      lowSlope === null || highSlope === null
        ? null
        : [first, middleX, last].map((day) => {
            const ends = [lowSlope, highSlope].map((slope) => back(middleY + slope * (day - middleX)));
            return [day, Math.max(low, Math.min(...ends)), Math.min(high, Math.max(...ends))];
          }),
  };
}
