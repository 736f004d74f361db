import type { CountMeasure } from "#core/measures/count.ts";
import type { SupportsMeasure } from "#core/measures/supports.ts";
import type { TrialsMeasure } from "#core/measures/trials.ts";
import { isRunning, secondsOn, stretches } from "#core/sitting/mark.ts";
import { ladderMarks } from "#core/sitting/observed.ts";
import { clockTime } from "#core/words/read-time.ts";
import { counts } from "#core/words/numbers.ts";
import { mark, useNow } from "../sitting/use-sitting.ts";
import { ClockButton, TypedTime } from "./clock.tsx";
import type { SittingPanel } from "./panel.ts";

const leftWords = (done: number, planned: number) =>
  done < planned
    ? `${planned - done} left of ${planned}`
    : done === planned
      ? `all ${planned} marked`
      : `${done - planned} more than the ${planned} planned`;

/** The marks so far in their order, and the places left of what was planned. For the eye: the count is said in words. */
function Places({ marks, planned }: { marks: readonly string[]; planned: number }) {
  const places = Array.from({ length: Math.max(planned, marks.length) }, (_, index) => marks[index]);
  return (
    <ol className="flex flex-wrap gap-1" aria-hidden="true">
      {places.map((one, index) => (
        <li
          key={index}
          className={`grid size-6 place-items-center rounded-md border text-[0.8125rem] font-bold ${one === "1" ? "border-data bg-data text-base-100" : one === "0" ? "border-base-content bg-raised" : "border-base-300"}`}
        >
          {one === "1" ? "✓" : one === "0" ? "–" : ""}
        </li>
      ))}
    </ol>
  );
}

export function TrialsPad({ sheet, store }: SittingPanel<TrialsMeasure>) {
  const trials = sheet.marks.filter(({ on }) => on === "trial").map(({ value }) => value);
  const correct = trials.filter((one) => one === "1").length;
  const { planned, goalId } = sheet.goal;
  return (
    <div className="flex flex-1 flex-col gap-3">
      <p className="flex items-baseline gap-2">
        <span className="font-serif text-[2.4rem] leading-none font-semibold">{correct}</span>
        <span>of {trials.length} so far</span>
        {planned === null ? null : (
          <span className="ml-auto text-fine text-soft">{leftWords(trials.length, planned)}</span>
        )}
      </p>
      <p className="sr-only" role="status">
        {trials.length === 0 ? "" : `${counts(correct, trials.length)} so far`}
      </p>
      <Places marks={trials} planned={planned ?? 0} />
      <div className="thumb-pads grid grid-cols-2 gap-2.5">
        <button
          type="button"
          data-key="0"
          className="pad cursor-pointer border-base-300 bg-raised"
          onClick={() => mark(store, goalId, "trial", "0")}
        >
          Not yet <span className="pad-key text-soft">0</span>
        </button>
        <button
          type="button"
          data-key="1"
          className="pad cursor-pointer border-data bg-data text-base-100"
          onClick={() => mark(store, goalId, "trial", "1")}
        >
          Correct <span className="pad-key">1</span>
        </button>
      </div>
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
  const rate = per && seconds > 0 ? (presses * (per === "minute" ? 60 : 3600)) / seconds : null;
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
      {rate === null ? null : (
        <p className="text-fine text-soft">
          {rate.toFixed(1)} per {per} in {clockTime(Math.floor(seconds))}
        </p>
      )}
      {per && clock.length === 0 ? <TypedTime sheet={sheet} store={store} /> : null}
    </div>
  );
}
