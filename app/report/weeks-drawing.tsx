import type { WeeksBlock } from "#core/report/document.ts";
import { dayNumber } from "#core/dates/day-number.ts";

const [wide, high, above, below] = [720, 76, 22, 20];
const week = 7;
/** Labels below the axis stand at least so many weeks apart. */
const apart = 4;

/** Incidents by week: a bar a week with its number, a gap where nobody observed, and a line where a plan began. */
export function WeeksDrawing({ weeks: { title, weeks, plans } }: { weeks: WeeksBlock }) {
  const first = weeks[0];
  if (!first) return null;
  const begin = dayNumber(first.from);
  const step = wide / weeks.length;
  const x = (on: string) => ((dayNumber(on) - begin) / week) * step;
  const top = Math.max(1, ...weeks.map(({ n }) => n));
  const width = Math.min(26, step * 0.7);
  return (
    <figure className="mt-3">
      <figcaption className="font-sans text-fine text-soft">{title}</figcaption>
      <svg
        viewBox={`0 0 ${wide} ${above + high + below}`}
        className="chart block h-auto w-full"
        role="img"
        aria-label={`${title}. ${weeks.map(({ label }) => label).join(". ")}`}
      >
        <g transform={`translate(0 ${above})`}>
          <line x1="0" x2={wide} y1={high} y2={high} className="stroke-soft" />
          {weeks.map(({ from, n, days }) => {
            const left = x(from) + (step - width) / 2;
            const size = (n / top) * high;
            return (
              <g key={from}>
                {n > 0 ? (
                  <rect x={left} y={high - size} width={width} height={size} className="fill-data" />
                ) : null}
                {n > 0 || days > 0 ? (
                  <text x={left + width / 2} y={high - size - 4} textAnchor="middle" fontSize="11.5">
                    {n}
                  </text>
                ) : null}
              </g>
            );
          })}
          {weeks.map(({ from, tick }, at) =>
            at % apart === 0 ? (
              <text
                key={from}
                x={x(from) + step / 2}
                y={high + 15}
                textAnchor={at === 0 ? "start" : "middle"}
                fontSize="11.5"
              >
                {tick}
              </text>
            ) : null,
          )}
          {plans.map(({ on, name }) => (
            <g key={`${on} ${name}`}>
              <line
                x1={x(on)}
                x2={x(on)}
                y1={-8}
                y2={high}
                className="stroke-base-content"
                strokeDasharray="5 4"
              />
              <text
                x={x(on) + (x(on) > wide * 0.7 ? -5 : 5)}
                y={-10}
                textAnchor={x(on) > wide * 0.7 ? "end" : "start"}
                fontSize="11.5"
              >
                {name}
              </text>
            </g>
          ))}
        </g>
      </svg>
    </figure>
  );
}
