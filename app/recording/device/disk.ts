import { type DBSchema, type IDBPDatabase, type IDBPTransaction, openDB, type StoreNames } from "idb";
import type { Sealed } from "./seal.ts";

interface OfPerson {
  personId: string;
  sealed: Sealed;
}

/** What one device keeps. Only ids and times stand open; everything about a child is sealed. */
export interface Disk extends DBSchema {
  meta: { key: "device" | "person"; value: string };
  keys: { key: string; value: CryptoKey };
  packs: { key: string; value: Sealed };
  sittings: { key: string; value: OfPerson };
  sheets: {
    key: [sittingId: string, goalId: string];
    value: OfPerson & { sittingId: string; goalId: string };
    indexes: { bySitting: string };
  };
  queue: { key: number; value: OfPerson & { refused: Sealed | null } };
}

export type OpenDisk = IDBPDatabase<Disk>;

/** Opens what this browser keeps of us. One that is open elsewhere gives way to a newer version of the program. */
export function openDisk(): Promise<OpenDisk> {
  return openDB<Disk>("gentle-margin", 1, {
    upgrade(disk) {
      disk.createObjectStore("meta");
      disk.createObjectStore("keys");
      disk.createObjectStore("packs");
      disk.createObjectStore("sittings");
      disk
        .createObjectStore("sheets", { keyPath: ["sittingId", "goalId"] })
        .createIndex("bySitting", "sittingId");
      disk.createObjectStore("queue", { autoIncrement: true });
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

/** This device's own number, made when it is first used. */
export async function deviceId(disk: OpenDisk, fresh: () => string): Promise<string> {
  const known = await disk.get("meta", "device");
  if (known) return known;
  const made = fresh();
  await disk.put("meta", made, "device");
  return made;
}
