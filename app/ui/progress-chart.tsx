import { useId } from "react";
import type { ChartLine, ChartTrend } from "#core/chart/trend-line.ts";
import { pointSize, type ProgressChart as Chart } from "#core/chart/chart.ts";
import { placeLabels } from "#core/chart/label-places.ts";
import { labelRows, nameBeside } from "#core/chart/label-rows.ts";
import { heightOf } from "#core/chart/value-axis.ts";
import { leftRoom, wordsBeside } from "#core/chart/words-beside.ts";
import { Shape, styleOfMark, styleOfShape } from "./chart-shapes.tsx";

const rowHeight = 14;
const letterWidth = 6.2;

const fillOf = { ink: "", data: "fill-data!", aim: "fill-aim!", other: "fill-other!" };

/** The chart as the server draws it: for paper, for the moment before scripts run, and for browsers without them. */
export function ProgressChartSvg({
  chart,
  description,
  width = 800,
}: {
  chart: Chart;
  description: string;
  /** Of the drawing, in which letters keep their size: less where it is shown small. */
  width?: number;
}) {
  const { axis } = chart;
  const clip = useId();
  const box = {
    width,
    height: 262,
    left: leftRoom(chart.unit),
    right: 78,
    top: 20,
    bottom: 34,
  };
  const x = (day: number) =>
    box.left + ((day - chart.fromDay) / (chart.toDay - chart.fromDay)) * (box.width - box.left - box.right);
  const names = chart.phases.map(({ day, label }) => nameBeside(x(day), label.length * letterWidth, width));
  const rows = labelRows(names);
  box.top = 6 + rowHeight * Math.max(1, 1 + Math.max(...rows));
  const foot = box.height - box.bottom;
  const y = (value: number) => foot - heightOf(axis, value) * (foot - box.top);
  const line = ({ from, to }: ChartLine) => ({ x1: x(from[0]), y1: y(from[1]), x2: x(to[0]), y2: y(to[1]) });
  const places = (all: readonly (readonly [day: number, value: number])[]) =>
    all.map(([day, value]) => `${x(day)},${y(value)}`).join(" ");
  const band = (all: NonNullable<ChartTrend["band"]>) =>
    `${places(all.map(([day, , high]) => [day, high]))} ${places(all.map(([day, low]) => [day, low] as const).reverse())}`;
  const isShown = (day: number) => chart.fromDay <= day && day <= chart.toDay;
  const rightEdge = box.width - box.right;
  const words = wordsBeside(chart, { x, y, rightEdge, isShown });
  const baselines = placeLabels(words, { top: 10, bottom: foot + 4 });
  const size = pointSize(chart);
  return (
    <svg
      viewBox={`0 0 ${box.width} ${box.height}`}
      className="chart block h-auto w-full"
      role="img"
      aria-label={description}
    >
      <clipPath id={clip}>
        <rect
          x={box.left - 5}
          y={box.top - 6}
          width={rightEdge - box.left + 10}
          height={foot - box.top + 20}
        />
      </clipPath>
      {axis.ticks.map(({ value, label }) => (
        <g key={value}>
          <line
            x1={box.left}
            x2={rightEdge}
            y1={y(value)}
            y2={y(value)}
            className="stroke-base-300"
            strokeWidth="1"
          />
          <text x={box.left - 7} y={y(value) + 4} textAnchor="end" fontSize="11.5">
            {label}
          </text>
        </g>
      ))}
      <text
        transform={`translate(12 ${(box.top + foot) / 2}) rotate(-90)`}
        textAnchor="middle"
        fontSize="11.5"
        className="fill-soft"
      >
        {chart.axisTitle}
      </text>
      {chart.ticks.map(({ day, label }) => (
        <text key={day} x={x(day)} y={box.height - 6} fontSize="11.5">
          {label}
        </text>
      ))}
      {chart.phases.map(({ day, label, line: drawn }, index) =>
        drawn ? (
          <line
            key={`${day} ${label}`}
            x1={x(day)}
            x2={x(day)}
            y1={3 + rowHeight * (rows[index] ?? 0)}
            y2={foot}
            className="stroke-base-content"
            strokeWidth="1"
            strokeDasharray="5 4"
          />
        ) : null,
      )}
      {chart.phases.map(({ day, label }, index) => (
        <text
          key={`${day} ${label}`}
          x={names[index]?.left}
          y={12 + rowHeight * (rows[index] ?? 0)}
          fontSize="11.5"
          className="phase-name"
        >
          {label}
        </text>
      ))}
      {chart.criterion === null ? null : (
        <g>
          <line
            x1={box.left}
            x2={rightEdge}
            y1={y(chart.criterion)}
            y2={y(chart.criterion)}
            className="stroke-base-content"
            strokeWidth="1.4"
            strokeDasharray="1.5 4"
            strokeLinecap="round"
          />
        </g>
      )}
      <g clipPath={`url(#${clip})`}>
        {chart.trends.map(({ band: all }, index) =>
          all ? (
            <polygon key={index} points={band(all)} className="fill-data stroke-none" fillOpacity="0.12" />
          ) : null,
        )}
        {chart.aimPath.length > 0 ? (
          <polyline
            points={places(chart.aimPath)}
            fill="none"
            className="stroke-aim"
            strokeWidth="1.6"
            strokeDasharray="8 5"
          />
        ) : null}
        {chart.trends.map((trend, index) => (
          <line
            key={index}
            {...line(trend.line)}
            className="stroke-data"
            strokeWidth="2.8"
            strokeLinecap="round"
          />
        ))}
        {chart.others.map((other, index) => (
          <g key={other.label}>
            {other.runs.map((run) => (
              <polyline
                key={run[0]?.page}
                points={places(run.map(({ day, value }) => [day, value]))}
                fill="none"
                className="stroke-other"
                strokeWidth="1.4"
                strokeDasharray={index % 2 === 0 ? "3 3" : "8 2 2 2"}
              />
            ))}
            {other.runs.flat().map(({ page, day, value, label }) => (
              <Shape
                key={page}
                form={styleOfShape(index + 1)}
                {...{ x: x(day), y: y(value), r: 3.4, title: label }}
                className="fill-base-100 stroke-other"
              />
            ))}
          </g>
        ))}
        {chart.runs.map((run) => (
          <g key={run[0]?.entryId}>
            <polyline
              points={places(run.map(({ day, value }) => [day, value]))}
              fill="none"
              className="stroke-data"
              strokeWidth="1.2"
            />
            {run.map((point) => (
              <Shape
                key={point.entryId}
                form={styleOfShape(point.shape)}
                {...{
                  x: x(point.day),
                  y: y(point.value),
                  r: (point.hollow ? 3.2 : 4.3) * size,
                  title: point.label,
                }}
                className={
                  point.hollow
                    ? "fill-base-100 stroke-soft"
                    : `stroke-data ${point.baseline ? "fill-base-100" : "fill-data"}`
                }
              />
            ))}
          </g>
        ))}
        {chart.edges.map(({ day, at, label, page }) => (
          <g key={page} transform={at === "top" ? undefined : `rotate(180 ${x(day)} ${foot - 5})`}>
            <Shape
              form="triangle"
              {...{ x: x(day), y: at === "top" ? box.top + 1 : foot - 5, r: 4.2, title: label }}
              className="fill-base-100 stroke-data"
            />
          </g>
        ))}
        {chart.met && chart.criterion !== null ? (
          <Shape
            form="rectRot"
            {...{ x: x(chart.met.day), y: y(chart.criterion), r: 5, title: chart.met.label }}
            className="fill-none stroke-base-content"
          />
        ) : null}
        {chart.marks.map(({ day, kind, label }) => (
          <Shape
            key={`${day} ${label}`}
            form={styleOfMark[kind]}
            {...{ x: x(day), y: foot + 8, r: 3, title: label }}
            className={`stroke-soft ${kind === "not measured" ? "fill-base-100" : "fill-soft"}`}
          />
        ))}
      </g>
      {words.map(({ text, left, tone, weight }, index) => (
        <text
          key={`${tone} ${text}`}
          x={left}
          y={baselines[index]}
          fontSize={weight === 700 ? 12.5 : 11.5}
          fontWeight={weight}
          className={fillOf[tone]}
        >
          {text}
        </text>
      ))}
    </svg>
  );
}
