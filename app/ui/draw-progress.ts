import {
  Chart,
  Filler,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  ScatterController,
  Tooltip,
  type Plugin,
} from "chart.js";
import { placeLabels } from "#core/chart/label-places.ts";
import { labelRows, nameBeside } from "#core/chart/label-rows.ts";
import { pointSize, type ProgressChart } from "#core/chart/chart.ts";
import { heightOf } from "#core/chart/value-axis.ts";
import { leftRoom, wordsBeside } from "#core/chart/words-beside.ts";
import { styleOfMark, styleOfShape } from "./chart-shapes.tsx";

const family = '"Atkinson Hyperlegible Next Variable", sans-serif';
Chart.defaults.font.family = family;
Chart.register(Filler, LinearScale, LineController, LineElement, PointElement, ScatterController, Tooltip);

interface Colors {
  ink: string;
  soft: string;
  hair: string;
  data: string;
  aim: string;
  other: string;
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
    other: read("--other"),
    paper: read("--color-base-100"),
  };
}

const font = (size: number, weight = 400) => `${weight} ${size}px ${family}`;
/** Values stand on the canvas at their height on the axis, 0 … 1: so the two drawings share one geometry, log axis and all. */
const placesOn =
  ({ axis }: ProgressChart) =>
  (all: readonly (readonly [day: number, value: number])[]) =>
    all.map(([x, value]) => ({ x, y: heightOf(axis, value) }));

/** The label of data sets whose points tell something. */
const tellsSomething = "told";
/** Marks stand just below the foot, where no point is. */
const markHeight = -0.04;
/** The room below the foot for them. */
const lowest = -0.075;
/** A point that gave no figure, at the foot. */
const edgeAtFoot = 0.02;
/** The drawing of the server is so wide, with so much room on either side. */
const drawn = { width: 800, right: 78 };

const narrow = (width: number) => width < 520;
const rowHeight = 14;

/** Where the names of the phases begin, and in which rows, whose number is the room to leave above the chart. */
function phaseNames(
  ctx: CanvasRenderingContext2D,
  chart: ProgressChart,
  width: number,
  toPixel: (day: number) => number,
): { left: number; row: number }[] {
  ctx.font = font(12);
  const names = chart.phases.map(({ day, label }) =>
    nameBeside(toPixel(day), ctx.measureText(label).width, width),
  );
  const rows = labelRows(names);
  return names.map(({ left }, index) => ({ left, row: rows[index] ?? 0 }));
}

