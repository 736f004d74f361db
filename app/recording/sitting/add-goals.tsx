import { SheetDialog } from "#app/ui/sheet.tsx";
import type { Device } from "../device/device.ts";
import type { SittingStore } from "./store.ts";
import { useSitting } from "./use-sitting.ts";

/** Adds goals or students to an open sitting. What is in it already stays. */
export function AddGoals({
  device,
  store,
  onClose,
}: {
  device: Device;
  store: SittingStore;
  onClose: () => void;
}) {
  const { students } = useSitting(store);
  const inSitting = new Set(students.flatMap(({ goalIds }) => goalIds));
  const here = new Set(students.map(({ studentId }) => studentId));
  // Who sits there already comes first.
  const sorted = [...device.pack.students].sort(
    (a, b) => Number(here.has(b.studentId)) - Number(here.has(a.studentId)),
  );
  return (
    <SheetDialog label="Add goals" onClose={onClose}>
      <div className="grid gap-3 p-5">
        <h2 className="font-serif text-lg font-semibold">Add goals to this sitting</h2>
        <ul className="max-h-[55dvh] overflow-y-auto">
          {sorted.map((student) => (
            <li key={student.studentId} className="start-row">
              <b className="min-w-14" dir="auto">
                {student.screenName}
              </b>
              <span className="flex min-w-0 flex-1 flex-wrap gap-1.5">
                {student.goals.map(({ goalId, number, title }) => (
                  <button
                    key={goalId}
                    type="button"
                    className="goal-tab"
                    title={title}
                    aria-label={`${number} ${title}, ${student.screenName}`}
                    aria-pressed={inSitting.has(goalId)}
                    disabled={inSitting.has(goalId)}
                    onClick={() => store.add(student, [goalId])}
                  >
                    {number}
                    {inSitting.has(goalId) ? <span aria-hidden="true">✓</span> : null}
                  </button>
                ))}
              </span>
            </li>
          ))}
        </ul>
        <button type="button" className="btn btn-primary h-12" onClick={onClose}>
          Back to the sitting
        </button>
      </div>
    </SheetDialog>
  );
}
