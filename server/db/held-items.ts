import type { JobActor, PersonActor } from "../access/actor.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { localMoment } from "#core/dates/school-time.ts";
import { type Queued, readQueued } from "#core/sync/queued.ts";
import { notFound } from "../errors.ts";
import { recordEvent } from "./events.ts";

/** What can be undone or decided only by who is in the circle is not held. */
const isHoldable = ({ kind }: Queued): boolean => kind !== "take back" && kind !== "same incident";

/** Holds what a person sent for a student they may no longer record for. */
export const holdItem = (scope: PersonScope, item: Queued, at: Date): Promise<boolean> =>
  holdItemOf(scope, scope.actor.personId, item, at);

/**
 * Holds what a person recorded for a student for whom they might when it was observed: before the last day of their part, or before the
 * moment at which it was ended or changed.
 *
 * @param at when it was observed, by the server's clock
 * @returns false where it was not theirs to record then either
 */
export async function holdItemOf(
  scope: Scope<PersonActor | JobActor>,
  personId: string,
  item: Queued,
  at: Date,
): Promise<boolean> {
  if (!isHoldable(item)) return false;
  const { trx, schoolId } = scope;
  const { rows } = await trx.raw<{ rows: { was: boolean }[] }>(
    `select exists (select 1 from circle c
       join people p on p.school_id = c.school_id and p.person_id = c.person_id and (p.left_on is null or p.left_on >= :day::date)
       where c.school_id = :schoolId and c.student_id = :studentId and c.person_id = :personId and c.from_on <= :day::date
         and ((c.part in ('lead', 'record') and coalesce(c.to_on, p.left_on) >= :day::date)
           or exists (select 1 from audit a where a.school_id = c.school_id and a.student_id = c.student_id and a.thing = 'circle'
             and a.thing_id = c.person_id and a.act in ('ended', 'changed', 'handed over') and a.at >= :at))
         and not exists (select 1 from audit a where a.school_id = c.school_id and a.student_id = c.student_id and a.thing = 'circle'
           and a.thing_id = c.person_id and a.act = 'added' and a.at > :at)) as was`,
    {
      ...{ schoolId, studentId: item.studentId, personId, at },
      day: localMoment(scope.timeZone, at.getTime()).slice(0, 10),
    },
  );
  if (!rows[0]?.was) return false;
  // The same item sent twice is held once.
  await trx("held_items")
    .insert({
      ...{ school_id: schoolId, item_id: item.id, student_id: item.studentId, person_id: personId },
      ...{ item: JSON.stringify(item), observed_at: at },
    })
    .onConflict(["school_id", "item_id"])
    .ignore();
  await recordEvent(scope, {
    ...{ thing: "held item", act: "received" },
    ...{ thingId: item.id, studentId: item.studentId },
  });
  return true;
}

/** An item that waits for a lead. Moments are the school's own, `YYYY-MM-DDTHH:MM`. */
export interface HeldItem {
  itemId: string;
  by: string;
  person: PersonActor;
  item: Queued;
  /** When it was observed, by the server's clock, ISO 8601. */
  at: string;
  observedAt: string;
  receivedAt: string;
}

/** What waits for a lead of a student, in the order in which it came. */
export async function listHeldItems(scope: PersonScope, studentId: string): Promise<HeldItem[]> {
  requirePermission(scope, "held.decide");
  const { rows } = await scope.trx.raw<{
    rows: {
      item_id: string;
      item: unknown;
      observed_at: Date;
      received_at: Date;
      person_id: string;
      role: PersonActor["role"];
      case_manager: boolean;
      given_name: string;
      family_name: string;
    }[];
  }>(
    `select h.item_id, h.item, h.observed_at, h.received_at, p.person_id, p.role, p.case_manager, p.given_name, p.family_name
     from held_items h join people p on p.school_id = h.school_id and p.person_id = h.person_id
     where h.school_id = ? and h.student_id = ? and h.decision is null order by h.received_at, h.item_id limit 200`,
    [scope.schoolId, studentId],
  );
  const local = (moment: Date) => localMoment(scope.timeZone, moment.getTime());
  return rows.flatMap((row) => {
    const item = readQueued(row.item);
    if (!item) return [];
    const person: PersonActor = {
      ...{ ...scope.actor, personId: row.person_id, role: row.role, caseManager: row.case_manager },
      ...{ givenName: row.given_name, familyName: row.family_name },
    };
    return [
      {
        ...{ itemId: row.item_id, by: `${row.given_name} ${row.family_name}`, person, item },
        at: row.observed_at.toISOString(),
        ...{ observedAt: local(row.observed_at), receivedAt: local(row.received_at) },
      },
    ];
  });
}

/** Notes what a lead decided about an item that was held. */
export async function decideHeldItem(
  scope: PersonScope,
  studentId: string,
  itemId: string,
  decision: "accepted" | "left out",
): Promise<void> {
  requirePermission(scope, "held.decide");
  const changed = await scope
    .trx("held_items")
    .where({ school_id: scope.schoolId, student_id: studentId, item_id: itemId, decision: null })
    .update({ decision, decided_by: scope.actor.personId, decided_at: scope.now });
  if (changed === 0) notFound();
  await recordEvent(scope, { thing: "held item", act: decision, thingId: itemId, studentId });
}
