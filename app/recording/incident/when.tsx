import { TimeInput } from "#app/ui/time-input.tsx";
import { useState } from "react";
import { weekdayOf } from "#core/dates/day-number.ts";
import { shortDate, timeOfDay } from "#core/words/dates.ts";
import { clockTime } from "#core/words/read-time.ts";
import type { RecordingPack } from "#core/sync/pack.ts";
import { localDay, localTime } from "#core/dates/school-time.ts";
import { useNow } from "../sitting/use-sitting.ts";
import type { IncidentFacts } from "./draft.ts";

type School = Pick<RecordingPack, "timeZone" | "timetable">;

/** When it began, in words: "today 10:32", "Tue, Nov 24, Mathematics". */
export function whenWords(
  { began, clock }: Pick<IncidentFacts, "began" | "clock">,
  { timeZone }: School,
  now: number,
): string {
  const today = localDay(timeZone, now);
  const day = (on: string) => (on === today ? "today" : shortDate(on));
  const at = clock?.startedAt ?? (began.as === "moment" ? began.at : null);
  if (at !== null) return `${day(localDay(timeZone, at))} ${timeOfDay(localTime(timeZone, at))}`;
  if (began.as === "time") return `${day(began.local.slice(0, 10))} ${timeOfDay(began.local.slice(11))}`;
  if (began.as === "moment") return "";
  return began.as === "period" ? `${day(began.on)}, ${began.period}` : `${day(began.on)}, time not known`;
}

function Clock({
  clock,
  onChange,
}: {
  clock: IncidentFacts["clock"];
  onChange: (clock: IncidentFacts["clock"]) => void;
}) {
  const running = clock !== null && clock.stoppedAt === null;
  const now = useNow(running, 1000);
  if (!clock)
    return (
      <button
        type="button"
        className="btn btn-plain h-11"
        onClick={() => onChange({ startedAt: Date.now(), stoppedAt: null })}
      >
        Start a clock
      </button>
    );
  const seconds = Math.max(0, ((clock.stoppedAt ?? now) - clock.startedAt) / 1000);
  return (
    <span className="flex items-center gap-2">
      <span className="font-serif text-2xl font-semibold" role="timer">
        {clockTime(Math.floor(seconds))}
      </span>
      <button
        type="button"
        className={`btn h-11 ${running ? "btn-primary" : "btn-plain"}`}
        onClick={() => onChange({ ...clock, stoppedAt: running ? Date.now() : null })}
      >
        {running ? "It is over: stop" : "Still going on"}
      </button>
      <button type="button" className="btn btn-plain h-11" onClick={() => onChange(null)}>
        Without a clock
      </button>
    </span>
  );
}

/** When it began: now unless said otherwise; some minutes ago, an exact date and time, or only the period of the day. */
export function When({
  facts,
  school,
  now,
  clocked = true,
  withClock = clocked,
  onChange,
}: {
  facts: Pick<IncidentFacts, "began" | "clock">;
  school: School;
  now: number;
  /** Is it now? What is corrected afterwards is not. */
  clocked?: boolean;
  /** May a clock be started? */
  withClock?: boolean;
  onChange: (part: Partial<IncidentFacts>) => void;
}) {
  const { began, clock } = facts;
  const { timeZone, timetable } = school;
  const [open, setOpen] = useState(false);
  const today = localDay(timeZone, now);
  const at = began.as === "moment" ? began.at : null;
  const on =
    began.as === "time"
      ? began.local.slice(0, 10)
      : at === null
        ? (began as { on: string }).on
        : localDay(timeZone, at);
  const time = began.as === "time" ? began.local.slice(11) : at === null ? "" : localTime(timeZone, at);
  const periods = [
    ...new Set(timetable.filter(({ weekday }) => weekday === weekdayOf(on)).map(({ name }) => name)),
  ];
  const period = began.as === "period" ? began.period : "";
  const choose = (next: { on?: string; time?: string; period?: string }) => {
    const day = next.on || on;
    if (next.period) onChange({ began: { as: "period", on: day, period: next.period } });
    else if (next.time) onChange({ began: { as: "time", local: `${day}T${next.time}` } });
    else if (next.period === "" || next.time === "") onChange({ began: { as: "day", on: day } });
    else if (began.as === "period") onChange({ began: { ...began, on: day } });
    else onChange({ began: time ? { as: "time", local: `${day}T${time}` } : { as: "day", on: day } });
  };
  const ago = (minutes: number) => onChange({ began: { as: "moment", at: now - minutes * 60_000 } });
  return (
    <section aria-label="When" className="grid gap-2">
      <div className="flex flex-wrap items-center gap-2">
        <p className="mr-1 font-serif text-lg" role="status">
          <b className="font-semibold">{whenWords(facts, school, now)}</b>
        </p>
        {clock === null ? (
          <>
            {clocked ? (
              <>
                <button type="button" className="btn btn-plain h-11" onClick={() => ago(0)}>
                  Now
                </button>
                <span className="flex items-center gap-1.5 text-fine text-soft">
                  {[10, 20, 40].map((minutes) => (
                    <button
                      key={minutes}
                      type="button"
                      className="btn btn-plain h-11 px-3"
                      aria-label={`${minutes} min ago`}
                      onClick={() => ago(minutes)}
                    >
                      {minutes} min
                    </button>
                  ))}
                  <span aria-hidden="true">ago</span>
                </span>
              </>
            ) : null}
            <button
              type="button"
              className="btn btn-plain h-11"
              aria-expanded={open}
              onClick={() => setOpen(!open)}
            >
              Other time …
            </button>
          </>
        ) : null}
        {withClock ? <Clock clock={clock} onChange={(next) => onChange({ clock: next })} /> : null}
      </div>
      {open && clock === null ? (
        <div className="flex flex-wrap items-end gap-3">
          <label className="grid gap-1 text-fine font-bold">
            Day
            <input
              type="date"
              className="input h-11 font-normal"
              max={today}
              value={on}
              onChange={({ target }) => choose({ on: target.value })}
            />
          </label>
          <label className="grid gap-1 text-fine font-bold">
            Began at
            <TimeInput
              className="input h-11 w-32 font-normal"
              value={time}
              onTime={(next) => choose({ time: next })}
            />
          </label>
          {periods.length > 0 ? (
            <label className="grid gap-1 text-fine font-bold">
              or only the period
              <select
                className="select h-11 font-normal"
                value={period}
                onChange={({ target }) => choose({ period: target.value })}
              >
                <option value="">–</option>
                {periods.map((name) => (
                  <option key={name}>{name}</option>
                ))}
              </select>
            </label>
          ) : null}
        </div>
      ) : null}
    </section>
  );
}
