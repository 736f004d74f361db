import type { ChartLine, ProgressChart as Chart } from "#core/chart/progress-chart.ts";
import { labelRows } from "#core/chart/label-rows.ts";
import { plainFigure } from "#core/words/amounts.ts";

const rowHeight = 14;
const letterWidth = 6.2;

/** The chart as the server draws it: for paper, for the moment before scripts run, and for browsers without them. */
export function ProgressChartSvg({ chart, description }: { chart: Chart; description: string }) {
  const { axis } = chart;
  const box = {
    width: 800,
    height: 252,
    left: chart.unit === "seconds" ? 48 : 34,
    right: 78,
    top: 20,
    bottom: 24,
  };
  const x = (day: number) =>
    box.left + ((day - chart.fromDay) / (chart.toDay - chart.fromDay)) * (box.width - box.left - box.right);
  const rows = labelRows(
    chart.phases.map(({ day, label }) => ({ left: x(day) + 6, width: label.length * letterWidth })),
  );
  box.top = 6 + rowHeight * Math.max(1, 1 + Math.max(...rows));
  const y = (value: number) =>
    box.height -
    box.bottom -
    ((value - axis.low) / (axis.high - axis.low)) * (box.height - box.top - box.bottom);
  const line = ({ from, to }: ChartLine) => ({ x1: x(from[0]), y1: y(from[1]), x2: x(to[0]), y2: y(to[1]) });
  const last = chart.runs.at(-1)?.at(-1);
  const rightEdge = box.width - box.right;
  return (
    <svg
      viewBox={`0 0 ${box.width} ${box.height}`}
      className="chart block h-auto w-full"
      role="img"
      aria-label={description}
    >
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
      {chart.ticks.map(({ day, label }) => (
        <text key={day} x={x(day)} y={box.height - 6} fontSize="11.5">
          {label}
        </text>
      ))}
      {chart.phases.map(({ day, label, line: drawn }, index) => (
        <g key={`${day} ${label}`}>
          {drawn ? (
            <line
              x1={x(day)}
              x2={x(day)}
              y1={3 + rowHeight * (rows[index] ?? 0)}
              y2={box.height - box.bottom}
              className="stroke-base-content"
              strokeWidth="1"
              strokeDasharray="5 4"
            />
          ) : null}
          <text x={x(day) + 6} y={12 + rowHeight * (rows[index] ?? 0)} fontSize="11.5">
            {label}
          </text>
        </g>
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
          <text x={rightEdge + 7} y={y(chart.criterion) + 4} fontSize="11.5">
            criterion {plainFigure(chart.criterion, chart.unit)}
          </text>
        </g>
      )}
      {chart.aim ? (
        <g>
          <line {...line(chart.aim)} className="stroke-aim" strokeWidth="1.6" strokeDasharray="8 5" />
          <text
            x={x(chart.aim.from[0] + (chart.aim.to[0] - chart.aim.from[0]) * 0.72)}
            y={y(chart.aim.from[1] + (chart.aim.to[1] - chart.aim.from[1]) * 0.72) + 18}
            fontSize="11.5"
            className="fill-aim!"
          >
            aim line
          </text>
        </g>
      ) : null}
      {chart.trends.map((trend, index) => (
        <line key={index} {...line(trend)} className="stroke-data" strokeWidth="2.8" strokeLinecap="round" />
      ))}
      {chart.runs.map((run) => (
        <g key={run[0]?.entryId}>
          <polyline
            points={run.map((point) => `${x(point.day)},${y(point.value)}`).join(" ")}
            fill="none"
            className="stroke-data"
            strokeWidth="1.2"
          />
          {run.map((point) => (
            <circle
              key={point.entryId}
              cx={x(point.day)}
              cy={y(point.value)}
              r="4.3"
              className={`stroke-data ${point.baseline ? "fill-base-100" : "fill-data"}`}
              strokeWidth="1.6"
            >
              <title>{point.label}</title>
            </circle>
          ))}
        </g>
      ))}
      {last ? (
        <text
          x={x(last.day) + 10}
          y={y(last.value) + 4}
          fontSize="12.5"
          fontWeight="700"
          className="fill-data!"
        >
          {plainFigure(last.value, chart.unit)}
        </text>
      ) : null}
    </svg>
  );
}
