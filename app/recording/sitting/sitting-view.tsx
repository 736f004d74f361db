import { timeOfDay } from "#core/words/dates.ts";
import { lazy, Suspense, useCallback, useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { openQuestion } from "#core/sitting/read-sheet.ts";
import type { Device } from "../device/device.ts";
import { HolderButton } from "./holder.tsx";
import { NameSelect } from "./name-select.tsx";
import { noSchoolToday, rightTime } from "../right-time.ts";
import { localTime } from "#core/dates/school-time.ts";
import { isTouched, readingOf } from "./sheet.ts";
import { StudentPlace, type SittingStudent, StudentTile, turnOf } from "./student-place.tsx";
import { useSittingKeys } from "./sitting-keys.ts";
import type { SittingStore } from "./store.ts";
import { useKept, useNow, useSheet, useSitting } from "./use-sitting.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { say } from "#app/ui/say.ts";

/** Loaded after the page: most sittings end with the goals they began with. */
export const loadAddGoals = () => import("./add-goals.tsx");
const AddGoals = lazy(() => loadAddGoals().then(({ AddGoals }) => ({ default: AddGoals })));

/** Keeps the screen awake while a sitting is open, where the device can. */
function useWakeLock(): void {
  useEffect(() => {
    let lock: WakeLockSentinel | null = null;
    const ask = () => {
      if (document.visibilityState !== "visible" || !("wakeLock" in navigator)) return;
      navigator.wakeLock.request("screen").then(
        (given) => (lock = given),
        () => undefined,
      );
    };
    ask();
    document.addEventListener("visibilitychange", ask);
    return () => {
      document.removeEventListener("visibilitychange", ask);
      void lock?.release();
    };
  }, []);
}

/** The time at the school, whatever the device's clock and time zone say. */
function ClockOfSitting({ device: { pack, kept } }: { device: Device }) {
  return <time>{timeOfDay(localTime(pack.timeZone, rightTime(useNow(true, 10_000), kept.clockAhead)))}</time>;
}

/** The entry that a sitting of one goal would be saved as. Where nothing is open it is saved without a review. */
function SaveOne({
  store,
  goalId,
  asksNoSchool,
  onReview,
  onSave,
}: {
  store: SittingStore;
  goalId: string;
  /** Is today a day without school, which the review asks about? */
  asksNoSchool: boolean;
  onReview: () => void;
  onSave: () => void;
}) {
  const sheet = useSheet(store, goalId);
  const reading = readingOf(sheet, useNow(true, 2000));
  const question = openQuestion(sheet.goal.measure, sheet.marks, sheet.goal.planned);
  const plain =
    sheet.state === null &&
    reading.state === "ready" &&
    !asksNoSchool &&
    // More trials than planned stand on the button itself; fewer are asked about.
    (question === null || (sheet.goal.measure.kind === "trials" && question.about === "more than planned"));
  const { numerator, denominator } =
    "score" in reading ? reading.score : { numerator: null, denominator: null };
  const figure = numerator !== null && denominator !== null ? ` ${numerator} of ${denominator}` : "";
  return (
    <button
      type="button"
      className="btn btn-primary h-12 px-6"
      disabled={!isTouched(sheet)}
      onClick={plain ? onSave : onReview}
    >
      {plain ? `Save${figure}` : "Finish"}
    </button>
  );
}

/** "W.A., T.B.", "12 students" */
const namesOf = (students: readonly SittingStudent[]) =>
  students.length > 4
    ? `${students.length} students`
    : students.map(({ screenName }) => screenName).join(", ");

/** Who is in view together: everyone of up to four, else three at a time, in their order. */
const besideOf = (students: readonly SittingStudent[], at: number) => {
  const first = students.length > 4 ? at - (at % 3) : 0;
  return students.slice(first, students.length > 4 ? first + 3 : undefined).map(({ studentId }) => studentId);
};

export function SittingView({
  device,
  store,
  shownFirst,
  onReview,
  onSave,
}: {
  device: Device;
  store: SittingStore;
  /** The goal to begin at; the first one where it is null. */
  shownFirst: string | null;
  onReview: () => void;
  onSave: () => void;
}) {
  const { pack } = device;
  const navigate = useNavigate();
  const { students, setting, second } = useSitting(store);
  const [adding, setAdding] = useState(false);
  const kept = useKept(store);
  const [shown, setShown] = useState<Readonly<Record<string, string>>>(() =>
    Object.fromEntries(
      students.map(({ studentId, goalIds }) => [
        studentId,
        goalIds.find((goalId) => goalId === shownFirst) ?? goalIds[0] ?? "",
      ]),
    ),
  );
  const [turn] = useState(() =>
    turnOf(
      (students.find(({ goalIds }) => shownFirst !== null && goalIds.includes(shownFirst)) ?? students[0])
        ?.studentId ?? "",
    ),
  );
  const shownOf = ({ studentId, goalIds }: SittingStudent) => shown[studentId] ?? goalIds[0] ?? "";
  useWakeLock();
  const show = useCallback(
    (studentId: string, goalId: string) => {
      turn.give(studentId);
      setShown((before) => (before[studentId] === goalId ? before : { ...before, [studentId]: goalId }));
    },
    [turn],
  );
  const step = (by: 1 | -1) => {
    // With one student the arrow turns to the next goal; with several to the next student, whose goal stays as it is.
    const at = students.findIndex(({ studentId }) => studentId === turn.now());
    const next = students.at((at + by) % students.length);
    if (!next) return;
    let goalId = shownOf(next);
    if (students.length === 1)
      goalId = next.goalIds.at((next.goalIds.indexOf(goalId) + by) % next.goalIds.length) ?? goalId;
    show(next.studentId, goalId);
    const { number, title } = store.sheet(goalId).goal;
    say(`${next.screenName}, ${number} ${title}`);
  };
  useSittingKeys(step);
  const goalIds = students.flatMap((student) => student.goalIds);
  const [onlyGoal] = goalIds;
  return (
    <>
      <header className="sitting-head">
        <PageTitle
          title="Sitting"
          of={namesOf(students)}
          className="font-serif text-lg font-semibold max-sm:sr-only"
        />
        <p className="text-fine text-soft">
          <ClockOfSitting device={device} />
        </p>
        <HolderButton device={device} />
        <label className="ml-auto flex items-center gap-2 text-fine text-soft max-sm:hidden">
          Setting
          <NameSelect
            names={pack.settings}
            value={setting}
            onChoose={(name) => store.changeSitting((before) => ({ ...before, setting: name }))}
          />
        </label>
        <span className="flex flex-wrap gap-2 max-sm:ml-auto">
          <button
            type="button"
            className="btn btn-plain h-11"
            onClick={() => void navigate(`/record?incident=${turn.now()}`)}
          >
            Incident
          </button>
          <button type="button" className="btn btn-plain h-11" onClick={() => setAdding(true)}>
            Add goals
          </button>
          <button type="button" className="btn btn-plain h-11" onClick={() => void navigate("/record")}>
            Leave open
          </button>
        </span>
      </header>
      {second ? (
        <p className="mt-2 rounded-lg bg-arrival px-4 py-1.5 text-fine">
          <b>Beside {second.name ?? "another observer"}.</b> Neither sees the other’s marks. Compared
          afterwards, not counted.
        </p>
      ) : null}
      {adding ? (
        <Suspense>
          <AddGoals device={device} store={store} onClose={() => setAdding(false)} />
        </Suspense>
      ) : null}
      {kept ? null : (
        <p className="rounded-lg border border-warning px-4 py-2 font-bold text-warning" role="alert">
          This device does not keep your marks now: its storage is full, cleared or switched off. Go on, and
          save before you close the page: what you save goes straight to the server.
        </p>
      )}
      {students.length > 1 ? (
        <nav className="sitting-tiles" aria-label="Students of this sitting">
          {students.map((student) => (
            <StudentTile key={student.studentId} turn={turn} student={student} />
          ))}
        </nav>
      ) : null}
      <div className="sitting-columns" data-count={Math.min(students.length, 4)}>
        {students.map((student, at) => (
          <StudentPlace
            key={student.studentId}
            turn={turn}
            beside={besideOf(students, at)}
            store={store}
            student={student}
            device={device}
            isOne={students.length === 1}
            shownGoal={shownOf(student)}
            onShow={show}
          />
        ))}
      </div>
      <div className="save-bar mt-auto">
        {goalIds.length === 1 && onlyGoal ? (
          <SaveOne
            store={store}
            goalId={onlyGoal}
            asksNoSchool={noSchoolToday(device) !== null}
            onReview={onReview}
            onSave={onSave}
          />
        ) : (
          <button type="button" className="btn btn-primary h-12 px-8" onClick={onReview}>
            Finish
          </button>
        )}
        {goalIds.length > 1 ? (
          <button type="button" className="btn btn-plain h-12 px-6" onClick={() => step(1)}>
            {students.length > 1 ? "Next student" : "Next goal"} <span aria-hidden="true">→</span>
          </button>
        ) : null}
        <p className="text-fine text-soft max-sm:hidden">Each mark is saved on this device right away.</p>
      </div>
    </>
  );
}
