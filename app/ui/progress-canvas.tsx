import type { Chart } from "chart.js";
import { useEffect, useRef, useState } from "react";
import type { ProgressChart } from "#core/chart/chart.ts";
import { drawProgress, placesOf } from "./draw-progress.ts";

/** The chart on a canvas: the same geometry as the drawing, with points that tell and open: a slider over its points, by arrow keys. */
export default function ProgressCanvas({
  chart,
  description,
  onOpen,
}: {
  chart: ProgressChart;
  description: string;
  onOpen: (page: string) => void;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const drawn = useRef<Chart<"scatter"> | null>(null);
  const open = useRef(onOpen);
  const [at, setAt] = useState<number | null>(null);
  const span = `${chart.fromDay} ${chart.toDay}`;
  const [shown, setShown] = useState(span);
  // Another span has other points: stepping begins anew. What arrives meanwhile leaves one where one is.
  if (shown !== span) {
    setShown(span);
    setAt(null);
  }
  const points = chart.runs.flat().filter(({ day }) => chart.fromDay <= day && day <= chart.toDay).length;
  // Points first, from left to right; what stands beside them after.
  const places = placesOf(chart);
  useEffect(() => {
    open.current = onOpen;
  });
  useEffect(() => {
    if (!canvas.current) return;
    const element = canvas.current;
    const scheme = matchMedia("(prefers-color-scheme: dark)");
    const redraw = () => {
      drawn.current?.destroy();
      drawn.current = drawProgress(element, chart, (page) => open.current(page));
    };
    let left = false;
    // Drawn once its letters are there: where a label goes depends on their width.
    void document.fonts.ready.then(() => {
      if (!left) redraw();
    });
    scheme.addEventListener("change", redraw);
    return () => {
      left = true;
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
    drawn.current.draw();
    setAt(index);
  }
  // Before the first step it is at the last point, where most want to begin.
  const now = at ?? Math.max(0, points - 1);
  return (
    <div className="relative aspect-[800/262] min-h-44 w-full">
      <canvas
        ref={canvas}
        role="slider"
        tabIndex={0}
        aria-label={`${description} Arrow keys step through the points, Enter opens one.`}
        aria-valuemin={1}
        aria-valuemax={Math.max(1, places.length)}
        aria-valuenow={now + 1}
        aria-valuetext={places[now]?.label ?? "no point"}
        onKeyDown={(event) => {
          const from = at ?? points;
          if (event.key === "ArrowLeft") step(from - 1);
          else if (event.key === "ArrowRight") step(from + 1);
          else if (event.key === "Home") step(0);
          else if (event.key === "End") step(points - 1);
          else if (event.key === "Enter" && at !== null) {
            const page = places[at]?.page;
            if (page) onOpen(page);
          } else return;
          event.preventDefault();
        }}
      />
    </div>
  );
}