/** Phase lines with their names, and the words at the ends of criterion and aim line: none of it covers a point. */
function annotations(chart: ProgressChart, colors: Colors): Plugin<"scatter"> {
  return {
    id: "annotations",
    beforeDatasetsDraw({ ctx, chartArea, scales: { x, y }, width }) {
      if (!x || !y) return;
      ctx.save();
      const high = (value: number) => y.getPixelForValue(heightOf(chart.axis, value));
      const isShown = (day: number) => chart.fromDay <= day && day <= chart.toDay;
      const names = phaseNames(ctx, chart, width, (day) => x.getPixelForValue(day));
      const baselineOf = (index: number) => 12 + rowHeight * (names[index]?.row ?? 0);
      ctx.strokeStyle = colors.ink;
      ctx.setLineDash([5, 4]);
      chart.phases.forEach(({ day, line }, index) => {
        if (!line) return;
        const left = x.getPixelForValue(day);
        ctx.beginPath();
        ctx.moveTo(left, baselineOf(index) - 9);
        ctx.lineTo(left, chartArea.bottom);
        ctx.stroke();
      });
      ctx.setLineDash([]);
      // Has a background of its own, so that a line behind the word does not cross it.
      const write = (text: string, left: number, baseline: number) => {
        ctx.lineWidth = 3;
        ctx.lineJoin = "round";
        ctx.strokeStyle = colors.paper;
        ctx.strokeText(text, left, baseline);
        ctx.fillText(text, left, baseline);
      };
      ctx.fillStyle = colors.ink;
      chart.phases.forEach(({ label }, index) => write(label, names[index]?.left ?? 0, baselineOf(index)));
      const fontOf = (weight: 400 | 700) => font(weight === 700 ? 13 : 12, weight);
      const words = wordsBeside(chart, {
        ...{ x: (day) => x.getPixelForValue(day), y: high, rightEdge: chartArea.right, isShown },
        isNarrow: narrow(width),
        widthOf: (text, weight) => {
          ctx.font = fontOf(weight);
          return ctx.measureText(text).width;
        },
      });
      const baselines = placeLabels(words, { top: 10, bottom: chartArea.bottom });
      words.forEach(({ text, left, tone, weight }, index) => {
        ctx.font = fontOf(weight);
        ctx.fillStyle = colors[tone];
        write(text, left, baselines[index] ?? 0);
      });
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

/** What can be pointed at: its words, and the page it opens. */
export interface Place {
  datasetIndex: number;
  index: number;
  label: string;
  page: string | null;
}

/** Points, then other lines, then marks, as the first data sets of the canvas have them; only what the span shows. */
export function placesOf(chart: ProgressChart): Place[] {
  const sets: { day: number; label: string; page: string | null }[][] = [
    ...chart.runs,
    ...chart.others.flatMap(({ runs }) => runs),
    chart.edges,
    chart.marks,
    chart.met ? [{ ...chart.met, page: null }] : [],
  ];
  return sets.flatMap((set, datasetIndex) =>
    set.flatMap(({ day, label, page }, index) =>
      chart.fromDay <= day && day <= chart.toDay ? [{ datasetIndex, index, label, page }] : [],
    ),
  );
}

/** What is the same for every point of a line is said once: said of each, the library works out each point anew in every frame. */
function oneOrEach<Style>(each: Style[]): Style | Style[] {
  const [first] = each;
  return first !== undefined && each.every((one) => one === first) ? first : each;
}

/** Draws the chart on a canvas in the colors of the theme; a click on a point opens its page. */
export function drawProgress(
  canvas: HTMLCanvasElement,
  chart: ProgressChart,
  onOpen: (page: string) => void,
): Chart<"scatter"> {
  const colors = themeColors(canvas);
  const places = placesOn(chart);
  const told = placesOf(chart);
  const placeOf = (datasetIndex: number, index: number) =>
    told.find((place) => place.datasetIndex === datasetIndex && place.index === index);
  const size = pointSize(chart);
  const plain = {
    type: "scatter" as const,
    showLine: true,
    pointRadius: 0,
    pointHitRadius: 0,
    pointHoverRadius: 0,
    // Points on the edge are whole.
    clip: 8,
  };
  const edge = { ...plain, label: "band", borderWidth: 0, order: 6 };
  return new Chart(canvas, {
    type: "scatter",
    plugins: [annotations(chart, colors)],
    data: {
      datasets: [
        ...chart.runs.map((run) => ({
          ...plain,
          label: tellsSomething,
          data: places(run.map(({ day, value }) => [day, value])),
          borderColor: colors.data,
          borderWidth: 1.2,
          pointRadius: oneOrEach(run.map(({ hollow }) => (hollow ? 3.4 : 4.5) * size)),
          pointHoverRadius: 7,
          pointHitRadius: 12,
          pointBorderWidth: 1.6 * size,
          pointBorderColor: oneOrEach(run.map(({ hollow }) => (hollow ? colors.soft : colors.data))),
          pointBackgroundColor: oneOrEach(
            run.map(({ hollow, baseline }) => (hollow || baseline ? colors.paper : colors.data)),
          ),
          pointStyle: oneOrEach(run.map(({ shape }) => styleOfShape(shape))),
          order: 1,
        })),
        ...chart.others
          .flatMap(({ runs }, index) => runs.map((run) => ({ run, index })))
          .map(({ run, index }) => ({
            ...plain,
            label: tellsSomething,
            data: places(run.map(({ day, value }) => [day, value])),
            borderColor: colors.other,
            borderWidth: 1.4,
            borderDash: index % 2 === 0 ? [3, 3] : [8, 2, 2, 2],
            ...{ pointRadius: 3.6, pointHoverRadius: 6, pointHitRadius: 10, pointBorderWidth: 1.4 },
            pointBorderColor: colors.other,
            pointBackgroundColor: colors.paper,
            pointStyle: styleOfShape(index + 1),
            order: 2,
          })),
        {
          ...plain,
          label: tellsSomething,
          showLine: false,
          data: chart.edges.map(({ day, at }) => ({ x: day, y: at === "top" ? 1 : edgeAtFoot })),
          ...{ pointRadius: 4.4, pointHoverRadius: 7, pointHitRadius: 10, pointBorderWidth: 1.6 },
          pointBorderColor: colors.data,
          pointBackgroundColor: colors.paper,
          pointStyle: "triangle" as const,
          pointRotation: oneOrEach(chart.edges.map(({ at }) => (at === "top" ? 0 : 180))),
          order: 1,
        },
        {
          ...plain,
          label: tellsSomething,
          showLine: false,
          data: chart.marks.map(({ day }) => ({ x: day, y: markHeight })),
          ...{ pointRadius: 3.4, pointHoverRadius: 6, pointHitRadius: 10, pointBorderWidth: 1.6 },
          pointBorderColor: colors.soft,
          pointBackgroundColor: oneOrEach(
            chart.marks.map(({ kind }) => (kind === "not measured" ? colors.paper : colors.soft)),
          ),
          pointStyle: oneOrEach(chart.marks.map(({ kind }) => styleOfMark[kind])),
          order: 1,
        },
        {
          ...plain,
          label: tellsSomething,
          showLine: false,
          data: chart.met && chart.criterion !== null ? places([[chart.met.day, chart.criterion]]) : [],
          ...{ pointRadius: 6, pointHoverRadius: 8, pointHitRadius: 10, pointBorderWidth: 1.6 },
          pointBorderColor: colors.ink,
          pointBackgroundColor: "transparent",
          pointStyle: "rectRot" as const,
          order: 1,
        },
        ...chart.trends.map((trend) => ({
          ...plain,
          label: "trend",
          data: places([trend.line.from, trend.line.to]),
          borderColor: colors.data,
          borderWidth: 3,
          order: 3,
        })),
        // Two edges of each band, filled between them.
        ...chart.trends.flatMap(({ band }) =>
          band
            ? [
                { ...edge, data: places(band.map(([day, low]) => [day, low])) },
                {
                  ...edge,
                  data: places(band.map(([day, , high]) => [day, high])),
                  fill: "-1",
                  // An eighth of the color, which is a hex one in both themes.
                  backgroundColor: `${colors.data}1f`,
                },
              ]
            : [],
        ),
        ...(chart.aim
          ? [
              {
                ...plain,
                label: "aim",
                data: places(chart.aimPath),
                borderColor: colors.aim,
                borderWidth: 1.6,
                borderDash: [8, 5],
                order: 4,
              },
            ]
          : []),
        ...(chart.criterion === null
          ? []
          : [
              {
                ...plain,
                label: "criterion",
                data: places([chart.fromDay, chart.toDay].map((day) => [day, chart.criterion ?? 0])),
                borderColor: colors.ink,
                borderWidth: 1.4,
                borderDash: [1.5, 4],
                order: 5,
              },
            ]),
      ],
    },
    options: {
      // Points that travel to their places while the labels stand would be wrong places for as long as it lasts.
      animation: false,
      responsive: true,
      maintainAspectRatio: false,
      layout: {
        padding: ({ chart: { ctx, width } }) => {
          const right = narrow(width) ? 12 : (drawn.right * width) / drawn.width;
          const names = phaseNames(
            ctx,
            chart,
            width,
            (day) =>
              leftRoom(chart.unit) +
              ((day - chart.fromDay) / (chart.toDay - chart.fromDay)) *
                (width - leftRoom(chart.unit) - right),
          );
          return { top: 6 + rowHeight * Math.max(1, 1 + Math.max(...names.map(({ row }) => row))), right };
        },
      },
      onClick: (_event, elements) => {
        const hit = elements[0];
        const page = hit && placeOf(hit.datasetIndex, hit.index)?.page;
        if (page) onOpen(page);
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
          min: lowest,
          max: 1,
          // The same room as in the drawing of the server, so that what stands below it stands below its points.
          afterFit: (axis) => {
            const { width } = axis.chart;
            if (!narrow(width))
              axis.width = Math.max(axis.width, (leftRoom(chart.unit) * width) / drawn.width);
          },
          afterBuildTicks: (axis) => {
            axis.ticks = chart.axis.ticks.map(({ value }) => ({ value: heightOf(chart.axis, value) }));
          },
          title: { display: true, text: chart.axisTitle, color: colors.soft, font: { size: 12 }, padding: 2 },
          border: { display: false },
          grid: { color: colors.hair, drawTicks: false },
          ticks: {
            autoSkip: false,
            color: colors.ink,
            font: { size: 12 },
            padding: 6,
            callback: (_, index) => chart.axis.ticks[index]?.label ?? "",
          },
        },
      },
      plugins: {
        legend: { display: false },
        tooltip: {
          filter: ({ dataset }) => dataset.label === tellsSomething,
          displayColors: false,
          backgroundColor: colors.ink,
          titleColor: colors.paper,
          bodyColor: colors.paper,
          callbacks: {
            label: ({ datasetIndex, dataIndex }) => placeOf(datasetIndex, dataIndex)?.label ?? "",
          },
        },
      },
    },
  });
}
