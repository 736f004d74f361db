import { timeOfDay, timeSpan } from "#core/words/dates.ts";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import { weekdayOf } from "#core/dates/day-number.ts";
import type { PackedStudent, RecordingPack } from "#core/sync/pack.ts";
import type { Device } from "../device/device.ts";
import type { Together } from "../device/use-together.ts";
import { localTime } from "#core/dates/school-time.ts";
import { listed } from "#core/words/lists.ts";
import type { Sitting } from "#core/sync/kept.ts";
import { discardSitting, listOpenSittings } from "./store.ts";

/** A student, their goals to choose from, and the button that begins. */
export function StartRow({
  student,
  today,
  goalIds,
  together,
  onToggle,
  onTogether,
  onStart,
}: {
  student: PackedStudent;
  today: string;
  goalIds: readonly string[];
  together: boolean;
  onToggle: (goalId: string) => void;
  onTogether: () => void;
  onStart: () => void;
}) {
  const isDue = student.goals.some(({ dueOn }) => dueOn.includes(today));
  return (
    <li className="start-row">
      <label className="grid size-11 cursor-pointer place-items-center" title="Several students together">
        <input
          type="checkbox"
          className="size-5 accent-primary"
          checked={together}
          onChange={onTogether}
          aria-label={`${student.screenName} together with others`}
        />
      </label>
      <p
        className="min-w-16 rounded-lg bg-neutral max-sm:mr-auto px-3 py-2 text-center text-fine font-bold text-neutral-content"
        dir="auto"
      >
        {student.screenName}
      </p>
      <ul
        className="flex min-w-0 flex-1 flex-wrap items-center gap-1.5 max-sm:order-last max-sm:basis-full"
        aria-label={`Goals of ${student.screenName}`}
      >
        {student.goals.map((goal) => (
          <li key={goal.goalId} className="max-w-full min-w-0">
            <label className="goal-chip" title={goal.title}>
              <input
                type="checkbox"
                checked={goalIds.includes(goal.goalId)}
                onChange={() => onToggle(goal.goalId)}
                aria-label={`${goal.number} ${goal.title}${goal.dueOn.includes(today) ? ", due today" : ""}`}
              />
              {goal.number}
              <span className="chip-title" dir="auto">
                {goal.title}
              </span>
              {goal.dueOn.includes(today) ? <span className="due" aria-hidden="true" /> : null}
            </label>
          </li>
        ))}
      </ul>
      <button
        type="button"
        className={`btn h-11 ${isDue ? "btn-primary" : "btn-plain"}`}
        disabled={goalIds.length === 0}
        onClick={onStart}
        aria-label={`Start with ${student.screenName}`}
      >
        Start
      </button>
    </li>
  );
}

/** The groups that meet today, the one that meets now first; the others behind one touch. */
export function Groups({
  pack,
  today,
  now,
  membersOf,
  onStart,
}: {
  pack: RecordingPack;
  today: string;
  /** Milliseconds since 1970. */
  now: number;
  membersOf: (ids: readonly string[]) => PackedStudent[];
  onStart: (students: readonly PackedStudent[]) => Promise<void>;
}) {
  const weekday = weekdayOf(today);
  const time = localTime(pack.timeZone, now);
  const meetings = pack.groups.map((group) => ({
    ...group,
    today: group.meets.find((meeting) => meeting.weekday === weekday) ?? null,
  }));
  const running = meetings.filter(
    (group) => group.today && group.today.startsAt <= time && time < group.today.endsAt,
  );
  const rest = meetings
    .filter((group) => !running.includes(group))
    .sort((a, b) => (a.today?.startsAt ?? "99").localeCompare(b.today?.startsAt ?? "99"));
  if (meetings.length === 0) return null;
  return (
    <section aria-labelledby="groups">
      <h2 id="groups" className="start-head">
        Groups
      </h2>
      <ul>
        {[...running, ...rest].map((group) => {
          const members = membersOf(group.studentIds);
          return (
            <li key={group.groupId} className="start-row">
              <p className="min-w-0 flex-1">
                <b>{group.name}</b>{" "}
                <span className="text-fine text-soft">
                  {running.includes(group)
                    ? `meets now, until ${timeOfDay(group.today?.endsAt ?? "")}`
                    : group.today
                      ? `today ${timeSpan(group.today.startsAt, group.today.endsAt)}`
                      : "not today"}
                  {" · "}
                  {members.map(({ screenName }) => screenName).join(", ")}
                </span>
              </p>
              <button
                type="button"
                className={`btn h-11 ${running.includes(group) ? "btn-primary" : "btn-plain"}`}
                onClick={() => void onStart(members)}
                aria-label={`Start with ${group.name}`}
              >
                Start
              </button>
            </li>
          );
        })}
      </ul>
    </section>
  );
}

