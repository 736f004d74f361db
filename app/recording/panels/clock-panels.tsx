import { useEffect, useRef } from "react";
import type { DurationMeasure } from "#core/measures/duration/duration.ts";
import type { FluencyMeasure } from "#core/measures/fluency/fluency.ts";
import type { LatencyMeasure } from "#core/measures/latency/latency.ts";
import { isRunning, secondsBetween, secondsOn, stretches } from "#core/marks/mark.ts";
import { lengthOfTime } from "#core/words/amounts.ts";
import { plural } from "#core/words/numbers.ts";
import { clockTime } from "#core/words/read-time.ts";
import { valueAt } from "../sitting/sheet.ts";
import { mark, useNow } from "../sitting/use-sitting.ts";
import { ClockButton, TypedTime } from "./clock.tsx";
import type { SittingPanel } from "./panel.ts";
import { signal } from "./signal.ts";

export function DurationPad({ measure, sheet, store }: SittingPanel<DurationMeasure>) {
  const { goalId } = sheet.goal;
  const bouts = stretches(sheet.marks, "bout");
  const running = isRunning(sheet.marks, "bout");
  const watch = stretches(sheet.marks, "clock");
  const watching = isRunning(sheet.marks, "clock");
  const now = useNow(running || watching);
  const last = bouts.at(-1);
  const none = valueAt(sheet, "none") === "1";
  return (
    <div className="grid gap-3">
      <ClockButton
        sheet={sheet}
        store={store}
        clock="bout"
        seconds={running && last ? secondsBetween(last.from, now) : 0}
        running={running}
        start="A bout begins"
        stop="It stopped"
        big
      />
      <p className="flex items-baseline gap-2" role="status">
        <span>{bouts.length === 0 ? "No bout yet" : `${bouts.length} ${plural(bouts.length, "bout")}`}</span>
        <span className="ml-auto text-fine text-soft">
          {lengthOfTime(Math.floor(secondsOn(bouts, now)))} in all
        </span>
      </p>
      {bouts.length > 0 ? (
        <ol className="flex flex-wrap gap-1.5 text-fine" aria-label="Bouts">
          {bouts.map(({ from, to }) => (
            <li key={from} className="rounded-md border border-base-300 px-2 py-0.5">
              {to === null ? "running" : clockTime(Math.round(secondsBetween(from, to)))}
            </li>
          ))}
        </ol>
      ) : (
        <label className="flex min-h-11 items-center gap-2.5">
          <input
            type="checkbox"
            className="size-5 accent-primary"
            checked={none}
            onChange={() => mark(store, goalId, "none", none ? "" : "1")}
          />
          Observed, and there was none
        </label>
      )}
      {measure.report === "share" ? (
        <div className="grid gap-2 border-t border-base-300 pt-3">
          <button
            type="button"
            data-key="9"
            aria-pressed={watching}
            className="btn btn-plain h-11 justify-between"
            onClick={() => mark(store, goalId, "clock", watching ? "stop" : "start")}
          >
            <span>
              {watching ? "Stop observing" : watch.length > 0 ? "Go on observing" : "Start observing"}
            </span>
            <span className="font-serif">{clockTime(Math.floor(secondsOn(watch, now)))}</span>
          </button>
          {watch.length === 0 ? <TypedTime sheet={sheet} store={store} /> : null}
        </div>
      ) : null}
    </div>
  );
}

