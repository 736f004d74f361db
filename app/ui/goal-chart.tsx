import { lazy, Suspense, useEffect, useState } from "react";
import type { ProgressChart } from "#core/chart/progress-chart.ts";
import { ProgressChartSvg } from "./progress-chart.tsx";

const ProgressCanvas = lazy(() => import("./progress-canvas.tsx"));

/** The drawing at once; the chart to point at and step through once the page is readable and the browser has a moment. */
export function GoalChart({
  chart,
  description,
  onOpen,
}: {
  chart: ProgressChart;
  description: string;
  onOpen: (entryId: string) => void;
}) {
  const [idle, setIdle] = useState(false);
  useEffect(() => {
    const later =
      "requestIdleCallback" in window ? window.requestIdleCallback(() => setIdle(true)) : undefined;
    if (later === undefined) setIdle(true);
    return () => {
      if (later !== undefined) window.cancelIdleCallback(later);
    };
  }, []);
  const drawing = <ProgressChartSvg chart={chart} description={description} />;
  return idle ? (
    <Suspense fallback={drawing}>
      <ProgressCanvas chart={chart} description={description} onOpen={onOpen} />
    </Suspense>
  ) : (
    drawing
  );
}
