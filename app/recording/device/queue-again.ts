import { retimed } from "#core/sync/retimed.ts";
import type { Device } from "./device.ts";
import { changeItem, listWaiting, type WaitingItem } from "./queue.ts";

// Loaded only where the server did not take something.

/** Corrects the note of an item that is not taken, and lets it be tried again. */
export const changeNote = (device: Device, waiting: WaitingItem, note: string): Promise<void> =>
  changeItem(device, waiting, ({ item }) => ({
    item: "note" in item ? { ...item, note: note.trim() || null } : item,
    refused: null,
  }));

/** Lets refused items, and those with which the server failed, be tried again at once. */
export async function askAgain(device: Device): Promise<void> {
  for (const waiting of await listWaiting(device))
    if (waiting.refused !== null || waiting.failed)
      await changeItem(device, waiting, ({ item }) => ({ item, refused: null }));
}

/**
 * Lets those be tried again of which it has been said when they were.
 *
 * @param lastAt when the last of them was observed, milliseconds since 1970
 */
export async function sayWhen(device: Device, lastAt: number): Promise<void> {
  const asking = (await listWaiting(device)).filter(({ asksWhen }) => asksWhen);
  const put = retimed(
    asking.map(({ item }) => item),
    lastAt,
  );
  for (const [at, waiting] of asking.entries())
    await changeItem(device, waiting, ({ item }) => ({ item: put[at] ?? item, refused: null }));
}
