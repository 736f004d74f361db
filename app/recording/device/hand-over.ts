import type { SealedKey } from "#core/sync/device-lock.ts";
import type { Holder } from "#core/sync/pack.ts";
import { type Device, keepPack, onDisk, putPerson, tellHolder } from "./device.ts";
import { post } from "./post.ts";

/** Hands the device to a colleague, or (null) back. `sealed`: with their PIN it opens too, should it lock in their hands. */
export function handOverTo(
  device: Device,
  holder: Holder | null,
  sealed: SealedKey | null = null,
): Promise<void> {
  const end = device.kept.holder?.handoverId;
  // Without a network it ends by itself, with the school day.
  if (end) void post("/recording/hand-over", { end }, () => true);
  device.kept.holder = holder;
  tellHolder();
  const { name = "", handoverId = null } = holder ?? {};
  if (device.lock) {
    device.lock.holder = sealed && handoverId ? { name, handoverId, sealed } : null;
    void onDisk(device, (disk) => putPerson(disk, device)).catch(() => undefined);
  }
  return keepPack(device);
}
