import { writing } from "#core/words/formats.ts";
import { previewChart, type PreviewQuestion } from "./preview-chart.ts";

// A page names its worker by its locale.
writing.locale = self.name;

/** Works out the chart of a long series away from the page on which its goal is being set up. */
addEventListener("message", ({ data }: MessageEvent<PreviewQuestion>) => postMessage(previewChart(data)));
