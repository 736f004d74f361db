import { lazy, Suspense, useEffect, useMemo, useRef, useState } from "react";
import { aboutPoints, type ChartMark, mostlyPoints, type ProgressChart, zoomed } from "#core/chart/chart.ts";
import { legendOf } from "#core/chart/legend.ts";
import type { ShareStack } from "#core/chart/share-stack.ts";
import { leftRoom } from "#core/chart/words-beside.ts";
import { headHeight, legendLines, lineHeight } from "./chart-file.ts";
import { markWords, Shape, styleOfMark, styleOfShape } from "./chart-shapes.tsx";
import { ProgressChartSvg } from "./progress-chart.tsx";
import { ShareKey, ShareStackSvg } from "./share-stack.tsx";

const ProgressCanvas = lazy(() => import("./progress-canvas.tsx"));

/** From the widest to the closest. */
const spans = [
  ["whole", "Full span"],
  ["all", "Through due date"],
  ["points", "To date"],
  ["phase", "This phase"],
  ["56", "8 weeks"],
  ["28", "4 weeks"],
] as const;
/** One of these, or the key of a reporting period. */
type Span = string;

function inSpan(chart: ProgressChart, span: Span): ProgressChart {
  const period = chart.periods.find(({ key }) => key === span);
  if (period) return zoomed(chart, period.fromDay - 1, period.toDay + 1);
  const days = chart.runs.flat().map(({ day }) => day);
  const [first, last] = [days[0], days.at(-1)];
  if (span === "whole" || first === undefined || last === undefined) return chart;
  if (span === "all") return mostlyPoints(chart);
  const from =
    span === "points"
      ? first
      : span === "phase"
        ? (chart.phases.filter(({ day }) => day <= last).at(-1)?.day ?? first)
        : last - Number(span);
  return aboutPoints(chart, from);
}

/** What the shapes of a chart stand for, where they are not plain. */
function Key({ chart }: { chart: ProgressChart }) {
  const points = chart.runs.flat();
  const kinds = [...new Set(chart.marks.map(({ kind }) => kind))];
  const items: { form: Parameters<typeof Shape>[0]["form"]; className: string; words: string }[] = [
    ...chart.shapes.map((words, at) => ({
      form: styleOfShape(at),
      className: "fill-data stroke-data",
      words,
    })),
    ...(points.some(({ hollow }) => hollow)
      ? [{ form: "circle" as const, className: "fill-base-100 stroke-soft", words: "not counted" }]
      : []),
    ...(chart.edges.length > 0
      ? [{ form: "triangle" as const, className: "fill-base-100 stroke-data", words: "no figure" }]
      : []),
    ...(chart.met
      ? [{ form: "rectRot" as const, className: "fill-none stroke-base-content", words: chart.met.label }]
      : []),
    ...kinds.map((kind: ChartMark["kind"]) => ({
      form: styleOfMark[kind],
      className: `stroke-soft ${kind === "not measured" ? "fill-base-100" : "fill-soft"}`,
      words: markWords[kind],
    })),
  ];
  const hasBand = chart.trends.some(({ band }) => band !== null);
  if (items.length === 0 && !hasBand) return null;
  return (
    <p className="flex flex-wrap gap-x-4 gap-y-1 text-fine text-soft">
      {items.map(({ form, className, words }) => (
        <span key={words} className="inline-flex items-center gap-1.5">
          <svg viewBox="0 0 12 12" className="size-3" aria-hidden="true">
            <Shape form={form} x={6} y={6} r={3.8} className={className} />
          </svg>
          {words}
        </span>
      ))}
      {hasBand ? <span>Around a trend line: the 95% interval of its slope.</span> : null}
    </p>
  );
}

/** The canvas on paper of the page's own color, as a picture to keep. */
function savePicture(
  canvas: HTMLCanvasElement,
  { name, head, legend }: { name: string; head: string; legend: readonly string[] },
): void {
  const paper = document.createElement("canvas");
  const scale = canvas.width / (canvas.clientWidth || canvas.width);
  const lines = legendLines(legend);
  paper.width = canvas.width;
  paper.height = canvas.height + scale * (headHeight + lineHeight * lines.length + 8);
  const ctx = paper.getContext("2d");
  if (!ctx) return;
  const { backgroundColor, color, fontFamily } = getComputedStyle(document.body);
  ctx.fillStyle = backgroundColor;
  ctx.fillRect(0, 0, paper.width, paper.height);
  ctx.drawImage(canvas, 0, scale * headHeight);
  ctx.fillStyle = color;
  ctx.font = `700 ${12 * scale}px ${fontFamily}`;
  ctx.fillText(head, 12 * scale, 18 * scale);
  ctx.font = `400 ${12 * scale}px ${fontFamily}`;
  lines.forEach((line, at) => {
    ctx.fillText(line, 12 * scale, canvas.height + scale * (headHeight + lineHeight * (at + 1)));
  });
  paper.toBlob((blob) => {
    if (!blob) return;
    const link = document.createElement("a");
    link.href = URL.createObjectURL(blob);
    link.download = `${name}.png`;
    link.click();
    URL.revokeObjectURL(link.href);
  });
}

