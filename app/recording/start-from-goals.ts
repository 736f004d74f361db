import { openDevice } from "./device/device.ts";
import { beginSitting } from "./sitting/store.ts";

/** Begins a sitting of these goals of one student. Null where this device cannot: the goal's form is the way then. */
export async function startFromGoals(studentId: string, goalIds: readonly string[]): Promise<string | null> {
  try {
    const { device } = await openDevice(() => undefined);
    const student = device?.pack.students.find((one) => one.studentId === studentId);
    if (!device || !student?.goals.some(({ goalId }) => goalIds.includes(goalId))) return null;
    return await beginSitting(device, [{ student, goalIds }]);
  } catch {
    return null;
  }
}
