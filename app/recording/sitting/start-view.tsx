import { useEffect, useState } from "react";
import { Link, useNavigate } from "react-router";
import { weekdayOf } from "#core/progress/day-number.ts";
import type { PackedStudent, RecordingPack } from "#server/db/recording-pack.ts";
import { type Device, rememberChosen } from "../device/device.ts";
import { localDay, localTime } from "./local-time.ts";
import { beginSitting, discardSitting, listOpenSittings } from "./store.ts";
import type { Sitting } from "./sheet.ts";

type Chosen = Readonly<Record<string, readonly string[]>>;

/** The goals a student starts with: those due today, and those of the last time; the first where there are none. */
export function startingGoals(student: PackedStudent, today: string, last: readonly string[]): string[] {
  const goals = student.goals.filter(({ goalId, dueOn }) => dueOn.includes(today) || last.includes(goalId));
  return (goals.length > 0 ? goals : student.goals.slice(0, 1)).map(({ goalId }) => goalId);
}

const andList = (names: readonly string[]) =>
  names.length < 2 ? names.join("") : `${names.slice(0, -1).join(", ")} and ${names.at(-1)}`;

function StudentRow({
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
  const chosen = student.goals.filter(({ goalId }) => goalIds.includes(goalId));
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
      <p className="min-w-16 rounded-lg bg-neutral px-3 py-2 text-center text-fine font-bold text-neutral-content">
        {student.screenName}
      </p>
      <ul
        className="flex min-w-0 flex-1 flex-wrap items-center gap-1.5"
        aria-label={`Goals of ${student.screenName}`}
      >
        {student.goals.map((goal) => (
          <li key={goal.goalId}>
            <label className="goal-chip" title={goal.title}>
              <input
                type="checkbox"
                checked={goalIds.includes(goal.goalId)}
                onChange={() => onToggle(goal.goalId)}
                aria-label={`${goal.number} ${goal.title}${goal.dueOn.includes(today) ? ", due today" : ""}`}
              />
              {goal.number}
              {goal.dueOn.includes(today) ? <span className="due" aria-hidden="true" /> : null}
            </label>
          </li>
        ))}
        <li
          className="ml-1 min-w-0 flex-1 truncate text-fine text-soft max-sm:hidden"
          aria-hidden="true"
          dir="auto"
        >
          {chosen.map(({ title }) => title).join(" · ") || "choose a goal"}
        </li>
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

/** Where a sitting begins: what was left open, the groups that meet, and every student with what is due. */
export function StartView({ device }: { device: Device }) {
  const navigate = useNavigate();
  const { pack } = device;
  const today = localDay(pack.timeZone);
  const [open, setOpen] = useState<Sitting[]>([]);
  const [changed, setChanged] = useState<Chosen>({});
  const [together, setTogether] = useState<readonly string[]>([]);
  const [asking, setAsking] = useState<string | null>(null);
  useEffect(() => {
    void listOpenSittings(device).then(setOpen);
  }, [device]);
  const goalsOf = (student: PackedStudent) =>
    changed[student.studentId] ?? startingGoals(student, today, device.kept.chosen[student.studentId] ?? []);
  const toggle = (student: PackedStudent, goalId: string) => {
    const now = goalsOf(student);
    setChanged({
      ...changed,
      [student.studentId]: now.includes(goalId) ? now.filter((one) => one !== goalId) : [...now, goalId],
    });
  };
  async function start(students: readonly PackedStudent[]): Promise<void> {
    const chosen = students
      .map((student) => ({
        student,
        goalIds: student.goals
          .map(({ goalId }) => goalId)
          .filter((goalId) => goalsOf(student).includes(goalId)),
      }))
      .filter(({ goalIds }) => goalIds.length > 0);
    const sittingId = await beginSitting(device, chosen);
    void rememberChosen(
      device,
      Object.fromEntries(chosen.map(({ student, goalIds }) => [student.studentId, goalIds])),
    );
    await navigate(`/record?sitting=${sittingId}`);
  }
  const byId = new Map(pack.students.map((student) => [student.studentId, student]));
  const membersOf = (ids: readonly string[]) => ids.flatMap((studentId) => byId.get(studentId) ?? []);
  const togetherStudents = membersOf(together);
  const goalCount = togetherStudents.reduce((sum, student) => sum + goalsOf(student).length, 0);
  return (
    <div className="mx-auto grid w-full max-w-4xl gap-6 pb-28">
      {open.length > 0 ? (
        <section aria-labelledby="open-sittings">
          <h2 id="open-sittings" className="start-head">
            Still open
          </h2>
          <ul>
            {open.map((sitting) => (
              <li key={sitting.sittingId} className="start-row">
                <p className="min-w-0 flex-1">
                  Begun {localTime(pack.timeZone, sitting.startedAt)}:{" "}
                  <b>{andList(sitting.students.map(({ screenName }) => screenName))}</b>
                </p>
                {asking === sitting.sittingId ? (
                  <>
                    <span className="text-fine">Its marks are lost then.</span>
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
      ) : null}
      <Groups pack={pack} today={today} membersOf={membersOf} onStart={start} />
      <section aria-labelledby="students">
        <h2 id="students" className="start-head">
          Students
        </h2>
        {pack.students.length === 0 ? (
          <p className="py-3">
            You may record for no student yet. A case manager adds you to a student’s circle; then the student
            appears here.
          </p>
        ) : (
          <ul>
            {pack.students.map((student) => (
              <StudentRow
                key={student.studentId}
                student={student}
                today={today}
                goalIds={goalsOf(student)}
                together={together.includes(student.studentId)}
                onToggle={(goalId) => toggle(student, goalId)}
                onTogether={() =>
                  setTogether(
                    together.includes(student.studentId)
                      ? together.filter((one) => one !== student.studentId)
                      : [...together, student.studentId],
                  )
                }
                onStart={() => void start([student])}
              />
            ))}
          </ul>
        )}
      </section>
      {together.length > 0 ? (
        <div className="save-bar fixed! inset-x-0 px-6!">
          <p className="min-w-0 flex-1">
            {andList(togetherStudents.map(({ screenName }) => screenName))}, {goalCount}{" "}
            {goalCount === 1 ? "goal" : "goals"}
          </p>
          <button
            type="button"
            className="btn btn-primary h-12 px-8"
            disabled={goalCount === 0}
            onClick={() => void start(togetherStudents)}
          >
            Start together
          </button>
        </div>
      ) : null}
    </div>
  );
}

/** The groups that meet today, the one that meets now first; the others behind one touch. */
function Groups({
  pack,
  today,
  membersOf,
  onStart,
}: {
  pack: RecordingPack;
  today: string;
  membersOf: (ids: readonly string[]) => PackedStudent[];
  onStart: (students: readonly PackedStudent[]) => Promise<void>;
}) {
  const weekday = weekdayOf(today);
  const time = localTime(pack.timeZone);
  const meetings = pack.groups.map((group) => ({
    ...group,
    today: group.meets.find((meeting) => meeting.weekday === weekday) ?? null,
  }));
  const now = meetings.filter(
    (group) => group.today && group.today.startsAt <= time && time < group.today.endsAt,
  );
  const rest = meetings
    .filter((group) => !now.includes(group))
    .sort((a, b) => (a.today?.startsAt ?? "99").localeCompare(b.today?.startsAt ?? "99"));
  if (meetings.length === 0) return null;
  return (
    <section aria-labelledby="groups">
      <h2 id="groups" className="start-head">
        Groups
      </h2>
      <ul>
        {[...now, ...rest].map((group) => {
          const members = membersOf(group.studentIds);
          return (
            <li key={group.groupId} className="start-row">
              <p className="min-w-0 flex-1">
                <b>{group.name}</b>{" "}
                <span className="text-fine text-soft">
                  {now.includes(group)
                    ? `meets now, until ${group.today?.endsAt}`
                    : group.today
                      ? `today ${group.today.startsAt}–${group.today.endsAt}`
                      : "not today"}
                  {" · "}
                  {members.map(({ screenName }) => screenName).join(", ")}
                </span>
              </p>
              <button
                type="button"
                className={`btn h-11 ${now.includes(group) ? "btn-primary" : "btn-plain"}`}
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
