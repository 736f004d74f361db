import { Link } from "react-router";
import type { ShareStack } from "#core/chart/share-stack.ts";

const box = { width: 800, height: 120, right: 78, top: 6, bottom: 4 };
/** Less help is darker. */
const shades = ["fill-data", "fill-data/70", "fill-data/45", "fill-data/25", "fill-data/10"] as const;

/** How a part is drawn: levels in shades of one color, misses hollow. */
function partClass({ levels }: ShareStack, at: number): string {
  return at < levels
    ? `${shades[Math.min(at, shades.length - 1)] ?? ""} stroke-data`
    : "fill-base-100 stroke-soft";
}

/** The second kind of miss, and the fourth, have a dashed edge. */
const dashOf = ({ levels }: ShareStack, at: number) =>
  at >= levels && (at - levels) % 2 === 1 ? "2 1.5" : undefined;

/** The share at each prompt level under the chart of a goal, along the same time. */
export function ShareStackSvg({
  stack,
  fromDay,
  toDay,
  left,
}: {
  stack: ShareStack;
  fromDay: number;
  toDay: number;
  /** The room left of the chart's own axis. */
  left: number;
}) {
  const x = (day: number) => left + ((day - fromDay) / (toDay - fromDay)) * (box.width - left - box.right);
  const y = (share: number) => box.height - box.bottom - (share / 100) * (box.height - box.top - box.bottom);
  const shown = stack.bars.filter(({ day }) => fromDay <= day && day <= toDay);
  const days = shown.map(({ day }) => day);
  const closest = Math.min(
    ...days
      .slice(1)
      .map((day, at) => day - (days[at] ?? 0))
      .filter((gap) => gap > 0),
  );
  const room = Number.isFinite(closest) ? x(fromDay + closest) - x(fromDay) : 12;
  const width = Math.max(2.5, Math.min(12, room * 0.8));
  return (
    <svg
      viewBox={`0 0 ${box.width} ${box.height}`}
      className="chart block h-auto w-full"
      role="img"
      aria-label={`Share at each prompt level: ${shown.at(-1)?.label ?? "nothing in this span"}`}
    >
      {[0, 50, 100].map((share) => (
        <g key={share}>
          <line
            x1={left}
            x2={box.width - box.right}
            y1={y(share)}
            y2={y(share)}
            className="stroke-base-300"
          />
          <text
            x={left - 7}
            y={y(share) + (share === 0 ? 0 : share === 100 ? 8 : 4)}
            textAnchor="end"
            fontSize="11.5"
          >
            {share}
          </text>
        </g>
      ))}
      {shown.map(({ day, page, label, parts }) => (
        <g key={page}>
          <title>{label}</title>
          {parts.map(({ from, to }, at) =>
            to > from ? (
              <rect
                key={at}
                x={x(day) - width / 2}
                y={y(to)}
                {...{ width, height: y(from) - y(to) }}
                className={partClass(stack, at)}
                strokeWidth="0.8"
                strokeDasharray={dashOf(stack, at)}
              />
            ) : null,
          )}
        </g>
      ))}
    </svg>
  );
}

/** What each shade stands for, and the shares as a table. */
export function ShareKey({ stack, studentId }: { stack: ShareStack; studentId: string }) {
  return (
    <div className="text-fine">
      <p className="flex flex-wrap gap-x-4 gap-y-1 text-soft">
        Bottom to top:
        {stack.names.map((name, at) => (
          <span key={name} className="inline-flex items-center gap-1.5" dir="auto">
            <svg viewBox="0 0 12 12" className="size-3" aria-hidden="true">
              <rect
                x="1"
                y="1"
                width="10"
                height="10"
                className={partClass(stack, at)}
                strokeWidth="1"
                strokeDasharray={dashOf(stack, at)}
              />
            </svg>
            {name}
          </span>
        ))}
      </p>
      <details className="mt-1">
        <summary className="w-fit cursor-pointer py-1 font-bold text-soft hover:text-base-content">
          The shares as a table
        </summary>
        <ul>
          {stack.bars.toReversed().map(({ page, label }) => (
            <li key={page} className="border-t border-base-300 py-1">
              <Link className="link" to={`/students/${studentId}/${page}`}>
                {label}
              </Link>
            </li>
          ))}
        </ul>
      </details>
    </div>
  );
}
