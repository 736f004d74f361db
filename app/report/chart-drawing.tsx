import { useId } from "react";
import { placeLabels } from "#core/chart/label-places.ts";
import { labelRows, nameBeside } from "#core/chart/label-rows.ts";
import type { SmallChart } from "#core/chart/small-chart.ts";
import { heightOf } from "#core/chart/value-axis.ts";
import { Shape, styleOfShape } from "#app/ui/chart-shapes.tsx";

const [width, height] = [400, 218];
const [least, right, bottom] = [40, 78, 34];
const rowHeight = 14;
const letterWidth = 6.2;
const fontSize = "11.5";
/** Up to so many points are drawn at their full size; more are smaller, so that they do not cover each other. */
const roomy = 50;
const [largest, smallest] = [4.2, 2.2];

const tones = {
  last: "fill-data!",
  trend: "fill-data!",
  criterion: "",
  aim: "fill-aim!",
  other: "fill-other!",
};

/** A goal's chart in a report: for reading, on the screen and on paper. Points of a kind are one path. */
export function ChartDrawing({ chart, description }: { chart: SmallChart; description: string }) {
  const { axis, fromDay, toDay, phases, points } = chart;
  const clip = useId();
  const edge = width - right;
  // As wide as the longest of its values: "10 min".
  const left = Math.max(
    least,
    10 + letterWidth * Math.max(0, ...axis.ticks.map(({ label }) => label.length)),
  );
  const x = (day: number) => left + ((day - fromDay) / (toDay - fromDay)) * (edge - left);
  const names = phases.map(({ day, label }) => nameBeside(x(day), label.length * letterWidth, width));
  const rows = labelRows(names);
  const top = 6 + rowHeight * Math.max(1, 1 + Math.max(...rows));
  const foot = height - bottom;
  const y = (value: number) => foot - heightOf(axis, value) * (foot - top);
  /** Half a pixel is near enough. */
  const written = (value: number) => Math.round(value * 2) / 2;
  const places = (all: readonly (readonly [day: number, value: number])[]) =>
    all.map(([day, value]) => `${written(x(day))},${written(y(value))}`).join(" ");
  const total = points.reduce((sum, { at }) => sum + at.length, 0);
  const radius = total <= roomy ? largest : Math.max(smallest, largest * Math.sqrt(roomy / total));
  const words = chart.words.map(({ text, of, at: [day, value] }) => {
    const beside: [number, number] = {
      last: [x(day) + 9, y(value) + 4] as [number, number],
      criterion: [edge + 6, y(value) + 4] as [number, number],
      aim: [x(day), y(value) + 18] as [number, number],
      other: [x(day) + 8, y(value) + 4] as [number, number],
      trend: [x(day) + 8, y(value) + 4] as [number, number],
    }[of];
    const long = text.length * letterWidth;
    // A word that is longer than the room to its right begins further left.
    return { text, of, left: Math.min(beside[0], width - long - 3), baseline: beside[1], width: long };
  });
  const baselines = placeLabels(words, { top: 10, bottom: foot + 4 });
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      className="chart block h-auto w-full"
      role="img"
      aria-label={description}
    >
      <clipPath id={clip}>
        <rect x={left - 5} y={top - 6} width={edge - left + 10} height={foot - top + 12} />
      </clipPath>
      {axis.ticks.map(({ value, label }) => (
        <g key={value}>
          <line x1={left} x2={edge} y1={y(value)} y2={y(value)} className="stroke-base-300" />
          <text x={left - 7} y={y(value) + 4} textAnchor="end" fontSize={fontSize}>
            {label}
          </text>
        </g>
      ))}
      {chart.ticks.map(({ day, label }) => (
        <text key={day} x={x(day)} y={height - 12} fontSize={fontSize}>
          {label}
        </text>
      ))}
      {phases.map(({ day, line }, at) =>
        line ? (
          <line
            key={day}
            x1={x(day)}
            x2={x(day)}
            y1={3 + rowHeight * (rows[at] ?? 0)}
            y2={foot}
            className="stroke-base-content"
            strokeDasharray="5 4"
          />
        ) : null,
      )}
      {phases.map(({ day, label }, at) => (
        <text
          key={`${day} ${label}`}
          x={names[at]?.left}
          y={12 + rowHeight * (rows[at] ?? 0)}
          fontSize={fontSize}
          className="phase-name"
        >
          {label}
        </text>
      ))}
      {chart.criterion === null ? null : (
        <line
          x1={left}
          x2={edge}
          y1={y(chart.criterion)}
          y2={y(chart.criterion)}
          className="stroke-base-content"
          strokeWidth="1.4"
          strokeDasharray="1.5 4"
          strokeLinecap="round"
        />
      )}
      <g clipPath={`url(#${clip})`} fill="none">
        {chart.trends.map(({ band }, at) =>
          band ? (
            <polygon
              key={at}
              points={`${places(band.map(([day, , high]) => [day, high]))} ${places(band.map(([day, low]) => [day, low] as const).reverse())}`}
              className="fill-data stroke-none"
              fillOpacity="0.12"
            />
          ) : null,
        )}
        {chart.aim.length > 0 ? (
          <polyline
            points={places(chart.aim)}
            className="stroke-aim"
            strokeWidth="1.6"
            strokeDasharray="8 5"
          />
        ) : null}
        {chart.trends.map(({ line }, at) => (
          <polyline
            key={at}
            points={places(line)}
            className="stroke-data"
            strokeWidth="2.8"
            strokeLinecap="round"
          />
        ))}
        {chart.others.flatMap(({ label, runs }, index) =>
          runs.map((run, at) => (
            <polyline
              key={`${label} ${at}`}
              points={places(run)}
              className="stroke-other"
              strokeWidth="1.4"
              strokeDasharray={index % 2 === 0 ? "3 3" : "8 2 2 2"}
            />
          )),
        )}
        {chart.runs.map((run, at) => (
          <polyline key={at} points={places(run)} className="stroke-data" strokeWidth="1.2" />
        ))}
        {points.map(({ kind, shape, at }) =>
          shape === 0 ? (
            <Dots
              key={`${kind} ${shape}`}
              d={at.map(([day, value]) => `M${written(x(day))} ${written(y(value))}h0`).join("")}
              r={kind === "aside" ? radius * 0.8 : radius}
              isOpen={kind !== "measured"}
              tone={kind === "aside" ? "stroke-soft" : "stroke-data"}
            />
          ) : (
            at.map(([day, value]) => (
              <Shape
                key={`${day} ${value} ${kind}`}
                form={styleOfShape(shape)}
                {...{ x: x(day), y: y(value), r: radius }}
                className={
                  kind === "aside"
                    ? "fill-base-100 stroke-soft"
                    : `stroke-data ${kind === "baseline" ? "fill-base-100" : "fill-data"}`
                }
              />
            ))
          ),
        )}
        {chart.edges.map(({ day, at }) => (
          <g key={`${day} ${at}`} transform={at === "top" ? undefined : `rotate(180 ${x(day)} ${foot - 5})`}>
            <Shape
              form="triangle"
              {...{ x: x(day), y: at === "top" ? top + 1 : foot - 5, r: 4 }}
              className="fill-base-100 stroke-data"
            />
          </g>
        ))}
        {chart.met !== null && chart.criterion !== null ? (
          <Shape
            form="rectRot"
            {...{ x: x(chart.met), y: y(chart.criterion), r: 5 }}
            className="fill-none stroke-base-content"
          />
        ) : null}
      </g>
      {words.map(({ text, of, left: from }, at) => (
        <text
          key={`${of} ${text}`}
          x={from}
          y={baselines[at]}
          fontSize={of === "last" ? "12.5" : fontSize}
          fontWeight={of === "last" ? 700 : 400}
          className={tones[of]}
        >
          {text}
        </text>
      ))}
    </svg>
  );
}

/** Round points in one path: a line of no length with a round end is a dot; an open one has a smaller dot of paper in it. */
function Dots({ d, r, isOpen, tone }: { d: string; r: number; isOpen: boolean; tone: string }) {
  return (
    <>
      <path d={d} className={tone} strokeWidth={2 * r} strokeLinecap="round" />
      {isOpen ? (
        <path d={d} className="stroke-base-100" strokeWidth={2 * r - 3} strokeLinecap="round" />
      ) : null}
    </>
  );
}
