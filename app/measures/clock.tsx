import { clockTime, readLengthOfTime } from "#core/words/read-time.ts";
import type { Sheet } from "#core/sync/kept.ts";
import { valueAt } from "#app/recording/sitting/sheet.ts";
import type { PadStore } from "./pad.ts";
import { mark } from "#app/recording/sitting/use-sitting.ts";
import { useState } from "react";
import { Whose } from "./whose.tsx";

/** Starts and stops one clock of a panel; the space bar does too. */
export function ClockButton({
  sheet,
  store,
  clock,
  seconds,
  running,
  start,
  stop,
  big = false,
}: {
  sheet: Sheet;
  store: PadStore;
  clock: string;
  seconds: number;
  running: boolean;
  start: string;
  stop: string;
  big?: boolean;
}) {
  return (
    <button
      type="button"
      data-key=" "
      aria-pressed={running}
      className={`pad w-full cursor-pointer ${big ? "" : "min-h-14! flex-row! gap-3!"} ${running ? "border-data bg-data text-base-100" : "border-base-300 bg-raised"}`}
      onClick={() => mark(store, sheet.goal.goalId, clock, running ? "stop" : "start")}
    >
      <span className={`font-serif ${big ? "text-3xl" : "text-xl"}`}>{clockTime(Math.floor(seconds))}</span>
      <span>
        {running ? stop : start}
        <Whose />
      </span>
      <span className={`pad-key ${running ? "" : "text-soft"}`}>space</span>
    </button>
  );
}

/** A time that was read off another clock. */
export function TypedTime({ sheet, store }: { sheet: Sheet; store: PadStore }) {
  const seconds = valueAt(sheet, "observed");
  const [text, setText] = useState(seconds === "" ? "" : clockTime(Number(seconds)));
  const read = readLengthOfTime(text);
  return (
    <label className="grid gap-1 text-fine text-soft">
      or observed for
      <input
        className="input w-full"
        inputMode="text"
        placeholder="20 min or 4:10"
        value={text}
        onChange={({ target }) => {
          setText(target.value);
          const now = readLengthOfTime(target.value);
          mark(store, sheet.goal.goalId, "observed", now === null || now <= 0 ? "" : String(now));
        }}
      />
      {text.trim() !== "" && read === null ? (
        <span className="font-bold text-error">Write a time as 4:10, 45 s or 20 min.</span>
      ) : null}
    </label>
  );
}
