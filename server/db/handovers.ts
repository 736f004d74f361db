import type { Colleague } from "#core/sync/pack.ts";
import { v7 as newId } from "uuid";
import type { PersonScope, Scope } from "../access/scope.ts";
import { notFound } from "../errors.ts";
import type { PinKey } from "../auth/pin.ts";
import { keyIn } from "./app-key.ts";
import { recordEvent } from "./events.ts";
import type { PersonActor } from "../access/actor.ts";
import { shortName } from "#core/model/student-names.ts";

/** How long a handed-over device records for whoever took it: a school day. */
export const hoursOfHandover = 16;

/** Sets, changes or (null) gives up one's own PIN: its hash, and the key made of it for locked devices. */
export async function setPin(scope: PersonScope, pin: { hash: string; lock: PinKey } | null): Promise<void> {
  const { trx, schoolId, actor } = scope;
  const key = { school_id: schoolId, person_id: actor.personId };
  if (pin === null) await trx("pins").where(key).delete();
  else
    await trx("pins")
      .insert({
        ...key,
        pin_hash: pin.hash,
        lock_key: pin.lock.key,
        lock_salt: pin.lock.salt,
        set_at: trx.raw("clock_now()"),
      })
      .onConflict(["school_id", "person_id"])
      .merge(["pin_hash", "lock_key", "lock_salt", "set_at"]);
  await recordEvent(scope, {
    act: pin === null ? "given up" : "set",
    thing: "pin",
    thingId: actor.personId,
    studentId: null,
  });
}

/** When this person set their PIN, ISO; null where there is none. */
export async function pinSetAt({ trx, schoolId, actor }: PersonScope): Promise<string | null> {
  const found: { set_at: Date } | undefined = await trx("pins")
    .where({ school_id: schoolId, person_id: actor.personId })
    .first("set_at");
  return found?.set_at.toISOString() ?? null;
}

/** The PIN of a colleague as it is kept; null where there is none, or no such colleague. */
export async function pinHashOf({ trx, schoolId }: Scope, personId: string): Promise<string | null> {
  const { rows } = await trx.raw<{ rows: { pin_hash: string }[] }>(
    `select n.pin_hash from pins n join people p on p.school_id = n.school_id and p.person_id = n.person_id
     where n.school_id = ? and n.person_id = ? and p.left_on is null`,
    [schoolId, personId],
  );
  return rows[0]?.pin_hash ?? null;
}

/** Notes that this person's device was taken over by another, who gave their PIN. */
export async function keepHandover(scope: PersonScope, personId: string): Promise<string> {
  const handoverId = newId();
  await scope.trx.raw("select gate.hand_over(?, ?, ?)", [keyIn(scope.trx), handoverId, personId]);
  await recordEvent(scope, { act: "handed over", thing: "device", thingId: personId, studentId: null });
  return handoverId;
}

/** A device that records in this person's name now. */
export interface OpenHandover {
  handoverId: string;
  /** Whose device it is. */
  from: string;
  /** Since when, in the school's own day and time. */
  on: string;
  time: string;
}

/** The devices of colleagues that record in this person's name now, the latest first. */
export async function listOpenHandovers(scope: PersonScope): Promise<OpenHandover[]> {
  const { trx, schoolId, actor, timeZone } = scope;
  const { rows } = await trx.raw<{
    rows: { handover_id: string; on: string; time: string; given_name: string; family_name: string }[];
  }>(
    `select h.handover_id, (h.at at time zone :timeZone)::date as on, to_char(h.at at time zone :timeZone, 'HH24:MI') as time,
       p.given_name, p.family_name
     from handovers h join people p on p.school_id = h.school_id and p.person_id = h.from_id
     where h.school_id = :schoolId and h.person_id = :personId and h.ended_at is null
       and h.at > :now::timestamptz - make_interval(hours => :hours) and ${pinUnchanged("clock_now()")}
     order by h.at desc`,
    { schoolId, personId: actor.personId, timeZone, now: scope.now, hours: hoursOfHandover },
  );
  return rows.map(({ handover_id, on, time, given_name, family_name }) => ({
    ...{ handoverId: handover_id, from: shortName(given_name, family_name), on, time },
  }));
}