/** The sittings that were left open on this device. */
export function StillOpen({ device }: { device: Device }) {
  const [open, setOpen] = useState<Sitting[]>([]);
  const [asking, setAsking] = useState<string | null>(null);
  useEffect(() => {
    void listOpenSittings(device).then(setOpen);
  }, [device]);
  const { timeZone } = device.pack;
  if (open.length === 0) return null;
  return (
    <section aria-labelledby="open-sittings">
      <h2 id="open-sittings" className="start-head">
        Still open
      </h2>
      <ul>
        {open.map((sitting) => (
          <li key={sitting.sittingId} className="start-row">
            <p className="min-w-0 flex-1">
              Begun {timeOfDay(localTime(timeZone, sitting.startedAt))}:{" "}
              <b>{listed(sitting.students.map(({ screenName }) => screenName))}</b>
              {sitting.second ? `, beside ${sitting.second.name ?? "another observer"}` : ""}
            </p>
            {asking === sitting.sittingId ? (
              <>
                <span className="text-fine">Its marks are lost.</span>
                <button
                  type="button"
                  className="btn btn-plain h-11"
                  onClick={() => {
                    void discardSitting(device, sitting.sittingId).then(() =>
                      setOpen(open.filter((one) => one !== sitting)),
                    );
                  }}
                >
                  Throw away
                </button>
                <button type="button" className="btn btn-plain h-11" onClick={() => setAsking(null)}>
                  Keep
                </button>
              </>
            ) : (
              <>
                <button
                  type="button"
                  className="btn btn-plain h-11"
                  onClick={() => setAsking(sitting.sittingId)}
                >
                  Throw away …
                </button>
                <Link to={`/record?sitting=${sitting.sittingId}`} className="btn btn-primary h-11">
                  Go on
                </Link>
              </>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Lists the sittings of others that a second observer can join. Their marks are not shown. */
export function GoingOn({
  pack,
  sittings,
  onJoin,
}: {
  pack: RecordingPack;
  sittings: Together["sittings"];
  onJoin: (sitting: Together["sittings"][number]) => void;
}) {
  const nameOf = (id: string) => pack.students.find(({ studentId }) => studentId === id)?.screenName;
  const joinable = sittings.filter(({ goals }) => goals.some(({ studentId }) => nameOf(studentId)));
  if (joinable.length === 0) return null;
  return (
    <section aria-labelledby="going-on">
      <h2 id="going-on" className="start-head">
        Going on now
      </h2>
      <ul>
        {joinable.map((sitting) => (
          <li key={sitting.sittingId} className="start-row">
            <p className="min-w-0 flex-1">
              <b>{sitting.name}</b>{" "}
              <span className="text-fine text-soft">
                since {timeOfDay(localTime(pack.timeZone, sitting.startedAt))} ·{" "}
                {[...new Set(sitting.goals.flatMap(({ studentId }) => nameOf(studentId) ?? []))].join(", ")}
              </span>
            </p>
            <button
              type="button"
              className="btn btn-plain h-11"
              aria-label={`Observe beside ${sitting.name}`}
              onClick={() => onJoin(sitting)}
            >
              Observe beside
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
