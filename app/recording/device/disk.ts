import { type DBSchema, type IDBPDatabase, type IDBPTransaction, openDB, type StoreNames } from "idb";
import type { KeptLock } from "#core/sync/device-lock.ts";
import type { Kept, Sealed } from "./seal.ts";

interface OfPerson extends Kept {
  personId: string;
}

/** How a thing in the queue stands. */
export interface Waits<Reason = string> {
  /** Why the server did not take it; null while it has not been asked or could not be reached. */
  refused: Reason | null;
  /** Was the clock wrong, so that its person has to say when it was? */
  asksWhen?: boolean;
  /** The server failed with it: since when, how often, and when it is tried again. Milliseconds since 1970. */
  failed?: { since: number; times: number; again: number };
}

/** What one device keeps. Only ids, times and format numbers stand open; everything about a child is sealed. */
export interface Disk extends DBSchema {
  meta: { key: "device" | "person" | "lock"; value: string };
  keys: { key: string; value: CryptoKey };
  packs: { key: string; value: Kept };
  sittings: { key: string; value: OfPerson };
  sheets: {
    key: [sittingId: string, goalId: string];
    value: OfPerson & { sittingId: string; goalId: string };
    indexes: { bySitting: string };
  };
  queue: { key: number; value: OfPerson & Waits<Sealed> };
}

export type OpenDisk = IDBPDatabase<Disk>;

/** The stores as the first version had them, without the numbers of formats. */
function makeStores(disk: OpenDisk): void {
  disk.createObjectStore("meta");
  disk.createObjectStore("keys");
  disk.createObjectStore("packs");
  disk.createObjectStore("sittings");
  disk
    .createObjectStore("sheets", { keyPath: ["sittingId", "goalId"] })
    .createIndex("bySitting", "sittingId");
  disk.createObjectStore("queue", { autoIncrement: true });
}

/** From version 1: everything sealed gets the number of its format, which was the first of each kind. */
async function numberFormats(trx: IDBPTransaction<Disk, StoreNames<Disk>[], "versionchange">): Promise<void> {
  for (const store of ["sittings", "sheets", "queue"] as const)
    for (let at = await trx.objectStore(store).openCursor(); at; at = await at.continue())
      await at.update({ ...at.value, format: 1 });
  for (let at = await trx.objectStore("packs").openCursor(); at; at = await at.continue())
    await at.update({ format: 1, sealed: at.value as unknown as Sealed });
}

/** Opens what this browser keeps of us, brought up from any earlier version. One that is open elsewhere gives way to a newer program. */
export function openDisk(): Promise<OpenDisk> {
  return openDB<Disk>("gentle-margin", 2, {
    upgrade(disk, from, _, trx) {
      if (from < 1) makeStores(disk);
      // On an error the upgrade is rolled back and the disk stays in the earlier version.
      if (from === 1) numberFormats(trx).catch(() => trx.abort());
    },
    blocking: (_now, _next, event) => (event.target as IDBDatabase).close(),
  });
}

/** A change that is on the disk, not only on its way there, when the promise comes true. */
export async function write<Stores extends StoreNames<Disk>>(
  disk: OpenDisk,
  stores: Stores[],
  work: (trx: IDBPTransaction<Disk, Stores[], "readwrite">) => Promise<unknown>[],
): Promise<void> {
  const trx = disk.transaction(stores, "readwrite", { durability: "strict" });
  await Promise.all([...work(trx), trx.done]);
}

/** How this device is guarded, and whether it is locked; undefined where it has not been told yet. */
export async function lockHere(disk: OpenDisk): Promise<KeptLock | undefined> {
  const text = await disk.get("meta", "lock");
  return text === undefined ? undefined : (JSON.parse(text) as KeptLock);
}

export const putLock = (disk: OpenDisk, lock: KeptLock): Promise<unknown> =>
  disk.put("meta", JSON.stringify(lock), "lock");

/**
 * This device's own number, made when it is first used. Read and made in one transaction: two parts of a page, or two tabs, that ask a
 * fresh browser at the same time are given the same number. The server's key hangs on it, and what was sealed with another key is lost.
 */
export async function deviceId(disk: OpenDisk, fresh: () => string): Promise<string> {
  return numbered(disk, (known) => known ?? fresh());
}

/** Another number for a device that was told off under the number `old`; the one it has by now, where it was given one meanwhile. */
export function renewDeviceId(disk: OpenDisk, old: string, fresh: () => string): Promise<string> {
  return numbered(disk, (known) => (known === undefined || known === old ? fresh() : known));
}

async function numbered(disk: OpenDisk, choose: (known: string | undefined) => string): Promise<string> {
  const trx = disk.transaction("meta", "readwrite", { durability: "strict" });
  const known = await trx.store.get("device");
  const chosen = choose(known);
  if (chosen !== known) await trx.store.put(chosen, "device");
  await trx.done;
  return chosen;
}
