import { writing } from "#core/words/formats.ts";
import { InputError } from "#core/files/input-error.ts";
import { readSeries } from "#core/files/read-series.ts";
import { seriesReport } from "#core/files/series-report.ts";
import { type SeriesRow, seriesRow } from "#core/files/series-row.ts";

// A page names its worker by its locale.
writing.locale = self.name;

export type FromWorker =
  | { done: number; of: number }
  | { problem: string }
  /** Of many series only the first are listed; a file is handed over without being copied. */
  | { rows: SeriesRow[]; of: number; file: Blob };

const mostListed = 100;
const steps = 100;

const tell = (message: FromWorker) => postMessage(message);

/** Computes every figure of every series of a file in a worker. The page ends the worker to cancel. */
addEventListener("message", ({ data }: MessageEvent<File>) => {
  void (async () => {
    try {
      const series = readSeries(await data.text());
      const every = Math.max(1, Math.floor(series.length / steps));
      const reports = series.map((one, at) => {
        if (at % every === 0) tell({ done: at, of: series.length });
        return seriesReport(one);
      });
      tell({
        rows: reports.slice(0, mostListed).map(seriesRow),
        of: reports.length,
        file: new Blob([`${JSON.stringify({ series: reports }, null, 2)}\n`], { type: "application/json" }),
      });
    } catch (error) {
      tell({
        problem:
          error instanceof InputError
            ? `Line ${error.line}: ${error.message}.`
            : "This file cannot be read. It has to be a CSV as a goal’s page gives it away.",
      });
    }
  })();
});
