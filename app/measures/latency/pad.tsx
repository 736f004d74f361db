import type { LatencyMeasure } from "#core/measures/latency/latency.ts";
import { secondsBetween } from "#core/marks/mark.ts";
import { lengthOfTime } from "#core/words/amounts.ts";
import { clockTime } from "#core/words/read-time.ts";
import { mark, useNow } from "#app/recording/sitting/use-sitting.ts";
import type { PadProps } from "../pad.ts";
import { Whose } from "../whose.tsx";

export function LatencyPad({ measure, sheet, store }: PadProps<LatencyMeasure>) {
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
          <span>
            {waiting ? "Response" : "Signal given"}
            <Whose />
          </span>
          <span className={`pad-key ${waiting ? "" : "text-soft"}`}>space</span>
        </button>
        <button
          type="button"
          data-key="0"
          className="pad cursor-pointer border-dashed border-soft bg-raised"
          onClick={() => mark(store, goalId, "no response")}
        >
          <span>
            No response
            <Whose />
          </span>
          <span className="pad-key text-soft">0</span>
        </button>
      </div>
      {measure.report === "within" && measure.withinSeconds ? (
        <p className="text-fine text-soft">In time is within {lengthOfTime(measure.withinSeconds)}.</p>
      ) : null}
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
