import { useState } from "react";
import { useNavigate } from "react-router";
import type { PackedStudent } from "#core/sync/pack.ts";
import { listed } from "#core/words/lists.ts";
import { type Device, rememberChosen } from "../device/device.ts";
import type { Together } from "../device/use-together.ts";
import { localDay } from "#core/dates/school-time.ts";
import { useNow } from "./use-sitting.ts";
import { GoingOn, Groups, StillOpen, StartRow } from "./start-lists.tsx";
import { beginSitting } from "./store.ts";

type ChosenGoals = Readonly<Record<string, readonly string[]>>;

/** The goals a student starts with: those due today, and those of the last time; the first where there are none. */
function startingGoals(student: PackedStudent, today: string, last: readonly string[]): string[] {
  const goals = student.goals.filter(({ goalId, dueOn }) => dueOn.includes(today) || last.includes(goalId));
  return (goals.length > 0 ? goals : student.goals.slice(0, 1)).map(({ goalId }) => goalId);
}

/** Where a sitting begins: what was left open, the groups that meet, and every student with what is due. */
export function StartView({ device, together }: { device: Device; together: Together }) {
  const navigate = useNavigate();
  const { pack } = device;
  const now = useNow(true, 30_000);
  const today = localDay(pack.timeZone, now);
  const [changed, setChanged] = useState<ChosenGoals>({});
  const [beside, setBeside] = useState(false);
  const [picked, setPicked] = useState<readonly string[]>([]);
  const goalsOf = (student: PackedStudent) =>
    changed[student.studentId] ?? startingGoals(student, today, device.kept.chosen[student.studentId] ?? []);
  const toggle = (student: PackedStudent, goalId: string) => {
    const chosen = goalsOf(student);
    setChanged({
      ...changed,
      [student.studentId]: chosen.includes(goalId)
        ? chosen.filter((one) => one !== goalId)
        : [...chosen, goalId],
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
    const sittingId = await beginSitting(device, chosen, beside ? { withSittingId: null, name: null } : null);
    void rememberChosen(
      device,
      Object.fromEntries(chosen.map(({ student, goalIds }) => [student.studentId, goalIds])),
    );
    await navigate(`/record?sitting=${sittingId}`);
  }
  async function join({ sittingId, name, goals }: Together["sittings"][number]): Promise<void> {
    const chosen = pack.students
      .map((student) => ({
        student,
        goalIds: goals.filter(({ studentId }) => studentId === student.studentId).map(({ goalId }) => goalId),
      }))
      .filter(({ goalIds }) => goalIds.length > 0);
    const mine = await beginSitting(device, chosen, { withSittingId: sittingId, name });
    await navigate(`/record?sitting=${mine}`);
  }
  const byId = new Map(pack.students.map((student) => [student.studentId, student]));
  const membersOf = (ids: readonly string[]) => ids.flatMap((studentId) => byId.get(studentId) ?? []);
  const pickedStudents = membersOf(picked);
  const goalCount = pickedStudents.reduce((sum, student) => sum + goalsOf(student).length, 0);
  return (
    <div className="mx-auto grid w-full max-w-4xl gap-6 pb-28">
      <StillOpen device={device} />
      <GoingOn pack={pack} sittings={together.sittings} onJoin={(sitting) => void join(sitting)} />
      <Groups pack={pack} today={today} now={now} membersOf={membersOf} onStart={start} />
      <section aria-labelledby="students">
        <h2 id="students" className="start-head">
          Students
        </h2>
        {pack.students.length === 0 ? (
          <p className="py-3">
            You cannot record for any student yet. Ask a case manager to add you to a student’s circle.
          </p>
        ) : (
          <ul>
            {pack.students.map((student) => (
              <StartRow
                key={student.studentId}
                student={student}
                today={today}
                goalIds={goalsOf(student)}
                together={picked.includes(student.studentId)}
                onToggle={(goalId) => toggle(student, goalId)}
                onTogether={() =>
                  setPicked(
                    picked.includes(student.studentId)
                      ? picked.filter((one) => one !== student.studentId)
                      : [...picked, student.studentId],
                  )
                }
                onStart={() => void start([student])}
              />
            ))}
          </ul>
        )}
        <label className="mt-2 flex min-h-11 items-center gap-2 text-fine text-soft">
          <input
            type="checkbox"
            className="size-5 accent-primary"
            checked={beside}
            onChange={({ target }) => setBeside(target.checked)}
          />
          As second observer: compared with what another person records at the same time, and not counted
        </label>
      </section>
      {picked.length > 0 ? (
        <div className="save-bar fixed! inset-x-0 px-6!">
          <p className="min-w-0 flex-1">
            {listed(pickedStudents.map(({ screenName }) => screenName))}, {goalCount}{" "}
            {goalCount === 1 ? "goal" : "goals"}
          </p>
          <button
            type="button"
            className="btn btn-primary h-12 px-8"
            disabled={goalCount === 0}
            onClick={() => void start(pickedStudents)}
          >
            Start together
          </button>
        </div>
      ) : null}
    </div>
  );
}
