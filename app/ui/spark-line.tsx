import { dayNumber } from "#core/progress/day-number.ts";

interface SparkLineProps {
  recent: readonly { date: string; value: number; phase: string }[];
  criterion: number | null;
  unit: string;
  width?: number;
  height?: number;
}

/** The last points of a goal, time to scale, broken at a change of phase; the criterion dotted. Decoration beside the figures. */
export function SparkLine({ recent, criterion, unit, width = 120, height = 26 }: SparkLineProps) {
  const first = recent[0];
  const last = recent.at(-1);
  if (!first || !last)
    return <svg viewBox={`0 0 ${width} ${height}`} width={width} height={height} aria-hidden="true" />;
  // Percentages are comparable from goal to goal; anything else fills what it reaches.
  const top =
    unit === "percent" ? 100 : Math.max(1e-9, criterion ?? 0, ...recent.map((point) => point.value)) * 1.1;
  const [from, to] = [dayNumber(first.date), dayNumber(last.date)];
  const x = (date: string) =>
    to === from ? width - 6 : 2 + ((dayNumber(date) - from) / (to - from)) * (width - 8);
  const y = (value: number) => height - 3 - (Math.min(top, Math.max(0, value)) / top) * (height - 6);
  const path = recent
    .map(
      (point, index) =>
        `${index > 0 && recent[index - 1]?.phase === point.phase ? "L" : "M"}${x(point.date).toFixed(1)} ${y(point.value).toFixed(1)}`,
    )
    .join("");
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      width={width}
      height={height}
      aria-hidden="true"
      className="overflow-visible"
    >
      {criterion === null ? null : (
        <line
          x1="0"
          x2={width}
          y1={y(criterion)}
          y2={y(criterion)}
          className="stroke-soft"
          strokeWidth="1"
          strokeDasharray="1.5 3"
        />
      )}
      <path d={path} fill="none" className="stroke-data" strokeWidth="1.6" strokeLinejoin="round" />
      <circle cx={x(last.date)} cy={y(last.value)} r="2.8" className="fill-data" />
    </svg>
  );
}
