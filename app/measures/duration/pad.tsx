import type { DurationMeasure } from "#core/measures/duration/duration.ts";
import { isRunning, secondsBetween, secondsOn, stretches } from "#core/marks/mark.ts";
import { lengthOfTime } from "#core/words/amounts.ts";
import { plural } from "#core/words/numbers.ts";
import { clockTime } from "#core/words/read-time.ts";
import { valueAt } from "#app/recording/sitting/sheet.ts";
import { mark, useNow } from "#app/recording/sitting/use-sitting.ts";
import { ClockButton, TypedTime } from "../clock.tsx";
import type { PadProps } from "../pad.ts";
import { Whose } from "../whose.tsx";

export function DurationPad({ measure, sheet, store }: PadProps<DurationMeasure>) {
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
      <p className="flex items-baseline gap-2">
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
              <Whose />
            </span>
            <span className="font-serif">{clockTime(Math.floor(secondsOn(watch, now)))}</span>
          </button>
          {watch.length === 0 ? <TypedTime sheet={sheet} store={store} /> : null}
        </div>
      ) : null}
    </div>
  );
}
