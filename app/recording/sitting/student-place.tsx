import { memo, useCallback, useSyncExternalStore } from "react";
import type { Device } from "../device/device.ts";
import { shown } from "../shown.ts";
import { GoalPanel } from "./goal-panel.tsx";
import { isTouched } from "./sheet.ts";
import type { Sitting } from "#core/sync/kept.ts";
import type { SittingStore } from "./store.ts";
import { useSheet } from "./use-sitting.ts";
import { WhoseContext } from "#app/measures/whose.tsx";

export type SittingStudent = Sitting["students"][number];

/** One goal of a student's strip: its number, and whether something stands on it. */
const GoalTab = memo(function GoalTab({
  store,
  goalId,
  shown,
  onShow,
}: {
  store: SittingStore;
  goalId: string;
  shown: boolean;
  onShow: (goalId: string) => void;
}) {
  const sheet = useSheet(store, goalId);
  return (
    <button
      type="button"
      className="goal-tab"
      aria-pressed={shown}
      title={sheet.goal.title}
      aria-label={`${sheet.goal.number} ${sheet.goal.title}${isTouched(sheet) ? ", marked" : ""}`}
      onClick={() => onShow(goalId)}
    >
      {sheet.goal.number}
      {isTouched(sheet) ? <span className="tick" aria-hidden="true" /> : null}
    </button>
  );
});

/** Which student has the keys. It changes with most touches: only the two whom it concerns are drawn again. */
interface Turn {
  now: () => string;
  give: (studentId: string) => void;
  /** Calls back after the next paint, or at once when a key is pressed before it. */
  giveSoon: (studentId: string) => void;
  subscribe: (call: () => void) => () => void;
}

export function turnOf(first: string): Turn {
  let now = first;
  const calls = new Set<() => void>();
  let soon: string | null = null;
  function give(studentId: string): void {
    soon = null;
    if (studentId === now) return;
    now = studentId;
    calls.forEach((call) => call());
  }
  const giveNow = () => {
    removeEventListener("keydown", giveNow, true);
    if (soon !== null) give(soon);
  };
  return {
    now: () => now,
    give,
    giveSoon(studentId) {
      if (studentId === now && soon === null) return;
      soon = studentId;
      addEventListener("keydown", giveNow, true);
      void shown().then(giveNow);
    },
    subscribe(call) {
      calls.add(call);
      return () => calls.delete(call);
    },
  };
}

const useIsTurn = (turn: Turn, studentId: string) =>
  useSyncExternalStore(turn.subscribe, () => turn.now() === studentId);

export function StudentTile({ turn, student }: { turn: Turn; student: SittingStudent }) {
  const { studentId, screenName } = student;
  return (
    <button
      type="button"
      className="student-tile"
      aria-pressed={useIsTurn(turn, studentId)}
      onClick={() => turn.give(studentId)}
      dir="auto"
    >
      {screenName}
    </button>
  );
}

/**
 * Marks the panel that has the keys, without drawing the panel again. Of many students those are in view among whom is the one
 * with the keys; the clocks of the others go on.
 */
export function StudentPlace({
  turn,
  beside,
  ...column
}: { turn: Turn; beside: readonly string[] } & ColumnProps) {
  const active = useIsTurn(turn, column.student.studentId);
  const inView = useSyncExternalStore(turn.subscribe, () => beside.includes(turn.now()));
  return (
    <div className="sitting-place" data-shown={active || undefined} data-away={!inView || undefined}>
      <StudentColumn {...column} onTouch={turn.giveSoon} />
    </div>
  );
}

interface ColumnProps {
  store: SittingStore;
  student: SittingStudent;
  device: Device;
  /** Is there no other student? */
  isOne: boolean;
  shownGoal: string;
  onShow: (studentId: string, goalId: string) => void;
}

const StudentColumn = memo(function StudentColumn({
  store,
  student,
  device,
  isOne,
  shownGoal,
  onShow,
  onTouch,
}: ColumnProps & { onTouch: (studentId: string) => void }) {
  const { studentId } = student;
  const touch = useCallback(() => onTouch(studentId), [onTouch, studentId]);
  const show = useCallback((goalId: string) => onShow(studentId, goalId), [onShow, studentId]);
  return (
    <section className="sitting-column" aria-label={student.screenName}>
      <div className="flex flex-wrap items-center gap-2">
        <p
          className="column-tile rounded-lg bg-neutral px-4 py-2 text-fine font-bold text-neutral-content"
          dir="auto"
        >
          {student.screenName}
        </p>
        {student.goalIds.length > 1
          ? student.goalIds.map((goalId) => (
              <GoalTab
                key={goalId}
                store={store}
                goalId={goalId}
                shown={goalId === shownGoal}
                onShow={show}
              />
            ))
          : null}
      </div>
      <WhoseContext value={isOne ? null : student.screenName}>
        <GoalPanel key={shownGoal} store={store} goalId={shownGoal} device={device} onTouch={touch} />
      </WhoseContext>
    </section>
  );
});
