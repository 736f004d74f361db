import { writing } from "#core/words/formats.ts";
import { useEffect, useRef, useState } from "react";
import { fixed, plural } from "#core/words/numbers.ts";
import { authorize } from "#server/access/authorize.ts";
import type { FromWorker } from "./figures-worker.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import type { Route } from "./+types/figures";

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "figures.read", null, () => Promise.resolve(null));
}

type State =
  | { is: "empty" }
  | { is: "computing"; name: string; done: number; of: number | null }
  | { is: "wrong"; name: string; problem: string }
  | { is: "there"; name: string; result: Extract<FromWorker, { rows: unknown }>; address: string };

const digits = (value: number | null) => (value === null ? "–" : fixed(value, 3));

/** Computes the figures of a file on this device, so that a number can be checked. */
export default function Figures() {
  const [state, setState] = useState<State>({ is: "empty" });
  const worker = useRef<Worker | null>(null);
  useEffect(() => () => worker.current?.terminate(), []);
  const address = state.is === "there" ? state.address : null;
  useEffect(() => () => (address === null ? undefined : URL.revokeObjectURL(address)), [address]);
  function stop(): void {
    worker.current?.terminate();
    worker.current = null;
    setState({ is: "empty" });
  }
  function compute(file: File): void {
    worker.current?.terminate();
    const { name } = file;
    const made = new Worker(new URL("./figures-worker.ts", import.meta.url), {
      type: "module",
      name: writing.locale,
    });
    worker.current = made;
    setState({ is: "computing", name, done: 0, of: null });
    made.addEventListener("message", ({ data }: MessageEvent<FromWorker>) => {
      if (worker.current !== made) return;
      if ("done" in data) setState({ is: "computing", name, ...data });
      else if ("problem" in data) setState({ is: "wrong", name, problem: data.problem });
      else setState({ is: "there", name, result: data, address: URL.createObjectURL(data.file) });
    });
    made.addEventListener("error", () =>
      setState({
        is: "wrong",
        name,
        problem: "The computation could not be started. Reload the page and choose the file again.",
      }),
    );
    made.postMessage(file);
  }
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <header className="mb-3 border-b border-base-300 pb-3">
        <PageTitle title="Numbers from a file" />
      </header>
      <p className="max-w-[46rem]">
        Check any figure yourself, from the CSV of a goal’s page or one of your own. It is computed on this
        device and sent nowhere.
      </p>
      <p className="mt-1 max-w-[46rem] text-fine text-soft">
        Columns: series, date (YYYY-MM-DD), phase, value; and if wanted direction (increase or decrease),
        criterion, window (2 of 3, 3 consecutive, 1), due. The phase named baseline is the baseline.
      </p>
      <noscript>
        <p className="mt-3">This page needs scripts, which this browser has switched off.</p>
      </noscript>
      <div className="with-scripts mt-4">
        <label className="block w-fit">
          <span className="mb-1 block text-fine font-bold">The file</span>
          <input
            type="file"
            accept=".csv,text/csv"
            className="block rounded-lg file:mr-3 file:h-11 file:cursor-pointer file:rounded-lg file:border file:border-soft file:bg-raised file:px-4 file:font-bold"
            aria-describedby="figures-say"
            aria-invalid={state.is === "wrong" ? true : undefined}
            onChange={({ target }) => {
              const [file] = target.files ?? [];
              // The same file can be chosen again once it was mended.
              target.value = "";
              if (file) compute(file);
            }}
          />
        </label>
      </div>
      <div id="figures-say" role="status" className="mt-3">
        {state.is === "computing" ? (
          <p className="flex flex-wrap items-center gap-3">
            <progress
              className="progress w-56"
              aria-label="Series computed"
              {...(state.of === null ? {} : { value: state.done, max: state.of })}
            />
            {state.of === null ? `Reading ${state.name} …` : `${state.done} of ${state.of} series`}
            <button type="button" className="btn btn-plain btn-sm" onClick={stop}>
              Stop
            </button>
          </p>
        ) : null}
        {state.is === "wrong" ? (
          <p className="font-bold text-error">
            {state.name}: {state.problem}
          </p>
        ) : null}
        {state.is === "there" ? (
          <p>
            {state.name}: {state.result.of} {plural(state.result.of, "series", "series")}
            {state.result.rows.length < state.result.of
              ? `, the first ${state.result.rows.length} are listed`
              : ""}
            .{" "}
            <a
              className="link"
              href={state.address}
              download={`${state.name.replace(/\.csv$/i, "")}-figures.json`}
            >
              All figures as JSON
            </a>
          </p>
        ) : null}
      </div>
      {state.is === "there" ? (
        <div className="mt-3 overflow-x-auto" tabIndex={0} role="group" aria-label="The figures">
          <table className="w-full text-left text-[0.9375rem] tabular-nums">
            <thead className="text-fine text-soft">
              <tr>
                {[
                  "Series",
                  "Points",
                  "A week (Theil–Sen)",
                  "95% interval",
                  "Criterion",
                  "Four-point",
                  "NAP",
                ].map((head) => (
                  <th key={head} scope="col" className="py-1 pr-4 font-bold">
                    {head}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {state.result.rows.map(
                ({ series, n, weekly, low, high, reached, hasCriterion, fourPoint, nap }) => (
                  <tr key={series} className="border-t border-base-300">
                    <th scope="row" className="py-1 pr-4 font-normal" dir="auto">
                      {series}
                    </th>
                    <td className="py-1 pr-4">{n}</td>
                    <td className="py-1 pr-4">{digits(weekly)}</td>
                    <td className="py-1 pr-4">{low === null ? "–" : `${digits(low)} to ${digits(high)}`}</td>
                    <td className="py-1 pr-4">
                      {hasCriterion ? (reached ? `reached ${reached}` : "not reached") : "none"}
                    </td>
                    <td className="py-1 pr-4">{fourPoint ?? "–"}</td>
                    <td className="py-1 pr-4">{digits(nap)}</td>
                  </tr>
                ),
              )}
            </tbody>
          </table>
        </div>
      ) : null}
    </main>
  );
}
