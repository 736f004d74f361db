import { readKeepAnswer } from "#core/sync/keep-answer.ts";
import type { Queued } from "#core/sync/queued.ts";
import type { Device, Reach } from "./device.ts";
import { write } from "./disk.ts";
import { post } from "./post.ts";
import { type Kept, seal, sealAs, unseal, unsealAs } from "./seal.ts";
import { incidentPlace, talliesPlace } from "./places.ts";

export interface WaitingItem {
  place: number;
  item: Queued;
  /** Why the server did not take it; null while it has not been asked or could not be reached. */
  refused: string | null;
}

/** Told in every tab when something joined or left the queue. */
const changes = () => new BroadcastChannel("gentle-margin queue");

function tellChange(): void {
  const channel = changes();
  channel.postMessage("changed");
  channel.close();
}

/** Calls back whenever the queue changed, in this tab or another. */
export function onQueueChange(call: () => void): () => void {
  const channel = changes();
  channel.onmessage = call;
  return () => channel.close();
}

/** Everything of this person that the server does not have yet, in order. */
export async function listWaiting({ disk, key, personId }: Device): Promise<WaitingItem[]> {
  const trx = disk.transaction("queue");
  const [places, rows] = await Promise.all([trx.store.getAllKeys(), trx.store.getAll()]);
  const read = await Promise.all(
    rows.map(async (row, index): Promise<WaitingItem | null> => {
      if (row.personId !== personId) return null;
      const item = await unsealAs("item", key, row);
      const refused = row.refused && (await unseal<string>(key, row.refused));
      return item && { place: places[index] ?? -1, item, refused };
    }),
  );
  return read.filter((one) => one !== null);
}

/**
 * Puts what was recorded into the queue. In the same step the sheets of its sitting and the incident as it was being written
 * leave the disk, and the tallies that it changed are kept.
 */
export async function enqueue(
  { disk, key, personId }: Device,
  items: readonly Queued[],
  { sittingId = "", tallies }: { sittingId?: string; tallies?: Kept } = {},
): Promise<void> {
  const kept = await Promise.all(items.map((item) => sealAs("item", key, item)));
  const goals = (await disk.getAllKeysFromIndex("sheets", "bySitting", sittingId)) as [string, string][];
  await write(disk, ["queue", "sittings", "sheets", "packs"], (trx) => [
    ...kept.map((one) => trx.objectStore("queue").add({ personId, ...one, refused: null })),
    ...(tallies ? [trx.objectStore("packs").put(tallies, talliesPlace(personId))] : []),
    ...(items.some(({ kind }) => kind === "incident")
      ? [trx.objectStore("packs").delete(incidentPlace(personId))]
      : []),
    trx.objectStore("sittings").delete(sittingId),
    ...goals.map((goal) => trx.objectStore("sheets").delete(goal)),
  ]);
  tellChange();
}

/** Takes a refused item out: its person has written it down elsewhere, or does not want it. */
export async function dropItem({ disk }: Device, place: number): Promise<void> {
  await write(disk, ["queue"], (trx) => [trx.objectStore("queue").delete(place)]);
  tellChange();
}

/** Lets refused items be tried again. */
export async function askAgain(device: Device): Promise<void> {
  const { disk } = device;
  for (const { place, refused } of await listWaiting(device)) {
    if (refused === null) continue;
    const row = await disk.get("queue", place);
    if (row)
      await write(disk, ["queue"], (trx) => [trx.objectStore("queue").put({ ...row, refused: null }, place)]);
  }
  tellChange();
}

const notAllowed =
  "The server does not know this goal of this student any more, or you may not record for them now. Ask the case manager; what you recorded is still here.";

/**
 * Sends what waits, one after the other in order; one tab at a time. An item leaves the queue only by the server's own word that it has
 * it. One that is refused stays, with its reason, and does not keep back the others. It ends where the server cannot be reached or the
 * session is over.
 */
export function sendWaiting(device: Device): Promise<Reach | "busy"> {
  return navigator.locks.request("gentle-margin queue", { ifAvailable: true }, async (lock) => {
    if (!lock) return "busy" as const;
    const { disk, key } = device;
    for (const { place, item, refused } of await listWaiting(device)) {
      if (refused !== null) continue;
      const answer = await post("/recording/keep", item, readKeepAnswer);
      if (answer.kind === "no answer") return "offline" as const;
      if (answer.kind === "signed out") return "signed out" as const;
      const { body } = answer;
      const why = body.outcome === "not allowed" ? notAllowed : body.outcome === "refused" ? body.why : null;
      if (why === null) await dropItem(device, place);
      else {
        const row = await disk.get("queue", place);
        const reason = await seal(key, why);
        if (row)
          await write(disk, ["queue"], (trx) => [
            trx.objectStore("queue").put({ ...row, refused: reason }, place),
          ]);
        tellChange();
      }
    }
    return "online" as const;
  });
}
