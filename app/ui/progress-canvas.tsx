import { Chart, LinearScale, LineController, LineElement, PointElement, ScatterController, Tooltip, type Plugin } from "chart.js";
import { useEffect, useRef, useState } from "react";
import type { ChartLine, ProgressChart } from "#core/chart/progress-chart.ts";
import { percent } from "#core/words/numbers.ts";

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
  return { ink: read("--color-base-content"), soft: read("--soft"), hair: read("--color-base-300"), data: read("--data"), aim: read("--aim"), paper: read("--color-base-100") };
}

const font = (size: number, weight = 400) => `${weight} ${size}px "Atkinson Hyperlegible Next Variable", sans-serif`;
const toPoints = ({ from, to }: ChartLine) => [from, to].map(([x, y]) => ({ x, y }));

/** Phase lines with their names, and the words at the ends of criterion and aim line: none of it covers a point. */
function annotations(chart: ProgressChart, colors: Colors): Plugin<"scatter"> {
  return {
    id: "annotations",
    beforeDatasetsDraw({ ctx, chartArea, scales: { x, y } }) {
      if (!x || !y) return;
      ctx.save();
      ctx.font = font(12);
      for (const phase of chart.phases) {
        const left = x.getPixelForValue(phase.day);
        if (phase.line) {
          ctx.strokeStyle = colors.ink;
          ctx.setLineDash([5, 4]);
          ctx.beginPath();
          ctx.moveTo(left, 4);
          ctx.lineTo(left, chartArea.bottom);
          ctx.stroke();
        }
        ctx.fillStyle = colors.ink;
        ctx.fillText(phase.label, left + 6, 13);
      }
      if (chart.criterion !== null) {
        ctx.fillStyle = colors.ink;
        ctx.fillText(`criterion ${Math.round(chart.criterion)}`, chartArea.right + 7, y.getPixelForValue(chart.criterion) + 4);
      }
      if (chart.aim) {
        const { from, to } = chart.aim;
        ctx.fillStyle = colors.aim;
        ctx.fillText("aim line", x.getPixelForValue(from[0] + (to[0] - from[0]) * 0.72), y.getPixelForValue(from[1] + (to[1] - from[1]) * 0.72) + 18);
      }
      const last = chart.runs.at(-1)?.at(-1);
      if (last) {
        ctx.font = font(13, 700);
        ctx.fillStyle = colors.data;
        ctx.fillText(String(Math.round(last.value)), x.getPixelForValue(last.day) + 10, y.getPixelForValue(last.value) + 4);
      }
      ctx.restore();
    },
  };
}

function draw(canvas: HTMLCanvasElement, chart: ProgressChart, onOpen: (entryId: string) => void): Chart<"scatter"> {
  const colors = themeColors(canvas);
  const still = matchMedia("(prefers-reduced-motion: reduce)").matches;
  const plain = { type: "scatter" as const, showLine: true, pointRadius: 0, pointHitRadius: 0, pointHoverRadius: 0 };
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
        ...chart.trends.map((trend) => ({ ...plain, label: "trend", data: toPoints(trend), borderColor: colors.data, borderWidth: 3, order: 2 })),
        ...(chart.aim ? [{ ...plain, label: "aim", data: toPoints(chart.aim), borderColor: colors.aim, borderWidth: 1.6, borderDash: [8, 5], order: 3 }] : []),
        ...(chart.criterion === null
          ? []
          : [{ ...plain, label: "criterion", data: [chart.fromDay, chart.toDay].map((x) => ({ x, y: chart.criterion ?? 0 })), borderColor: colors.ink, borderWidth: 1.4, borderDash: [1.5, 4], order: 4 }]),
      ],
    },
    options: {
      animation: still ? false : { duration: 250 },
      responsive: true,
      maintainAspectRatio: false,
      layout: { padding: { top: 20, right: 78 } },
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
            axis.ticks = chart.ticks.map(({ day }) => ({ value: day }));
          },
          ticks: { autoSkip: false, align: "start", maxRotation: 0, color: colors.ink, font: { size: 12 }, callback: (value) => chart.ticks.find(({ day }) => day === value)?.label ?? "" },
        },
        y: { min: chart.low, max: chart.high, border: { display: false }, grid: { color: colors.hair }, ticks: { stepSize: 20, color: colors.ink, font: { size: 12 }, padding: 6 } },
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
            label: ({ datasetIndex, dataIndex, parsed }) => chart.runs[datasetIndex]?.[dataIndex]?.label ?? points.find(({ day }) => day === parsed.x)?.label ?? percent(parsed.y ?? 0),
          },
        },
      },
    },
  });
}

/** The chart on a canvas: the same geometry as the drawing, with points that tell and open. Arrow keys step through them. */
export default function ProgressCanvas({ chart, description, onOpen }: { chart: ProgressChart; description: string; onOpen: (entryId: string) => void }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const drawn = useRef<Chart<"scatter"> | null>(null);
  const open = useRef(onOpen);
  const [at, setAt] = useState<number | null>(null);
  const places = chart.runs.flatMap((run, datasetIndex) => run.map((point, index) => ({ datasetIndex, index, point })));
  useEffect(() => {
    open.current = onOpen;
  });
  useEffect(() => {
    if (!canvas.current) return;
    const element = canvas.current;
    const scheme = matchMedia("(prefers-color-scheme: dark)");
    const redraw = () => {
      drawn.current?.destroy();
      drawn.current = draw(element, chart, (entryId) => open.current(entryId));
    };
    redraw();
    void document.fonts.ready.then(() => drawn.current?.update("none"));
    scheme.addEventListener("change", redraw);
    return () => {
      scheme.removeEventListener("change", redraw);
      drawn.current?.destroy();
      drawn.current = null;
    };
  }, [chart]);

  function step(to: number) {
    const index = Math.min(places.length - 1, Math.max(0, to));
    const place = places[index];
    if (!place || !drawn.current) return;
    const active = [{ datasetIndex: place.datasetIndex, index: place.index }];
    drawn.current.setActiveElements(active);
    drawn.current.tooltip?.setActiveElements(active, { x: 0, y: 0 });
    drawn.current.update("none");
    setAt(index);
  }
  return (
    <div className="relative aspect-[800/252] min-h-44 w-full">
      <canvas
        ref={canvas}
        role="img"
        tabIndex={0}
        aria-label={`${description} Arrow keys step through the points, Enter opens one.`}
        onKeyDown={(event) => {
          const from = at ?? places.length;
          if (event.key === "ArrowLeft") step(from - 1);
          else if (event.key === "ArrowRight") step(from + 1);
          else if (event.key === "Home") step(0);
          else if (event.key === "End") step(places.length - 1);
          else if (event.key === "Enter" && at !== null) onOpen(places[at]?.point.entryId ?? "");
          else return;
          event.preventDefault();
        }}
      />
      <p className="sr-only" role="status">
        {at === null ? "" : places[at]?.point.label}
      </p>
    </div>
  );
}
