import { readSeriesToDecide } from "#core/files/read-series.ts";
import { decideReport } from "#core/files/decide-report.ts";

/** `figures decide`: a CSV of series in; where each stands, its trend, its pace and what is advised out. */
export function figuresDecide(text: string, { json }: { json: boolean }): string {
  const series = readSeriesToDecide(text).map(decideReport);
  if (json) return `${JSON.stringify({ series }, null, 2)}\n`;
  return series
    .map(
      ({ series: name, sentences }) =>
        `${[name, ...sentences.map((sentence) => `  ${sentence}`)].join("\n")}\n`,
    )
    .join("");
}
