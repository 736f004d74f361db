import { openDevice } from "./device/device.ts";
import { beginSitting } from "./sitting/store.ts";

/** A student and the goals to begin with. */
export interface StartingGoals {
  studentId: string;
  goalIds: readonly string[];
}

/** Begins a sitting of these students and goals. Null where this device cannot: the goal's form is the way then. */
export async function startFromGoals(wanted: readonly StartingGoals[]): Promise<string | null> {
  try {
    const { device } = await openDevice(() => undefined);
    if (!device) return null;
    const chosen = wanted.flatMap(({ studentId, goalIds }) => {
      const student = device.pack.students.find((one) => one.studentId === studentId);
      return student?.goals.some(({ goalId }) => goalIds.includes(goalId)) ? [{ student, goalIds }] : [];
    });
    return chosen.length > 0 ? await beginSitting(device, chosen) : null;
  } catch {
    return null;
  }
}
