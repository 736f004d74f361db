import { useEffect, useRef, useState } from "react";
import type { IntervalsMeasure } from "#core/measures/intervals/intervals.ts";
import { intervalClock, intervalMarks } from "#core/measures/intervals/clock.ts";
import { stretches } from "#core/marks/mark.ts";
import { lengthOfTime } from "#core/words/amounts.ts";
import type { Sheet } from "#core/sync/kept.ts";
import { mark, useNow, useSheet } from "#app/recording/sitting/use-sitting.ts";
import type { PadProps, PadStore } from "../pad.ts";
import { setSignalWay, signal, type SignalWay, signalWay, signalWays } from "../signal.ts";

const asks = {
  momentary: "Look now",
  partial: "At any time in this interval?",
  whole: "For the whole interval?",
};
const startOf = (sheet: Sheet) => stretches(sheet.marks, "clock")[0]?.from ?? null;

/** Starts or stops the clocks of several students at one and the same moment. */
function markAll(store: PadStore, sheets: readonly Sheet[], value: "start" | "stop"): void {
  const at = Date.now();
  for (const { goal } of sheets) mark(store, goal.goalId, "clock", value, at);
}

/** One student's answer for the interval that is asked about. */
function Row({
  store,
  goalId,
  screenName,
  index,
  first,
  now,
}: {
  store: PadStore;
  goalId: string;
  screenName: string | null;
  index: number | null;
  first: boolean;
  now: number;
}) {
  const sheet = useSheet(store, goalId);
  const measure = sheet.goal.measure as IntervalsMeasure;
  const given = sheet.marks.findLast(({ on }) => on === `interval.${index}`)?.value ?? "";
  const order = intervalMarks(measure, sheet.marks, now);
  return (
    <div className="grid gap-1.5">
      <div className="flex items-stretch gap-2">
        {screenName === null ? null : (
          <span
            className="grid w-16 shrink-0 place-items-center rounded-lg bg-neutral text-fine font-bold text-neutral-content"
            dir="auto"
          >
            {screenName}
          </span>
        )}
        {(
          [
            ["0", "Not seen"],
            ["1", "Seen"],
          ] as const
        ).map(([value, label]) => (
          <button
            key={value}
            type="button"
            data-key={first ? value : undefined}
            aria-pressed={given === value}
            disabled={index === null}
            className={`pad min-h-16! flex-1 cursor-pointer disabled:opacity-50 ${given === value ? "border-data bg-data text-base-100" : "border-base-300 bg-raised"}`}
            onClick={() => {
              if (index !== null) mark(store, goalId, `interval.${index}`, value);
            }}
          >
            <span>{label}</span>
          </button>
        ))}
      </div>
      <p
        role="group"
        className="flex flex-wrap gap-1 font-mono text-fine text-soft"
        aria-label="Intervals so far"
      >
        {order === "" ? "" : [...order].map((one) => (one === "1" ? "✓" : one === "0" ? "–" : "·")).join(" ")}
      </p>
    </div>
  );
}

/** Calls for each interval and takes its mark; several students who are looked at together answer to one clock. */
export function IntervalsPad({ measure, sheet, store }: PadProps<IntervalsMeasure>) {
  const { goalId } = sheet.goal;
  const start = startOf(sheet);
  const like = store
    .sheets()
    .filter(
      ({ goal }) =>
        goal.measure.kind === "intervals" && goal.measure.intervalSeconds === measure.intervalSeconds,
    );
  const together = start === null ? like : like.filter((one) => startOf(one) === start);
  const now = useNow(start !== null && stretches(sheet.marks, "clock")[0]?.to === null);
  const clock = intervalClock(measure, sheet.marks, now);
  const running = clock?.over === false;
  const asked = clock?.asks ?? null;
  const [way, setWay] = useState<SignalWay>(signalWay);
  const called = useRef(clock?.ended ?? 0);
  useEffect(() => {
    const ended = clock?.ended ?? 0;
    if (ended > called.current && running) signal();
    called.current = ended;
  }, [clock?.ended, running]);
  const nameOf = (one: Sheet) =>
    store.sitting().students.find(({ studentId }) => studentId === one.studentId)?.screenName ?? "";
  const waiting = together.find(
    (one) => !one.marks.some(({ on, value }) => on === `interval.${asked}` && value !== ""),
  );
  return (
    <div className="grid gap-3">
      <div
        className={`flex min-h-20 items-center gap-3 rounded-[14px] border-2 px-4 ${asked !== null && waiting ? "border-accent bg-arrival" : "border-base-300"}`}
      >
        <p className="min-w-0 flex-1 font-bold" role="status">
          {clock === null
            ? `Every ${lengthOfTime(measure.intervalSeconds)}${measure.planned ? `, ${measure.planned} times` : ""}`
            : clock.over
              ? "All over"
              : asked === null
                ? "Wait for the signal"
                : `${asks[measure.method]} (${asked + 1}${measure.planned ? ` of ${measure.planned}` : ""})`}
        </p>
        <p className="font-serif text-2xl" aria-hidden="true">
          {clock?.nextAt ? Math.max(0, Math.ceil((clock.nextAt - now) / 1000)) : ""}
        </p>
      </div>
      {clock === null ? (
        <div className="grid gap-2">
          {like.length > 1 ? (
            <button
              type="button"
              data-key=" "
              className="btn btn-primary h-14"
              onClick={() =>
                markAll(
                  store,
                  like.filter((one) => startOf(one) === null),
                  "start",
                )
              }
            >
              Start all {like.length} together
            </button>
          ) : null}
          <button
            type="button"
            data-key={like.length > 1 ? undefined : " "}
            className={`btn h-14 ${like.length > 1 ? "btn-plain" : "btn-primary"}`}
            onClick={() => mark(store, goalId, "clock", "start")}
          >
            Start {like.length > 1 ? "this one" : ""}
          </button>
        </div>
      ) : (
        <>
          {together.map((one) => (
            <Row
              key={one.goal.goalId}
              store={store}
              goalId={one.goal.goalId}
              screenName={together.length > 1 ? nameOf(one) : null}
              index={asked}
              first={(waiting ?? together[0]) === one}
              now={now}
            />
          ))}
          {clock.over ? null : (
            <button
              type="button"
              className="btn btn-plain h-11"
              onClick={() => markAll(store, together, "stop")}
            >
              End here
            </button>
          )}
        </>
      )}
      <label className="flex items-center gap-2 text-fine text-soft">
        Signal
        <select
          className="select h-11 w-auto"
          value={way}
          onChange={({ target }) => {
            const chosen = signalWays.find((one) => one === target.value) ?? "seen";
            setSignalWay(chosen);
            setWay(chosen);
          }}
        >
          <option value="seen">on the screen</option>
          <option value="felt">and a short buzz</option>
          <option value="heard">and a soft tone</option>
        </select>
      </label>
    </div>
  );
}