/** Ends a hand-over that this person gave or took. Ended twice is ended once. */
export async function endHandover(scope: PersonScope, handoverId: string): Promise<void> {
  const { trx, schoolId, actor, now } = scope;
  const ended = await trx("handovers")
    .where({ school_id: schoolId, handover_id: handoverId })
    .whereNull("ended_at")
    .whereRaw("? in (from_id, person_id)", [actor.personId])
    .update({ ended_at: now })
    .returning("person_id");
  if (ended[0])
    await recordEvent(scope, {
      ...{ act: "given back", thing: "device" },
      ...{ thingId: ended[0].person_id, studentId: null },
    });
}

/** SQL: has the one who took the device over kept their PIN from then until a moment, given as SQL? */
export const pinUnchanged = (
  until: string,
) => `not exists (select 1 from audit a where a.school_id = h.school_id and a.student_id is null
  and a.thing = 'pin' and a.thing_id = h.person_id and a.act in ('set', 'given up') and a.at > h.at and a.at <= ${until})`;

/**
 * Did this person's device belong to the other at that moment? Within a school day of the hand-over, until it was ended, and until the other
 * changed their PIN or gave it up: who does that takes every device back.
 */
export async function isHandedOver(
  { trx, schoolId, actor }: PersonScope,
  handover: { handoverId: string; personId: string; at: Date },
): Promise<boolean> {
  const { rows } = await trx.raw<{ rows: unknown[] }>(
    `select 1 from handovers h where h.school_id = :schoolId and h.handover_id = :handoverId and h.from_id = :fromId
       and h.person_id = :personId
       and :at::timestamptz between h.at - interval '5 minutes' and h.at + make_interval(hours => :hours)
       and (h.ended_at is null or h.ended_at >= :at::timestamptz) and ${pinUnchanged(":at::timestamptz")}`,
    {
      schoolId,
      fromId: actor.personId,
      handoverId: handover.handoverId,
      personId: handover.personId,
      at: handover.at.toISOString(),
      hours: hoursOfHandover,
    },
  );
  if (rows.length === 0) return false;
  // From here on the colleague's students are within reach of this transaction, beside the person's own.
  await trx.raw("select gate.enter_for_colleague(?)", [handover.handoverId]);
  return true;
}

/** A colleague of this school as every query needs to know them; "not found" for anyone else and for who has left. */
export async function findColleague(
  { trx, schoolId, actor }: PersonScope,
  personId: string,
): Promise<PersonActor> {
  const { rows } = await trx.raw<{
    rows: { given_name: string; family_name: string; role: PersonActor["role"]; case_manager: boolean }[];
  }>(
    `select given_name, family_name, role, case_manager from people
     where school_id = ? and person_id = ? and left_on is null`,
    [schoolId, personId],
  );
  const row = rows[0] ?? notFound();
  return {
    ...actor,
    personId,
    givenName: row.given_name,
    familyName: row.family_name,
    role: row.role,
    caseManager: row.case_manager,
  };
}

/** Whom one may name as observer without their PIN: somebody with whom one shares, or shared, a student. */
export async function findObserver(scope: PersonScope, personId: string): Promise<PersonActor> {
  const { trx, schoolId, actor } = scope;
  const { rows } = await trx.raw<{ rows: unknown[] }>(
    `select 1 from circle mine
     join circle theirs on theirs.school_id = mine.school_id and theirs.student_id = mine.student_id
     where mine.school_id = ? and mine.person_id = ? and theirs.person_id = ? limit 1`,
    [schoolId, actor.personId, personId],
  );
  return rows.length > 0 ? findColleague(scope, personId) : notFound();
}

/** Everyone else who works with a student of this person, by name. */
export async function listColleagues({ trx, schoolId, actor }: PersonScope): Promise<Colleague[]> {
  const { rows } = await trx.raw<{
    rows: { person_id: string; given_name: string; family_name: string; pin: boolean }[];
  }>(
    `select distinct p.person_id, p.given_name, p.family_name,
       exists (select 1 from pins n where n.school_id = p.school_id and n.person_id = p.person_id) as pin
     from circle mine
     join circle theirs on theirs.school_id = mine.school_id and theirs.student_id = mine.student_id
       and theirs.person_id <> mine.person_id
     join people p on p.school_id = theirs.school_id and p.person_id = theirs.person_id
     where mine.school_id = :schoolId and mine.person_id = :personId and p.left_on is null
       and in_circle_now(mine.from_on, mine.to_on) and in_circle_now(theirs.from_on, theirs.to_on) and theirs.part <> 'read'
     order by p.given_name, p.family_name, p.person_id`,
    { schoolId, personId: actor.personId },
  );
  return rows.map((row) => ({
    personId: row.person_id,
    name: shortName(row.given_name, row.family_name),
    pin: row.pin,
  }));
}