export function LatencyPad({ measure, sheet, store }: SittingPanel<LatencyMeasure>) {
  const { goalId } = sheet.goal;
  const last = sheet.marks.findLast(({ on }) => ["signal", "response", "no response"].includes(on));
  const waiting = last?.on === "signal";
  const now = useNow(waiting);
  const seconds = waiting ? secondsBetween(last.at, now) : 0;
  const answers = sheet.marks.flatMap((one, index): { at: number; said: string }[] => {
    if (one.on === "no response") return [{ at: one.at, said: "no response" }];
    const before = sheet.marks.slice(0, index).findLast(({ on }) => on !== "note");
    return one.on === "response" && before?.on === "signal"
      ? [{ at: one.at, said: `${secondsBetween(before.at, one.at)} s` }]
      : [];
  });
  return (
    <div className="grid gap-3">
      <div className="grid grid-cols-[2fr_1fr] gap-2.5">
        <button
          type="button"
          data-key=" "
          className={`pad cursor-pointer ${waiting ? "border-data bg-data text-base-100" : "border-base-300 bg-raised"}`}
          onClick={() => mark(store, goalId, waiting ? "response" : "signal")}
        >
          <span className="font-serif text-3xl">{clockTime(Math.floor(seconds))}</span>
          <span>{waiting ? "Response" : "Signal given"}</span>
          <span className={`pad-key ${waiting ? "" : "text-soft"}`}>space</span>
        </button>
        <button
          type="button"
          data-key="0"
          className="pad cursor-pointer border-dashed border-soft bg-raised"
          onClick={() => mark(store, goalId, "no response")}
        >
          <span>No response</span>
          <span className="pad-key text-soft">0</span>
        </button>
      </div>
      {measure.report === "within" && measure.withinSeconds ? (
        <p className="text-fine text-soft">In time is within {lengthOfTime(measure.withinSeconds)}.</p>
      ) : null}
      <p className="sr-only" role="status">
        {answers.at(-1)?.said ?? ""}
      </p>
      <ol className="flex flex-wrap gap-1.5 text-fine" aria-label="Delays">
        {answers.map(({ at, said }) => (
          <li key={at} className="rounded-md border border-base-300 px-2 py-0.5">
            {said}
          </li>
        ))}
      </ol>
    </div>
  );
}

export function FluencyPad({ measure, sheet, store }: SittingPanel<FluencyMeasure>) {
  const { goalId } = sheet.goal;
  const planned = measure.plannedSeconds ?? 60;
  const clock = stretches(sheet.marks, "clock");
  const running = isRunning(sheet.marks, "clock");
  const now = useNow(running);
  const seconds = secondsOn(clock, now);
  const over = seconds >= planned;
  const errors = sheet.marks.filter(({ on }) => on === "error").length;
  const what = measure.counted ?? "words";
  const told = useRef(over);
  useEffect(() => {
    if (over && running && !told.current) signal();
    told.current = over;
  }, [over, running]);
  return (
    <div className="grid gap-3">
      <div className="grid grid-cols-[2fr_1fr] gap-2.5">
        <button
          type="button"
          data-key=" "
          aria-pressed={running && !over}
          className={`pad cursor-pointer ${running && !over ? "border-data bg-data text-base-100" : "border-base-300 bg-raised"}`}
          disabled={over}
          onClick={() => mark(store, goalId, "clock", running ? "stop" : "start")}
        >
          <span className="font-serif text-3xl">{clockTime(Math.max(0, Math.ceil(planned - seconds)))}</span>
          <span>
            {over ? "Time is over" : running ? "Stop here" : clock.length > 0 ? "Go on" : "Start reading"}
          </span>
          <span className={`pad-key ${running && !over ? "" : "text-soft"}`}>space</span>
        </button>
        <button
          type="button"
          data-key="0"
          className="pad cursor-pointer border-dashed border-soft bg-raised"
          onClick={() => mark(store, goalId, "error")}
        >
          <span className="font-serif text-3xl">{errors}</span>
          <span>{plural(errors, "error")}</span>
          <span className="pad-key text-soft">0</span>
        </button>
      </div>
      <p className="sr-only" role="status">
        {over ? "Time is over" : ""}
      </p>
      <label className="grid gap-1 text-[0.9375rem] font-bold">
        {what.charAt(0).toUpperCase() + what.slice(1)} reached
        <input
          className="input h-11 w-full"
          inputMode="numeric"
          value={valueAt(sheet, "last")}
          onChange={({ target }) => mark(store, goalId, "last", target.value)}
        />
      </label>
    </div>
  );
}
