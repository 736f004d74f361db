import {
  Chart,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  ScatterController,
  Tooltip,
  type Plugin,
} from "chart.js";
import { labelRows } from "#core/chart/label-rows.ts";
import type { ChartLine, ProgressChart } from "#core/chart/progress-chart.ts";
import { figure, plainFigure } from "#core/words/amounts.ts";

const family = '"Atkinson Hyperlegible Next Variable", sans-serif';
Chart.defaults.font.family = family;
Chart.register(LinearScale, LineController, LineElement, PointElement, ScatterController, Tooltip);

interface Colors {
  ink: string;
  soft: string;
  hair: string;
  data: string;
  aim: string;
  paper: string;
}

function themeColors(element: Element): Colors {
  const style = getComputedStyle(element);
  const read = (name: string) => style.getPropertyValue(name).trim();
  return {
    ink: read("--color-base-content"),
    soft: read("--soft"),
    hair: read("--color-base-300"),
    data: read("--data"),
    aim: read("--aim"),
    paper: read("--color-base-100"),
  };
}

const font = (size: number, weight = 400) => `${weight} ${size}px ${family}`;
const toPoints = ({ from, to }: ChartLine) => [from, to].map(([x, y]) => ({ x, y }));

const narrow = (width: number) => width < 520;
const rowHeight = 14;

/** How many rows the names of the phases take at this width, which is the room to leave above the chart. */
function phaseRows(
  ctx: CanvasRenderingContext2D,
  chart: ProgressChart,
  toPixel: (day: number) => number,
): number[] {
  ctx.font = font(12);
  return labelRows(
    chart.phases.map(({ day, label }) => ({ left: toPixel(day) + 6, width: ctx.measureText(label).width })),
  );
}

/** Phase lines with their names, and the words at the ends of criterion and aim line: none of it covers a point. */
function annotations(chart: ProgressChart, colors: Colors): Plugin<"scatter"> {
  return {
    id: "annotations",
    beforeDatasetsDraw({ ctx, chartArea, scales: { x, y }, width }) {
      if (!x || !y) return;
      ctx.save();
      const rows = phaseRows(ctx, chart, (day) => x.getPixelForValue(day));
      chart.phases.forEach((phase, index) => {
        const left = x.getPixelForValue(phase.day);
        const baseline = 12 + rowHeight * (rows[index] ?? 0);
        ctx.strokeStyle = colors.ink;
        ctx.fillStyle = colors.ink;
        if (phase.line) {
          ctx.setLineDash([5, 4]);
          ctx.beginPath();
          ctx.moveTo(left, baseline - 9);
          ctx.lineTo(left, chartArea.bottom);
          ctx.stroke();
        }
        ctx.fillText(phase.label, left + 6, baseline);
      });
      if (chart.criterion !== null) {
        const text = `criterion ${plainFigure(chart.criterion, chart.unit)}`;
        const at = y.getPixelForValue(chart.criterion);
        ctx.fillStyle = colors.ink;
        ctx.textAlign = narrow(width) ? "right" : "left";
        ctx.fillText(
          text,
          narrow(width) ? chartArea.right : chartArea.right + 7,
          narrow(width) ? at - 5 : at + 4,
        );
        ctx.textAlign = "left";
      }
      if (chart.aim) {
        const { from, to } = chart.aim;
        ctx.fillStyle = colors.aim;
        ctx.fillText(
          "aim line",
          x.getPixelForValue(from[0] + (to[0] - from[0]) * 0.72),
          y.getPixelForValue(from[1] + (to[1] - from[1]) * 0.72) + 18,
        );
      }
      const last = chart.runs.at(-1)?.at(-1);
      if (last) {
        ctx.font = font(13, 700);
        ctx.fillStyle = colors.data;
        ctx.fillText(
          plainFigure(last.value, chart.unit),
          x.getPixelForValue(last.day) + 10,
          y.getPixelForValue(last.value) + 4,
        );
      }
      ctx.restore();
    },
  };
}

/** The ticks that have room beside each other at this width. */
function roomyTicks(chart: ProgressChart, width: number): number[] {
  const perDay = width / (chart.toDay - chart.fromDay);
  const kept: number[] = [];
  for (const { day } of chart.ticks)
    if (kept.length === 0 || (day - (kept.at(-1) ?? 0)) * perDay >= 40) kept.push(day);
  return kept;
}

