import { type CountMeasure, scoreCount } from "#core/measures/count/count.ts";
import { isRunning, secondsOn, stretches } from "#core/marks/mark.ts";
import { scoreWords } from "#core/words/amounts.ts";
import { clockTime } from "#core/words/read-time.ts";
import { mark, useNow } from "#app/recording/sitting/use-sitting.ts";
import { ClockButton, TypedTime } from "../clock.tsx";
import type { PadProps } from "../pad.ts";
import { Whose } from "../whose.tsx";

export function CountPad({ measure, sheet, store }: PadProps<CountMeasure>) {
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
        <span>
          {measure.counted ? `+ 1 of ${measure.counted}` : "+ 1"}
          <Whose />
        </span>
        <span className="pad-key">1</span>
      </button>
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
