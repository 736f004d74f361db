import { openDevice } from "./device/device.ts";
import { beginSitting } from "./sitting/store.ts";

/** Begins a sitting of one goal. Null where this device cannot: the goal's form is the way then. */
export async function startFromGoal(studentId: string, goalId: string): Promise<string | null> {
  try {
    const { device } = await openDevice(() => undefined);
    const student = device?.pack.students.find((one) => one.studentId === studentId);
    if (!device || !student?.goals.some((goal) => goal.goalId === goalId)) return null;
    return await beginSitting(device, [{ student, goalIds: [goalId] }]);
  } catch {
    return null;
  }
}