/** Draws the chart on a canvas in the colors of the theme; a click on a point opens its entry. */
export function drawProgress(
  canvas: HTMLCanvasElement,
  chart: ProgressChart,
  onOpen: (entryId: string) => void,
): Chart<"scatter"> {
  const colors = themeColors(canvas);
  const still = matchMedia("(prefers-reduced-motion: reduce)").matches;
  const plain = {
    type: "scatter" as const,
    showLine: true,
    pointRadius: 0,
    pointHitRadius: 0,
    pointHoverRadius: 0,
  };
  const points = chart.runs.flat();
  return new Chart(canvas, {
    type: "scatter",
    plugins: [annotations(chart, colors)],
    data: {
      datasets: [
        ...chart.runs.map((run) => ({
          ...plain,
          label: "points",
          data: run.map(({ day, value }) => ({ x: day, y: value })),
          borderColor: colors.data,
          borderWidth: 1.2,
          pointRadius: 4.5,
          pointHoverRadius: 7,
          pointHitRadius: 12,
          pointBorderWidth: 1.6,
          pointBorderColor: colors.data,
          pointBackgroundColor: run[0]?.baseline ? colors.paper : colors.data,
          order: 1,
        })),
        ...chart.trends.map((trend) => ({
          ...plain,
          label: "trend",
          data: toPoints(trend),
          borderColor: colors.data,
          borderWidth: 3,
          order: 2,
        })),
        ...(chart.aim
          ? [
              {
                ...plain,
                label: "aim",
                data: toPoints(chart.aim),
                borderColor: colors.aim,
                borderWidth: 1.6,
                borderDash: [8, 5],
                order: 3,
              },
            ]
          : []),
        ...(chart.criterion === null
          ? []
          : [
              {
                ...plain,
                label: "criterion",
                data: [chart.fromDay, chart.toDay].map((x) => ({ x, y: chart.criterion ?? 0 })),
                borderColor: colors.ink,
                borderWidth: 1.4,
                borderDash: [1.5, 4],
                order: 4,
              },
            ]),
      ],
    },
    options: {
      animation: still ? false : { duration: 250 },
      responsive: true,
      maintainAspectRatio: false,
      layout: {
        padding: ({ chart: { ctx, width } }) => {
          const right = narrow(width) ? 12 : 78;
          const rows = phaseRows(
            ctx,
            chart,
            (day) => 34 + ((day - chart.fromDay) / (chart.toDay - chart.fromDay)) * (width - 34 - right),
          );
          return { top: 6 + rowHeight * Math.max(1, 1 + Math.max(...rows)), right };
        },
      },
      onClick: (_event, elements) => {
        const hit = elements[0];
        const point = hit && chart.runs[hit.datasetIndex]?.[hit.index];
        if (point) onOpen(point.entryId);
      },
      scales: {
        x: {
          type: "linear",
          min: chart.fromDay,
          max: chart.toDay,
          grid: { display: false },
          border: { display: false },
          afterBuildTicks: (axis) => {
            axis.ticks = roomyTicks(chart, axis.maxWidth).map((value) => ({ value }));
          },
          ticks: {
            autoSkip: false,
            align: "start",
            maxRotation: 0,
            color: colors.ink,
            font: { size: 12 },
            callback: (value) => chart.ticks.find(({ day }) => day === value)?.label ?? "",
          },
        },
        y: {
          min: chart.axis.low,
          max: chart.axis.high,
          afterBuildTicks: (axis) => {
            axis.ticks = chart.axis.ticks.map(({ value }) => ({ value }));
          },
          border: { display: false },
          grid: { color: colors.hair },
          ticks: {
            autoSkip: false,
            color: colors.ink,
            font: { size: 12 },
            padding: 6,
            callback: (value) => chart.axis.ticks.find((tick) => tick.value === value)?.label ?? "",
          },
        },
      },
      plugins: {
        legend: { display: false },
        tooltip: {
          filter: ({ dataset }) => dataset.label === "points",
          displayColors: false,
          backgroundColor: colors.ink,
          titleColor: colors.paper,
          bodyColor: colors.paper,
          callbacks: {
            label: ({ datasetIndex, dataIndex, parsed }) =>
              chart.runs[datasetIndex]?.[dataIndex]?.label ??
              points.find(({ day }) => day === parsed.x)?.label ??
              figure(parsed.y ?? 0, chart.unit),
          },
        },
      },
    },
  });
}
