import { timeSpan } from "#core/words/dates.ts";
import { useState } from "react";
import { v7 as newId } from "uuid";
import { weekdayOf } from "#core/dates/day-number.ts";
import type { SaidOfDay } from "#core/sync/pack.ts";
import type { Device } from "../device/device.ts";
import { enqueue, type WaitingItem } from "../device/queue.ts";
import type { Queued } from "#core/sync/queued.ts";

type Watched = Extract<Queued, { kind: "watched" }>;
const dayStates = [
  ["none", "none"],
  ["not observed", "not observed"],
  ["absent", "absent"],
] as const;

/** What was said last of a day or a period: here just now, or waiting to be sent, or known when the device last asked. */
function lastSaid(
  here: Watched["state"] | undefined,
  { studentId, on, period }: Pick<Watched, "studentId" | "on" | "period">,
  waiting: readonly WaitingItem[],
  known: readonly SaidOfDay[],
): Watched["state"] {
  if (here !== undefined) return here;
  const queued = waiting.findLast(
    ({ item }) =>
      item.kind === "watched" && item.studentId === studentId && item.on === on && item.period === period,
  )?.item;
  if (queued?.kind === "watched") return queued.state;
  return known.find((one) => one.on === on && one.period === period)?.state ?? null;
}

/** Records of a day or a period that nothing happened, that nobody watched, or that the student was absent. */
function DayMarks({
  name,
  period,
  said,
  onSay,
}: {
  name: string;
  /** Empty for the whole day. */
  period: string;
  said: Watched["state"];
  onSay: (state: Watched["state"]) => void;
}) {
  const lasting = said === "absent" && period === "";
  return (
    <span
      className="ml-auto flex flex-wrap gap-1.5"
      role="group"
      aria-label={`${period || "Today"}, ${name}`}
    >
      {dayStates.map(([state, words]) => (
        <button
          key={state}
          type="button"
          className="choice text-[0.9rem]"
          aria-pressed={said === state}
          // A student who is there after all on a day is told so on their page.
          disabled={lasting && state !== "absent"}
          onClick={() => onSay(said === state && !lasting ? null : state)}
        >
          {words}
        </button>
      ))}
    </span>
  );
}

/** Chooses the student of an incident, and records days and periods without incidents. */
export function WhoseView({
  device,
  on,
  waiting,
  onChoose,
  onSend,
}: {
  device: Device;
  /** The school's own day. */
  on: string;
  waiting: readonly WaitingItem[];
  onChoose: (studentId: string) => void;
  onSend: () => void;
}) {
  const { students, timetable } = device.pack;
  const [period, setPeriod] = useState("");
  const [here, setHere] = useState<Readonly<Record<string, Watched["state"]>>>({});
  if (students.length === 0)
    return (
      <p className="py-3">
        You cannot record for any student yet. Ask a case manager to add you to a student’s circle.
      </p>
    );
  const slots = timetable.filter(({ weekday }) => weekday === weekdayOf(on));
  async function say(studentId: string, state: Watched["state"]): Promise<void> {
    setHere({ ...here, [`${studentId} ${period}`]: state });
    await enqueue(device, [
      {
        ...{ format: 1, kind: "watched", id: newId(), studentId, period, state, on },
        observedAt: new Date().toISOString(),
        clockAhead: device.kept.clockAhead,
      },
    ]);
    onSend();
  }
  return (
    <>
      <p className="mt-2 text-soft">
        Choose a student, or record that no incident happened: otherwise a day without an incident looks like
        a day without a record.
      </p>
      {slots.length > 0 ? (
        <label className="mt-2 flex flex-wrap items-center justify-end gap-2">
          <span className="text-fine text-soft">None, not observed or absent in</span>
          <select
            className="select h-11 w-64"
            value={period}
            onChange={(event) => setPeriod(event.target.value)}
          >
            <option value="">the whole day</option>
            {slots.map(({ name, startsAt, endsAt }) => (
              <option key={startsAt} value={name}>
                {name} {timeSpan(startsAt, endsAt)}
              </option>
            ))}
          </select>
        </label>
      ) : null}
      <ul className="mt-2 grid gap-x-12 lg:grid-cols-2">
        {students.map(({ studentId, screenName, saidToday }) => (
          <li key={studentId} className="start-row">
            <button
              type="button"
              className="min-h-12 min-w-24 cursor-pointer rounded-lg bg-neutral px-4 font-bold text-neutral-content"
              onClick={() => onChoose(studentId)}
            >
              <span className="sr-only">Incident of </span>
              {screenName}
            </button>
            <DayMarks
              name={screenName}
              period={period}
              said={lastSaid(
                here[`${studentId} ${period}`],
                { studentId, on, period },
                waiting,
                // A pack that was kept before days were told with it has none.
                (saidToday as SaidOfDay[] | undefined) ?? [],
              )}
              onSay={(state) => void say(studentId, state)}
            />
          </li>
        ))}
      </ul>
    </>
  );
}
