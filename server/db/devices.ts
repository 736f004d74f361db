import { randomBytes } from "node:crypto";
import { keyIn, type KeyedRun } from "./app-key.ts";
import { recordEvent } from "./events.ts";
import { type PersonScope, requirePermission } from "../access/scope.ts";

/**
 * Returns the key with which a device seals what it keeps of this person; made when the device is first seen. Null once it is
 * forgotten: what the device still holds can then be read by nobody.
 */
export async function registerDevice(
  { trx, schoolId, actor }: PersonScope,
  deviceId: string,
  name: string,
): Promise<Buffer | null> {
  const { rows } = await trx.raw<{ rows: { key: Buffer | null }[] }>(
    `insert into device_keys (school_id, person_id, device_id, key, name)
     values (:schoolId, :personId, :deviceId, :key, :name)
     on conflict (school_id, person_id, device_id) do update set used_at = clock_now() returning key`,
    {
      schoolId,
      personId: actor.personId,
      deviceId,
      key: randomBytes(32),
      name,
    },
  );
  return rows[0]?.key ?? null;
}

/** The key of one of this person's own devices; null where it is none of theirs, or forgotten. */
export async function findDeviceKey(
  { trx, schoolId, actor }: PersonScope,
  deviceId: string,
): Promise<Buffer | null> {
  const row = await trx("device_keys")
    .where({ school_id: schoolId, person_id: actor.personId, device_id: deviceId })
    .first("key");
  return row?.key ?? null;
}

/** A device of somebody who has left its school within 60 days, by what only it and the server know; null where there is none such. */
export async function findGoneDevice(
  database: KeyedRun,
  personId: string,
  deviceId: string,
): Promise<{ schoolId: string; key: Buffer } | null> {
  const { rows } = await database.raw<{ rows: { school_id: string; device_key: Buffer }[] }>(
    "select * from gate.device_of_gone(?, ?, ?)",
    [keyIn(database), personId, deviceId],
  );
  return rows[0] ? { schoolId: rows[0].school_id, key: rows[0].device_key } : null;
}

export interface KnownDevice {
  deviceId: string;
  name: string;
  usedOn: string;
}

interface DeviceRow {
  device_id: string;
  name: string;
  used_on: string;
}
const known = ({ device_id, name, used_on }: DeviceRow): KnownDevice => ({
  ...{ deviceId: device_id, name, usedOn: used_on },
});

/** The devices that keep something for this person, last used first. */
export async function listDevices({ trx, schoolId, actor, timeZone }: PersonScope): Promise<KnownDevice[]> {
  const { rows } = await trx.raw<{ rows: DeviceRow[] }>(
    `select device_id, name, (used_at at time zone :timeZone)::date as used_on from device_keys
     where school_id = :schoolId and person_id = :personId and forgotten_at is null order by used_at desc`,
    { schoolId, personId: actor.personId, timeZone },
  );
  return rows.map(known);
}

/** The devices of a person of the school, for its administrators. */
export async function listDevicesHere(scope: PersonScope, personId: string): Promise<KnownDevice[]> {
  requirePermission(scope, "staff.edit");
  const { rows } = await scope.trx.raw<{ rows: DeviceRow[] }>(
    "select device_id, name, (used_at at time zone ?)::date as used_on from gate.devices_here(?)",
    [scope.timeZone, personId],
  );
  return rows.map(known);
}

/** Deletes the key of a person's device, as they could themselves. False where there is none. */
export async function forgetDeviceHere(
  scope: PersonScope,
  personId: string,
  deviceId: string,
): Promise<boolean> {
  requirePermission(scope, "staff.edit");
  const { rows } = await scope.trx.raw<{ rows: { done: boolean }[] }>(
    "select gate.forget_device_here(?, ?) as done",
    [personId, deviceId],
  );
  const done = rows[0]?.done ?? false;
  if (done)
    await recordEvent(scope, { act: "forgotten", thing: "device", thingId: deviceId, studentId: null });
  return done;
}

/** Deletes the key of a device, so that nobody can read what it still holds. */
export async function forgetDevice(scope: PersonScope, deviceId: string): Promise<void> {
  const { trx, schoolId, actor } = scope;
  await trx.raw(
    `update device_keys set key = null, forgotten_at = clock_now()
     where school_id = ? and person_id = ? and device_id = ? and forgotten_at is null`,
    [schoolId, actor.personId, deviceId],
  );
  await recordEvent(scope, { act: "forgotten", thing: "device", thingId: deviceId, studentId: null });
}