/** The drawing at once; the chart to point at and step through once the page is readable and the browser has a moment. */
export function GoalChart({
  chart: whole,
  shares,
  description,
  studentId,
  files,
  onOpen,
}: {
  chart: ProgressChart;
  shares: ShareStack | null;
  description: string;
  studentId: string;
  /** Where its files are, and what they are called. */
  files: { path: string; name: string; heads: { initials: string; full: string } };
  onOpen: (page: string) => void;
}) {
  const [idle, setIdle] = useState(false);
  const [span, setSpan] = useState<Span>("all");
  const [isNamed, setNamed] = useState(false);
  const frame = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const later =
      "requestIdleCallback" in window ? window.requestIdleCallback(() => setIdle(true)) : undefined;
    if (later === undefined) setIdle(true);
    return () => {
      if (later !== undefined) window.cancelIdleCallback(later);
    };
  }, []);
  const chart = useMemo(() => inSpan(whole, span), [whole, span]);
  const drawing = <ProgressChartSvg chart={chart} description={description} />;
  const hasPoints = whole.runs.length > 0;
  // The full span is offered where the points would have less than half of it.
  const offered = spans.filter(([key]) => key !== "whole" || mostlyPoints(whole) !== whole);
  const query = isNamed ? "?name=full" : "";
  const closer = (by: number) => {
    const at = offered.findIndex(([key]) => key === span);
    setSpan(offered[Math.min(offered.length - 1, Math.max(0, at + by))]?.[0] ?? "all");
  };
  return (
    <div
      ref={frame}
      onKeyDown={({ key, ctrlKey, metaKey, altKey }) => {
        if (ctrlKey || metaKey || altKey || !hasPoints) return;
        if (key === "+") closer(1);
        else if (key === "-") closer(-1);
      }}
    >
      {idle ? (
        <>
          <div className="no-print">
            <Suspense fallback={drawing}>
              <ProgressCanvas chart={chart} description={description} onOpen={onOpen} />
            </Suspense>
          </div>
          {/* Paper has the drawing: its lines and letters are sharp at any size. */}
          <figure className="print-block">{drawing}</figure>
        </>
      ) : (
        drawing
      )}
      {shares ? (
        <>
          <ShareStackSvg
            stack={shares}
            fromDay={chart.fromDay}
            toDay={chart.toDay}
            left={leftRoom(chart.unit)}
          />
          <ShareKey stack={shares} studentId={studentId} />
        </>
      ) : null}
      <Key chart={chart} />
      <div className="no-print mt-1 flex flex-wrap items-center gap-x-4 gap-y-1 text-fine">
        {hasPoints ? (
          <div role="group" aria-label="Span of the chart" className="with-scripts flex flex-wrap gap-1">
            {offered.map(([key, words]) => (
              <button
                key={key}
                type="button"
                className="rounded-lg border border-transparent px-2 py-1 text-soft hover:bg-base-200 aria-pressed:border-base-content aria-pressed:font-bold aria-pressed:text-base-content"
                aria-pressed={span === key}
                onClick={() => setSpan(key)}
              >
                {words}
              </button>
            ))}
            {whole.periods.length > 0 ? (
              <select
                className="select h-8 min-h-8 w-44 pr-8 text-fine"
                aria-label="Reporting period"
                value={whole.periods.some(({ key }) => key === span) ? span : ""}
                onChange={({ target }) => setSpan(target.value || "all")}
              >
                <option value="">Reporting period</option>
                {whole.periods.map(({ key, words }) => (
                  <option key={key} value={key}>
                    {words}
                  </option>
                ))}
              </select>
            ) : null}
          </div>
        ) : null}
        <span className="ml-auto flex flex-wrap items-center gap-x-3 text-soft max-sm:ml-0">
          <label className="with-scripts inline-flex min-h-8 cursor-pointer items-center gap-1.5">
            <input
              type="checkbox"
              className="size-4.5 accent-primary"
              checked={isNamed}
              onChange={({ target }) => setNamed(target.checked)}
            />
            Full name in files
          </label>
          Download:
          <button
            type="button"
            className="link with-scripts"
            onClick={() => {
              const canvas = frame.current?.querySelector("canvas");
              if (!canvas) return;
              const head = isNamed ? files.heads.full : files.heads.initials;
              savePicture(canvas, { name: files.name, head, legend: legendOf(chart) });
            }}
          >
            PNG
          </button>
          <a className="link" href={`${files.path}/chart.svg${query}`} download>
            SVG
          </a>
          <a className="link" href={`${files.path}/points.csv${query}`} download>
            CSV
          </a>
        </span>
      </div>
    </div>
  );
}
