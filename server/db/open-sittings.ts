import { may } from "../access/table.ts";
import type { PersonScope } from "../access/scope.ts";
import { shortName } from "#core/model/student-names.ts";
import { listCircleRoles } from "./students.ts";

/** A sitting that is going on, as its device tells of it. */
export interface OpenSitting {
  sittingId: string;
  /** ISO, by the device. */
  startedAt: string;
  goals: { studentId: string; goalId: string }[];
}

/** How long a sitting counts as going on after its device last told of it. */
const hoursUnheard = 3;

/** Notes which sittings a person has open on a device; those it had before and has no more are over. */
export async function noteOpenSittings(
  { trx, schoolId, actor }: PersonScope,
  deviceId: string,
  open: readonly OpenSitting[],
): Promise<void> {
  await trx("open_sittings")
    .where({ school_id: schoolId, person_id: actor.personId, device_id: deviceId })
    .whereNotIn(
      "sitting_id",
      open.map(({ sittingId }) => sittingId),
    )
    .delete();
  if (open.length === 0) return;
  await trx.raw(
    `insert into open_sittings (school_id, sitting_id, person_id, device_id, started_at, goals)
     select :schoolId, o.sitting_id, :personId, :deviceId, o.started_at, o.goals
     from jsonb_to_recordset(:open) as o (sitting_id uuid, started_at timestamptz, goals jsonb)
     on conflict (school_id, sitting_id) do update set seen_at = clock_now(), goals = excluded.goals
       where open_sittings.person_id = excluded.person_id`,
    {
      ...{ schoolId, personId: actor.personId, deviceId },
      open: JSON.stringify(
        open.map(({ sittingId, startedAt, goals }) => ({
          ...{ sitting_id: sittingId, started_at: startedAt, goals },
        })),
      ),
    },
  );
}

export interface ElsewhereSitting {
  sittingId: string;
  /** Whose it is. */
  name: string;
  /** Milliseconds since 1970. */
  startedAt: number;
  goals: { studentId: string; goalId: string }[];
}

/** The sittings of others that go on now, with those of their goals for which this person may record. */
export async function listSittingsElsewhere(scope: PersonScope): Promise<ElsewhereSitting[]> {
  const { trx, schoolId, actor } = scope;
  const { rows } = await trx.raw<{
    rows: {
      sitting_id: string;
      given_name: string;
      family_name: string;
      started_at: Date;
      goals: { studentId: string; goalId: string }[];
    }[];
  }>(
    `select o.sitting_id, o.started_at, o.goals, p.given_name, p.family_name from open_sittings o
     join people p on p.school_id = o.school_id and p.person_id = o.person_id
     where o.school_id = :schoolId and o.person_id <> :personId
       and o.seen_at > clock_now() - make_interval(hours => :hours) order by o.started_at desc limit 50`,
    { schoolId, personId: actor.personId, hours: hoursUnheard },
  );
  const students = [...new Set(rows.flatMap(({ goals }) => goals.map(({ studentId }) => studentId)))];
  const mine = new Set(
    (await listCircleRoles(scope, students))
      .filter(({ circleRole }) => may(actor, "entry.record", { circleRole }))
      .map(({ studentId }) => studentId),
  );
  return rows
    .map((row) => ({
      sittingId: row.sitting_id,
      name: shortName(row.given_name, row.family_name),
      startedAt: row.started_at.getTime(),
      goals: row.goals.filter(({ studentId }) => mine.has(studentId)),
    }))
    .filter(({ goals }) => goals.length > 0);
}
