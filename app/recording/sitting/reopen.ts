import type { Sheet, Sitting } from "#core/sync/kept.ts";
import { v7 as newId } from "uuid";
import type { Device } from "../device/device.ts";
import { keepWhole } from "./store.ts";

/** Opens a sitting that was saved once more with all its marks, as a sitting of its own; answers its id. */
export function reopenSitting(device: Device, saved: Sitting, marked: readonly Sheet[]): Promise<string> {
  const sitting = { ...saved, sittingId: newId() };
  const { sittingId } = sitting;
  return keepWhole(
    device,
    sitting,
    marked.map((sheet) => ({ ...sheet, sittingId, entryId: newId() })),
  );
}
