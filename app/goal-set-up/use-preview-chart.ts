import { writing } from "#core/words/formats.ts";
import { useEffect, useState } from "react";
import { type PreviewChart, previewChart, type PreviewQuestion } from "./preview-chart.ts";

/** So many points are worked out within a frame on a slow tablet; more of them in a worker. */
const withinAFrame = 250;
/** Whoever types has typed on by then. */
const typing = 150;

/** The chart of a set-up while it is being written. Of a long series it comes a moment later: null until then for the first time. */
export function usePreviewChart(question: PreviewQuestion): PreviewChart | null {
  const isLong = question.figures.length > withinAFrame;
  const [answer, setAnswer] = useState<PreviewChart | null>(null);
  const asked = isLong ? JSON.stringify(question) : null;
  useEffect(() => {
    if (asked === null) return;
    let worker: Worker | undefined;
    const timer = setTimeout(() => {
      worker = new Worker(new URL("./preview-worker.ts", import.meta.url), {
        type: "module",
        name: writing.locale,
      });
      worker.addEventListener("message", ({ data }: MessageEvent<PreviewChart>) => {
        setAnswer(data);
        worker?.terminate();
      });
      // Where no worker can be started it is computed here, which is slow and works.
      worker.addEventListener("error", () => setAnswer(previewChart(JSON.parse(asked) as PreviewQuestion)));
      worker.postMessage(JSON.parse(asked));
    }, typing);
    // What is asked anew is not answered for what stood there before.
    return () => {
      clearTimeout(timer);
      worker?.terminate();
    };
  }, [asked]);
  return isLong ? answer : previewChart(question);
}
