import type { ReactElement } from "react";
import { renderToStaticMarkup } from "react-dom/server";
import type { ReportBlock } from "#core/report/document.ts";
import type { Drawing } from "#server/exports/word.ts";
import { ChartDrawing } from "#app/report/chart-drawing.tsx";
import { StepDrawing } from "#app/report/jots-section.tsx";
import { WeeksDrawing } from "#app/report/weeks-drawing.tsx";
import { fileStyle } from "#app/ui/chart-file.ts";

/** On white paper, with the typefaces that programs for documents have. */
const style = `${fileStyle}.stroke-base-100{stroke:#fbf8f1}`
  .replaceAll("#fbf8f1", "#ffffff")
  .replace('"Atkinson Hyperlegible Next",Verdana', "Verdana,DejaVu Sans,Liberation Sans");

function alone(drawn: ReactElement, description: string): Drawing | null {
  const [svg] = /<svg[\s\S]*<\/svg>/.exec(renderToStaticMarkup(drawn)) ?? [];
  const [, box] = /viewBox="0 0 ([\d.]+ [\d.]+)"/.exec(svg ?? "") ?? [];
  if (svg === undefined || box === undefined) return null;
  const [width = 0, height = 0] = box.split(" ").map(Number);
  return {
    ...{ width, height, description },
    svg: svg.replace(
      /^<svg[^>]*>/,
      `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" width="${width}" height="${height}"><style>${style}</style><rect width="100%" height="100%" fill="#ffffff"/>`,
    ),
  };
}

/** What is drawn in a block of a report, as a picture of its own: the same drawing as on the page. Null where nothing is. */
export function drawingOf(block: ReportBlock): Drawing | null {
  switch (block.kind) {
    case "goal":
      return block.chart && alone(<ChartDrawing {...block.chart} />, block.chart.description);
    case "jots":
      return block.chart && alone(<StepDrawing {...block.chart} />, block.chart.description);
    case "weeks":
      return alone(
        <WeeksDrawing weeks={block} />,
        [block.title, ...block.weeks.map(({ label }) => label)].join(". "),
      );
    default:
      return null;
  }
}
