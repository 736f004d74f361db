import { lazy, Suspense, useEffect, useMemo, useRef, useState } from "react";
import { aboutPoints, type ChartMark, type ProgressChart } from "#core/chart/chart.ts";
import type { ShareStack } from "#core/chart/share-stack.ts";
import { markWords, Shape, styleOfMark, styleOfShape } from "./chart-shapes.tsx";
import { ProgressChartSvg } from "./progress-chart.tsx";
import { ShareKey, ShareStackSvg } from "./share-stack.tsx";

const ProgressCanvas = lazy(() => import("./progress-canvas.tsx"));

/** From the widest to the closest. */
const spans = [
  ["all", "to the due date"],
  ["points", "so far"],
  ["phase", "this phase"],
  ["56", "8 weeks"],
  ["28", "4 weeks"],
] as const;
type Span = (typeof spans)[number][0];

function inSpan(chart: ProgressChart, span: Span): ProgressChart {
  const days = chart.runs.flat().map(({ day }) => day);
  const [first, last] = [days[0], days.at(-1)];
  if (span === "all" || first === undefined || last === undefined) return chart;
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
  const kinds = [...new Set(chart.marks.map(({ kind }) => kind))];
  const items: { form: Parameters<typeof Shape>[0]["form"]; className: string; words: string }[] = [
    ...chart.shapes.map((words, at) => ({
      form: styleOfShape(at),
      className: "fill-data stroke-data",
      words,
    })),
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
      {hasBand ? <span>Around a trend line: the 95&nbsp;% interval of its slope.</span> : null}
    </p>
  );
}

/** The canvas on paper of the page's own color, as a picture to keep. */
function savePicture(canvas: HTMLCanvasElement, name: string): void {
  const paper = document.createElement("canvas");
  paper.width = canvas.width;
  paper.height = canvas.height;
  const ctx = paper.getContext("2d");
  if (!ctx) return;
  ctx.fillStyle = getComputedStyle(document.body).backgroundColor;
  ctx.fillRect(0, 0, paper.width, paper.height);
  ctx.drawImage(canvas, 0, 0);
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
  files: { path: string; name: string };
  onOpen: (page: string) => void;
}) {
  const [idle, setIdle] = useState(false);
  const [span, setSpan] = useState<Span>("all");
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
  const closer = (by: number) => {
    const at = spans.findIndex(([key]) => key === span);
    setSpan(spans[Math.min(spans.length - 1, Math.max(0, at + by))]?.[0] ?? "all");
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
        <Suspense fallback={drawing}>
          <ProgressCanvas chart={chart} description={description} onOpen={onOpen} />
        </Suspense>
      ) : (
        drawing
      )}
      {shares ? (
        <>
          <ShareStackSvg stack={shares} fromDay={chart.fromDay} toDay={chart.toDay} left={34} />
          <ShareKey stack={shares} studentId={studentId} />
        </>
      ) : null}
      <Key chart={chart} />
      <div className="no-print mt-1 flex flex-wrap items-center gap-x-4 gap-y-1 text-fine">
        {hasPoints ? (
          <div role="group" aria-label="Span of the chart" className="with-scripts flex flex-wrap gap-1">
            {spans.map(([key, words]) => (
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
          </div>
        ) : null}
        <span className="ml-auto flex flex-wrap gap-x-3 text-soft max-sm:ml-0">
          Take away:
          <button
            type="button"
            className="link with-scripts"
            onClick={() => {
              const canvas = frame.current?.querySelector("canvas");
              if (canvas) savePicture(canvas, files.name);
            }}
          >
            PNG
          </button>
          <a className="link" href={`${files.path}/chart.svg`} download>
            SVG
          </a>
          <a className="link" href={`${files.path}/points.csv`} download>
            CSV
          </a>
        </span>
      </div>
    </div>
  );
}
