import { useEffect, useRef } from "react";
import type { FluencyMeasure } from "#core/measures/fluency/fluency.ts";
import { isRunning, secondsOn, stretches } from "#core/marks/mark.ts";
import { plural } from "#core/words/numbers.ts";
import { clockTime } from "#core/words/read-time.ts";
import { valueAt } from "#app/recording/sitting/sheet.ts";
import { mark, useNow } from "#app/recording/sitting/use-sitting.ts";
import type { PadProps } from "../pad.ts";
import { signal } from "../signal.ts";
import { Whose } from "../whose.tsx";

export function FluencyPad({ measure, sheet, store }: PadProps<FluencyMeasure>) {
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
            <Whose />
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
          <span>
            {plural(errors, "error")}
            <Whose />
          </span>
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
