import { dayNumber } from "../dates/day-number.ts";

/** The geometry of a little chart, in pixels from its upper left corner. */
export interface SparkShape {
  width: number;
  height: number;
  /** Of an SVG path; empty where nothing was measured. */
  path: string;
  /** Where the last point stands. */
  last: [x: number, y: number] | null;
  /** The lowest place of the criterion line in the chart; null without a criterion or points. */
  criterion: number | null;
}

const tenth = (pixels: number) => Math.round(10 * pixels) / 10;

/**
 * The last points of a goal as a little chart: time to scale, broken at a change of phase.
 *
 * @param recent in date order
 */
export function sparkLine(
  recent: readonly { date: string; value: number; phase: string }[],
  {
    criterion,
    unit,
    width = 120,
    height = 26,
  }: { criterion: number | null; unit: string; width?: number; height?: number },
): SparkShape {
  const [first, last] = [recent[0], recent.at(-1)];
  if (!first || !last) return { width, height, path: "", last: null, criterion: null };
  // Percentages are comparable from goal to goal; anything else fills what it reaches.
  const top =
    unit === "percent" ? 100 : Math.max(1e-9, criterion ?? 0, ...recent.map((point) => point.value)) * 1.1;
  const from = dayNumber(first.date);
  const span = dayNumber(last.date) - from;
  const x = (date: string) =>
    tenth(span === 0 ? width - 6 : 2 + ((dayNumber(date) - from) / span) * (width - 8));
  const y = (value: number) => tenth(height - 3 - (Math.min(top, Math.max(0, value)) / top) * (height - 6));
  return {
    ...{ width, height },
    path: recent
      .map(
        ({ date, value, phase }, at) =>
          `${recent[at - 1]?.phase === phase ? "L" : "M"}${x(date)} ${y(value)}`,
      )
      .join(""),
    last: [x(last.date), y(last.value)],
    criterion: criterion === null ? null : y(criterion),
  };
}
