import type { DeviceLock, SealedKey } from "#core/sync/device-lock.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { sealedByPin } from "../auth/pin.ts";
import { notFound } from "../errors.ts";
import { noteSecurity } from "../failure.ts";
import { recordEvent } from "./events.ts";
import { hoursOfHandover, pinUnchanged } from "./handovers.ts";

/** How the school's tablets guard what they keep. */
export interface TabletSettings {
  /** Days, 1 to 30. */
  offlineDays: number;
  /** Minutes, 1 to 240; null where no PIN is asked. */
  pinMinutes: number | null;
}

/** For how long a device keeps what it records with readable, and when its screens ask for the PIN. */
export async function readTabletSettings({ trx, schoolId }: Scope): Promise<TabletSettings> {
  const row =
    (await trx("schools").where({ school_id: schoolId }).first("offline_days", "pin_minutes")) ?? notFound();
  return { offlineDays: row.offline_days, pinMinutes: row.pin_minutes };
}

/** Says how the school's tablets guard what they keep. Each tablet knows it once it has been online again. */
export async function saveTabletSettings(scope: PersonScope, settings: TabletSettings): Promise<void> {
  requirePermission(scope, "school.edit");
  await scope
    .trx("schools")
    .where({ school_id: scope.schoolId })
    .update({ offline_days: settings.offlineDays, pin_minutes: settings.pinMinutes });
  await recordEvent(scope, { act: "changed", thing: "school", thingId: null, studentId: null });
}

/** A device's own key, sealed with the PIN of a person of the school; null where they have none, or one from before there was a key to it. */
export async function sealedForPin(
  { trx, schoolId }: Scope,
  personId: string,
  deviceKey: Buffer,
): Promise<SealedKey | null> {
  const row = await trx("pins")
    .where({ school_id: schoolId, person_id: personId })
    .first("lock_key", "lock_salt");
  return row?.lock_key && row.lock_salt
    ? sealedByPin({ key: row.lock_key, salt: row.lock_salt }, deviceKey)
    : null;
}

/** How a device of this person guards what it keeps. */
export async function readDeviceLock(scope: PersonScope, deviceKey: Buffer): Promise<DeviceLock> {
  const { offlineDays, pinMinutes } = await readTabletSettings(scope);
  const sealed = pinMinutes === null ? null : await sealedForPin(scope, scope.actor.personId, deviceKey);
  return { days: offlineDays, minutes: pinMinutes, sealed };
}

/** The PINs, as they are kept, that open a locked device of this person: their own, and of who has it in hand by theirs. */
export async function listPinsThatOpen(
  { trx, schoolId, actor, now }: PersonScope,
  handoverId: string | null,
): Promise<string[]> {
  const { rows } = await trx.raw<{ rows: { pin_hash: string }[] }>(
    `select n.pin_hash from pins n where n.school_id = :schoolId and (n.person_id = :personId or n.person_id in (
       select h.person_id from handovers h where h.school_id = n.school_id and h.handover_id = :handoverId and h.from_id = :personId
         and h.ended_at is null and h.at > :now::timestamptz - make_interval(hours => :hours) and ${pinUnchanged("clock_now()")}))`,
    { schoolId, personId: actor.personId, handoverId, now, hours: hoursOfHandover },
  );
  return rows.map(({ pin_hash }) => pin_hash);
}

/** Notes that a person's PIN was wrong so often on their own device, so that it is seen. */
export async function noteWrongPins(scope: PersonScope, times: number): Promise<void> {
  if (times > 0) noteSecurity("PIN failed", { why: "unlock" });
  for (let time = 0; time < times; time += 1)
    await recordEvent(scope, {
      ...{ thing: "pin", act: "refused" },
      ...{ thingId: scope.actor.personId, studentId: null },
    });
}

/** Seconds since the person of this session signed in. */
export async function secondsSinceSignIn({ trx, actor }: PersonScope): Promise<number> {
  const { rows } = await trx.raw<{ rows: { age: number | null }[] }>("select gate.session_age(?) as age", [
    actor.session,
  ]);
  return rows[0]?.age ?? Infinity;
}
