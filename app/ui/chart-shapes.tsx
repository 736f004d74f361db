import type { ChartMark } from "#core/chart/chart.ts";

/** The shapes of points in the order of the levels they stand for, as the canvas calls them. */
export const pointStyles = ["circle", "rect", "triangle", "rectRot", "cross"] as const;
export type PointStyle = (typeof pointStyles)[number] | "crossRot";

export const styleOfShape = (shape: number): PointStyle =>
  pointStyles[shape % pointStyles.length] ?? "circle";

/** What stands at the foot of a chart, each kind a shape. */
export const styleOfMark: Record<ChartMark["kind"], PointStyle> = {
  absent: "crossRot",
  "not measured": "circle",
  note: "rect",
  decision: "triangle",
};
export const markWords: Record<ChartMark["kind"], string> = {
  absent: "absent",
  "not measured": "not measured",
  note: "a note",
  decision: "a decision",
};

const points = (...at: [number, number][]) => at.map((one) => one.join(",")).join(" ");

/** One of these shapes about a place, as large as a circle of that radius. */
export function Shape({
  form,
  x,
  y,
  r,
  className,
  title,
}: {
  form: PointStyle;
  x: number;
  y: number;
  r: number;
  className: string;
  title?: string;
}) {
  const shared = { className, strokeWidth: "1.6", children: title ? <title>{title}</title> : null };
  switch (form) {
    case "circle":
      return <circle cx={x} cy={y} r={r} {...shared} />;
    case "rect":
      return <rect x={x - r * 0.88} y={y - r * 0.88} width={r * 1.76} height={r * 1.76} {...shared} />;
    case "triangle":
      return (
        <polygon
          points={points([x, y - r * 1.1], [x + r * 1.1, y + r * 0.85], [x - r * 1.1, y + r * 0.85])}
          {...shared}
        />
      );
    case "rectRot":
      return (
        <polygon
          points={points([x, y - r * 1.25], [x + r * 1.25, y], [x, y + r * 1.25], [x - r * 1.25, y])}
          {...shared}
        />
      );
    case "cross":
      return <path d={`M${x - r} ${y}h${2 * r}M${x} ${y - r}v${2 * r}`} {...shared} />;
    case "crossRot":
      return (
        <path
          d={`M${x - r * 0.8} ${y - r * 0.8}l${1.6 * r} ${1.6 * r}m0 ${-1.6 * r}l${-1.6 * r} ${1.6 * r}`}
          {...shared}
        />
      );
  }
}
