import { useEffect, useRef, useState } from "react";
import type { DurationMeasure } from "#core/measures/duration/duration.ts";
import type { IntervalsMeasure } from "#core/measures/intervals/intervals.ts";
import type { LatencyMeasure } from "#core/measures/latency/latency.ts";
import { lengthOfTime } from "#core/words/amounts.ts";
import { clockTime } from "#core/words/read-time.ts";
import { PanelField } from "./count-panels.tsx";
import type { PanelProps } from "./panel.ts";

/** A stopwatch that asks the clock, so that it is right after a tablet has slept. Null while it stands still. */
function useStopwatch() {
  const startedAt = useRef<number | null>(null);
  const [seconds, setSeconds] = useState<number | null>(null);
  const running = seconds !== null;
  useEffect(() => {
    if (!running) return;
    const tick = setInterval(() => {
      if (startedAt.current !== null) setSeconds(Math.floor((Date.now() - startedAt.current) / 1000));
    }, 250);
    return () => clearInterval(tick);
  }, [running]);
  return {
    seconds,
    start: () => {
      startedAt.current = Date.now();
      setSeconds(0);
    },
    stop: (): number => {
      const lasted = startedAt.current === null ? 0 : Math.round((Date.now() - startedAt.current) / 1000);
      startedAt.current = null;
      setSeconds(null);
      return lasted;
    },
  };
}

const append = (more: string) => (list: string) => [list.trim(), more].filter(Boolean).join(", ");

export function DurationPanel(panel: PanelProps<DurationMeasure>) {
  const { measure, values, set, problems } = panel;
  const { seconds, start, stop } = useStopwatch();
  return (
    <div className="grid gap-3">
      <button
        type="button"
        className={`pad with-scripts w-full cursor-pointer ${seconds === null ? "border-base-300 bg-raised" : "border-data bg-data text-base-100"}`}
        onClick={() => (seconds === null ? start() : set("bouts", append(clockTime(stop()))))}
      >
        <span className="font-serif text-3xl">{clockTime(seconds ?? 0)}</span>
        {seconds === null ? "Start a bout" : "It stopped"}
      </button>
      <PanelField
        name="bouts"
        label="Bouts"
        panel={panel}
        problem={problems["boutsSeconds"] ?? problems["startsSeconds"]}
        hint="As 4:10, 45 s or 2 min, with commas between."
      />
      <label className="flex min-h-11 items-center gap-2 text-[0.9375rem]">
        <input
          type="checkbox"
          className="size-5 accent-primary"
          name="none"
          value="yes"
          checked={values["none"] === "yes"}
          onChange={({ target }) => set("none", target.checked ? "yes" : "")}
        />
        Observed, and there was no bout
      </label>
      <PanelField
        name="observed"
        label="Observed for"
        panel={panel}
        problem={problems["observedSeconds"]}
        hint={measure.report === "share" ? "20 min or 4:10." : "May be left empty; 20 min or 4:10."}
      />
    </div>
  );
}

export function LatencyPanel(panel: PanelProps<LatencyMeasure>) {
  const { measure, values, set, problems } = panel;
  const { seconds, start, stop } = useStopwatch();
  const noResponse = Number(values["noResponse"]) || 0;
  return (
    <div className="grid gap-3">
      <div className="with-scripts grid grid-cols-[2fr_1fr] gap-2.5">
        <button
          type="button"
          className={`pad cursor-pointer ${seconds === null ? "border-base-300 bg-raised" : "border-data bg-data text-base-100"}`}
          onClick={() => (seconds === null ? start() : set("delays", append(`${stop()} s`)))}
        >
          <span className="font-serif text-3xl">{clockTime(seconds ?? 0)}</span>
          {seconds === null ? "Signal given" : "Response"}
        </button>
        <button
          type="button"
          className="pad cursor-pointer border-base-300 bg-raised"
          onClick={() => {
            if (seconds !== null) stop();
            set("noResponse", (before) => String((Number(before) || 0) + 1));
          }}
        >
          No response
          {noResponse > 0 ? <span className="pad-key">{noResponse}</span> : null}
        </button>
      </div>
      <div className="grid grid-cols-[2fr_1fr] gap-3">
        <PanelField
          name="delays"
          label="Delays"
          panel={panel}
          problem={problems["delaysSeconds"]}
          hint={
            measure.report === "within" && measure.withinSeconds
              ? `In time is within ${lengthOfTime(measure.withinSeconds)}. As 12 s, 1:05.`
              : "As 12 s, 1:05, with commas between."
          }
        />
        <PanelField
          name="noResponse"
          label="No responses"
          numeric
          panel={panel}
          problem={problems["noResponse"]}
        />
      </div>
    </div>
  );
}

const intervalMarks = [
  ["1", "Seen"],
  ["0", "Not seen"],
  ["-", "Missed"],
] as const;

export function IntervalsPanel(panel: PanelProps<IntervalsMeasure>) {
  const { measure, values, set, problems } = panel;
  const marks = values["intervals"] ?? "";
  return (
    <div className="grid gap-3">
      <p className="text-fine text-soft" role="status">
        {marks === "" ? "No interval marked yet" : `${marks.length} marked`}
        {measure.planned ? ` of ${measure.planned}` : ""}, each {lengthOfTime(measure.intervalSeconds)}
      </p>
      <div className="with-scripts grid grid-cols-3 gap-2.5">
        {intervalMarks.map(([mark, label]) => (
          <button
            key={mark}
            type="button"
            className={`pad min-h-20! cursor-pointer ${mark === "1" ? "border-data bg-data text-base-100" : "border-base-300 bg-raised"}`}
            onClick={() => set("intervals", (before) => before + mark)}
          >
            {label}
          </button>
        ))}
      </div>
      <PanelField
        name="intervals"
        label="Intervals in order"
        panel={panel}
        problem={problems["marks"]}
        hint="1 seen, 0 not seen, - not observed."
      />
    </div>
  );
}
