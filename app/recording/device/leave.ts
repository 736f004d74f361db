import { type OpenDisk, openDisk, write } from "./disk.ts";
import { draftPlace, talliesPlace } from "./places.ts";

// Loaded only where somebody leaves the device.

/** Everything of one person goes from this device. `unsent`: also what was not sent. */
export async function wipe(disk: OpenDisk, personId: string, { unsent }: { unsent: boolean }): Promise<void> {
  await write(disk, ["keys", "packs", "meta"], (trx) => [
    trx.objectStore("keys").delete(personId),
    trx.objectStore("packs").delete(personId),
    trx.objectStore("packs").delete(talliesPlace(personId)),
    // An incident or a jot half written is like a sitting half marked: it waits, sealed.
    ...(unsent
      ? (["incident", "jot"] as const).map((kind) =>
          trx.objectStore("packs").delete(draftPlace(personId, kind)),
        )
      : []),
    trx.objectStore("meta").delete("person"),
    trx.objectStore("meta").delete("lock"),
  ]);
  if (!unsent) return;
  for (const store of ["sittings", "sheets", "queue"] as const) {
    const trx = disk.transaction(store, "readwrite", { durability: "strict" });
    for (let at = await trx.store.openCursor(); at; at = await at.continue())
      if (at.value.personId === personId) await at.delete();
    await trx.done;
  }
}

/** Signing out: the key and everything that was sent go; what was not sent stays, sealed. */
export async function leaveDevice(): Promise<void> {
  const disk = await openDisk();
  const personId = await disk.get("meta", "person");
  if (personId) await wipe(disk, personId, { unsent: false });
  disk.close();
}
