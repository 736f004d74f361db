import { readKeepAnswer } from "#core/sync/keep-answer.ts";
import type { Queued } from "#core/sync/queued.ts";
import { type Device, onDisk } from "./device.ts";
import type { Reach } from "./reach.ts";
import { type Disk, type Waits, write } from "./disk.ts";
import { post } from "./post.ts";
import { reachOf } from "./reach.ts";
import { type Kept, seal, sealAs, unseal, unsealAs } from "./seal.ts";
import { draftPlace, talliesPlace } from "./places.ts";

export interface WaitingItem extends Waits {
  /** Its place in the queue; below 0 where it is in this page's memory and not on the disk. */
  place: number;
  item: Queued;
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

/** What the disk did not take: it is sent from here, and goes to the disk as soon as that takes it. */
let inMemory: (WaitingItem & { personId: string; sittingId: string })[] = [];
let placesGiven = 0;

/** Is something only in this page's memory, and lost if it is closed? */
export const hasUnkept = (): boolean => inMemory.length > 0;

interface Enqueued {
  sittingId?: string;
  tallies?: Kept;
}

/** An item and how it stands, as it lies on the disk. */
const rowOf = async (
  { key, personId }: Device,
  { item, refused, asksWhen, failed }: Waits & { item: Queued },
): Promise<Disk["queue"]["value"]> => ({
  ...{ personId, ...(await sealAs("item", key, item)) },
  ...{ refused: refused === null ? null : await seal(key, refused) },
  ...{ ...(asksWhen ? { asksWhen } : {}), ...(failed ? { failed } : {}) },
});

async function toDisk(
  device: Device,
  items: readonly (Waits & { item: Queued })[],
  { sittingId = "", tallies }: Enqueued,
): Promise<void> {
  const { personId } = device;
  const rows = await Promise.all(items.map((one) => rowOf(device, one)));
  await onDisk(device, async (disk) => {
    const goals = (await disk.getAllKeysFromIndex("sheets", "bySitting", sittingId)) as [string, string][];
    await write(disk, ["queue", "sittings", "sheets", "packs"], (trx) => [
      ...rows.map((row) => trx.objectStore("queue").add(row)),
      ...(tallies ? [trx.objectStore("packs").put(tallies, talliesPlace(personId))] : []),
      ...items.flatMap(({ item: { kind } }) =>
        kind === "incident" || kind === "jot"
          ? trx.objectStore("packs").delete(draftPlace(personId, kind))
          : [],
      ),
      trx.objectStore("sittings").delete(sittingId),
      ...goals.map((goal) => trx.objectStore("sheets").delete(goal)),
    ]);
  });
}

/** Brings to the disk what it did not take before, in its order, as far as it takes it now. */
async function moveToDisk(device: Device): Promise<void> {
  for (const one of inMemory.filter(({ personId }) => personId === device.personId)) {
    try {
      await toDisk(device, [one], one);
    } catch {
      return;
    }
    inMemory = inMemory.filter((other) => other !== one);
  }
}

/** Everything of this person that the server does not have yet, in order. */
export async function listWaiting(device: Device): Promise<WaitingItem[]> {
  const { key, personId } = device;
  await moveToDisk(device);
  const mine = () => inMemory.filter((one) => one.personId === personId);
  try {
    return await onDisk(device, async (disk) => {
      const trx = disk.transaction("queue");
      const [places, rows] = await Promise.all([trx.store.getAllKeys(), trx.store.getAll()]);
      const read = await Promise.all(
        rows.map(async ({ refused, ...row }, index): Promise<WaitingItem | null> => {
          if (row.personId !== personId) return null;
          const item = await unsealAs("item", key, row);
          const { asksWhen, failed } = row;
          return (
            item && {
              ...{
                place: places[index] ?? -1,
                item,
                refused: refused && (await unseal<string>(key, refused)),
              },
              ...{ ...(asksWhen ? { asksWhen } : {}), ...(failed ? { failed } : {}) },
            }
          );
        }),
      );
      return [...read.filter((one) => one !== null), ...mine()];
    });
  } catch {
    return mine();
  }
}

/**
 * Puts what was recorded into the queue. In the same step the sheets of its sitting and the incident as it was being written
 * leave the disk, and the tallies that it changed are kept. Where the disk takes nothing it waits in this page's memory.
 */
export async function enqueue(
  device: Device,
  items: readonly Queued[],
  { sittingId = "", tallies }: Enqueued = {},
): Promise<void> {
  const { packAt } = device.kept;
  const moments = {
    keptAt: new Date().toISOString(),
    ...(packAt === undefined ? {} : { packAt: new Date(packAt).toISOString() }),
  };
  const waiting = items.map((item) => ({ item: { ...item, ...moments }, refused: null }));
  try {
    await toDisk(device, waiting, { sittingId, ...(tallies ? { tallies } : {}) });
  } catch {
    const { personId } = device;
    inMemory.push(...waiting.map((one) => ({ ...one, place: (placesGiven -= 1), personId, sittingId })));
  }
  tellChange();
}

/** Changes how an item stands, or what it says; null takes it out. One that is not there any more stays away. */
export async function changeItem(
  device: Device,
  { place }: WaitingItem,
  make: ((before: Waits & { item: Queued }) => Waits & { item: Queued }) | null,
): Promise<void> {
  if (place < 0)
    inMemory = inMemory.flatMap((one) => (one.place !== place ? one : make ? { ...one, ...make(one) } : []));
  else if (make === null)
    // One that stays because the disk does not let it go is sent again, and the server has it already.
    await onDisk(device, (disk) =>
      write(disk, ["queue"], (trx) => [trx.objectStore("queue").delete(place)]),
    ).catch(() => undefined);
  else {
    const found = (await listWaiting(device)).find((one) => one.place === place);
    if (!found) return;
    const row = await rowOf(device, make(found));
    await onDisk(device, (disk) =>
      write(disk, ["queue"], (trx) => [trx.objectStore("queue").put(row, place)]),
    ).catch(() => undefined);
  }
  tellChange();
}

/** Takes an item out: the server has it, or its person has written it down elsewhere or does not want it. */
export const dropItem = (device: Device, waiting: WaitingItem): Promise<void> =>
  changeItem(device, waiting, null);

const notAllowed =
  "The server no longer has this goal, or you can no longer record for this student. Ask the case manager. Your recording is still here.";

const minute = 60_000;
/** After each time that the server failed with an item it waits longer. */
const pauses = [10_000, 30_000, minute, 5 * minute, 15 * minute, 60 * minute];
const day = 24 * 60 * minute;

/** Has the server failed with it for so long that its person should look? */
export const isStuck = ({ failed }: WaitingItem): boolean =>
  failed !== undefined && Date.now() - failed.since >= day;

/** The item without which the server cannot take this one. */
const needs = (item: Queued): string | null =>
  item.kind === "tally back"
    ? item.pressId
    : item.kind === "same incident"
      ? item.incidentId
      : item.kind === "picture"
        ? item.jotId
        : item.kind === "take back"
          ? item.thingId
          : null;

/**
 * Sends what waits, one after the other in order; one tab at a time. An item leaves the queue only by the server's own word that it has
 * it. One that is refused stays, with its reason; one with which the server fails waits behind the others, longer each time. Neither
 * keeps back the others. It ends where the server cannot be reached or the session is over.
 */
export function sendWaiting(device: Device): Promise<Reach | "busy"> {
  return navigator.locks.request("gentle-margin queue", { ifAvailable: true }, async (lock) => {
    if (!lock) return "busy" as const;
    const all = await listWaiting(device);
    const turns = [...all].sort((a, b) => (a.failed?.again ?? 0) - (b.failed?.again ?? 0));
    const held = new Set(all.flatMap(({ item, refused, failed }) => (refused || failed ? item.id : [])));
    for (const waiting of turns) {
      const { item, refused, failed } = waiting;
      const first = needs(item);
      if (refused !== null || (failed && failed.again > Date.now()) || (first !== null && held.has(first)))
        continue;
      const answer = await post("/recording/keep", item, readKeepAnswer, device.personId);
      if (answer.kind === "failed") {
        const times = (failed?.times ?? 0) + 1;
        const pause = pauses[Math.min(times, pauses.length) - 1] ?? minute;
        const now = Date.now();
        held.add(item.id);
        await changeItem(device, waiting, ({ item: stays }) => ({
          ...{ item: stays, refused: null },
          failed: { since: failed?.since ?? now, times, again: now + pause },
        }));
        continue;
      }
      if (answer.kind !== "said") return reachOf(answer);
      const { body } = answer;
      const why = body.outcome === "not allowed" ? notAllowed : body.outcome === "refused" ? body.why : null;
      if (why === null) await dropItem(device, waiting);
      else {
        held.add(item.id);
        await changeItem(device, waiting, ({ item: stays }) => ({
          ...{ item: stays, refused: why },
          ...("asks" in body && body.asks ? { asksWhen: true } : {}),
        }));
      }
    }
    return "online" as const;
  });
}
