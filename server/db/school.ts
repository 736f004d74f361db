import type { Actor, CircleRole } from "../access/actor.ts";
import type { Scope } from "../access/scope.ts";
import type { Database } from "./connection.ts";

interface Entered {
  circle_role: CircleRole | null;
  moment: Date;
  local_time: string | null;
  time_zone: string | null;
}

/**
 * One short transaction of one actor inside their school: the only way school data are reached. Row-level security shows nothing
 * outside it. Nothing from outside is awaited in it and nothing is streamed from it.
 *
 * @param studentId the student it is about, if any: `circleRole` is then the person's role in that student's circle
 */
export function withScope<A extends Actor, T>(
  database: Database,
  actor: A,
  studentId: string | null,
  work: (scope: Scope<A>) => Promise<T>,
): Promise<T> {
  return database.transaction(async (trx) => {
    const personId = actor.kind === "person" ? actor.personId : null;
    const { rows } = await trx.raw<{ rows: Entered[] }>("select * from enter_school(?, ?, ?)", [
      actor.schoolId,
      personId,
      studentId,
    ]);
    const row = rows[0];
    if (!row) throw new Error("enter_school answered nothing");
    // A school that is not there has no time of its own, and no rows to show.
    const local = row.local_time ?? "";
    return work({
      actor,
      schoolId: actor.schoolId,
      timeZone: row.time_zone ?? "UTC",
      studentId,
      circleRole: row.circle_role,
      trx,
      now: row.moment,
      localNow: local.slice(0, 16),
      today: local.slice(0, 10),
    });
  });
}
