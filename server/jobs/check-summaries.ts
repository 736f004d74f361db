import type { JobActor } from "../access/actor.ts";
import { requirePermission, type Scope } from "../access/scope.ts";
import type { Database } from "../db/connection.ts";
import { recordEvent } from "../db/events.ts";
import { withScope } from "../db/school.ts";
import { type GoalKey, listGoalKeys, mendSummary } from "../db/summaries.ts";
import { log } from "../failure.ts";

/**
 * Compares the summary of every goal of a school with its entries, a short transaction for each goal, and mends what differs.
 * A difference is reported in the log, and in the audit of the student. Answers how many were looked at and how many mended.
 */
export async function checkSummaries(
  database: Database,
  schoolId: string,
  { again }: { again: boolean },
): Promise<{ goals: number; mended: number }> {
  const actor: JobActor = { kind: "job", schoolId, name: "check-summaries" };
  const inJob = <T>(studentId: string | null, work: (scope: Scope<JobActor>) => Promise<T>) =>
    withScope(database, actor, studentId, (scope) => {
      requirePermission(scope, "summaries.check");
      return work(scope);
    });
  const goals = await inJob(null, listGoalKeys);
  let mended = 0;
  const mend = async (scope: Scope, goal: GoalKey) => {
    if (!(await mendSummary(scope.trx, schoolId, goal))) return;
    mended += 1;
    await recordEvent(scope, {
      ...{ thing: "summaries", act: "mended" },
      ...{ thingId: goal.goalId, studentId: goal.studentId },
    });
  };
  for (const goal of goals) await inJob(goal.studentId, (scope) => mend(scope, goal));
  if (mended > 0) log[again ? "error" : "warn"]({ goals: goals.length, mended }, "summaries differed");
  return { goals: goals.length, mended };
}
