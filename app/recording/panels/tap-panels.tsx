import { useCallback } from "react";
import { type CountMeasure, scoreCount } from "#core/measures/count/count.ts";
import { scoreWords } from "#core/words/amounts.ts";
import type { SupportsMeasure } from "#core/measures/supports/supports.ts";
import type { TrialsMeasure } from "#core/measures/trials/trials.ts";
import { isRunning, secondsOn, stretches } from "#core/marks/mark.ts";
import { ladderMarks } from "#core/measures/ladder.ts";
import { clockTime } from "#core/words/read-time.ts";
import { mark, useNow } from "../sitting/use-sitting.ts";
import { ClockButton, TypedTime } from "./clock.tsx";
import { leftWords, TrialPad, TrialTally } from "../trial-pad.tsx";
import type { SittingPanel } from "./panel.ts";

export function TrialsPad({ sheet, store }: SittingPanel<TrialsMeasure>) {
  const { planned, goalId } = sheet.goal;
  const marks = sheet.marks.flatMap(({ on, value }) => (on === "trial" ? [value] : [])).join("");
  return (
    <div className="flex flex-1 flex-col gap-3">
      <div>
        <TrialTally marks={marks} planned={planned} />
      </div>
      <TrialPad
        mark={useCallback((value: "0" | "1") => mark(store, goalId, "trial", value), [store, goalId])}
      />
    </div>
  );
}

/** One button a level: each touch is one opportunity; what is left of the planned number is always in view. */
export function SupportsPad({ measure, sheet, store }: SittingPanel<SupportsMeasure>) {
  const levels = sheet.marks.filter(({ on }) => on === "level").map(({ value }) => Number(value));
  const { planned, goalId } = sheet.goal;
  return (
    <div className="grid gap-2">
      <p className="flex items-baseline gap-2">
        <span className="font-serif text-[2rem] leading-none font-semibold">{levels.length}</span>
        <span>{levels.length === 1 ? "opportunity" : "opportunities"}</span>
        {planned === null ? null : (
          <span className="ml-auto text-fine text-soft" role="status">
            {leftWords(levels.length, planned)}
          </span>
        )}
      </p>
      <ul className="grid gap-2">
        {ladderMarks(measure).map((name, index) => {
          const count = levels.filter((level) => level === index).length;
          return (
            <li key={name}>
              <button
                type="button"
                data-key={index < 9 ? index + 1 : undefined}
                className={`mark level-pad ${index >= measure.levels.length ? "mark-miss" : ""}`}
                onClick={() => mark(store, goalId, "level", String(index))}
              >
                <span className="text-fine opacity-70">{index < 9 ? index + 1 : ""}</span>
                <span dir="auto">{name}</span>
                <span className="ml-auto font-serif text-xl" aria-label={`${count} so far`}>
                  {count || ""}
                </span>
              </button>
            </li>
          );
        })}
      </ul>
    </div>
  );
}

export function CountPad({ measure, sheet, store }: SittingPanel<CountMeasure>) {
  const { goalId } = sheet.goal;
  const presses = sheet.marks.filter(({ on }) => on === "press").length;
  const clock = stretches(sheet.marks, "clock");
  const running = isRunning(sheet.marks, "clock");
  const now = useNow(running, 1000);
  const seconds = secondsOn(clock, now);
  const per = measure.per === "observation" ? null : measure.per;
  const rate = per && seconds > 0 ? scoreCount(measure, { count: presses, observedSeconds: seconds }) : null;
  return (
    <div className="grid gap-3">
      <button
        type="button"
        data-key="1"
        className="pad w-full cursor-pointer border-data bg-data text-base-100"
        onClick={() => {
          const at = Date.now();
          // A rate needs a clock: the first press starts it where nobody did.
          if (per && clock.length === 0) mark(store, goalId, "clock", "start", at);
          mark(store, goalId, "press", "", at);
        }}
      >
        <span className="font-serif text-[2.4rem] leading-none">{presses}</span>
        <span>{measure.counted ? `+ 1 of ${measure.counted}` : "+ 1"}</span>
        <span className="pad-key">1</span>
      </button>
      <p className="sr-only" role="status">
        {presses === 0 ? "" : `${presses} so far`}
      </p>
      <ClockButton
        sheet={sheet}
        store={store}
        clock="clock"
        seconds={seconds}
        running={running}
        start={clock.length === 0 ? "Start observing" : "Go on observing"}
        stop="Stop observing"
      />
      {rate?.ok && rate.score.value !== null ? (
        <p className="text-fine text-soft">
          {scoreWords(rate.score)} in {clockTime(Math.floor(seconds))}
        </p>
      ) : null}
      {per && clock.length === 0 ? <TypedTime sheet={sheet} store={store} /> : null}
    </div>
  );
}
