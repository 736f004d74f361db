import type { HashedNames } from "#core/report/names/hashed-names-schema.ts";
import { openKept } from "./device.ts";
import { openDisk } from "./disk.ts";

/** The hashed names of the school that came with what this device records with; null where it has none. */
export async function keptNames(): Promise<HashedNames | null> {
  const disk = await openDisk();
  const device = await openKept(disk).finally(() => disk.close());
  return device?.pack.names ?? null;
}
