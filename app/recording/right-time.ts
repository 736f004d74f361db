import { localDay } from "#core/dates/school-time.ts";
import type { Device } from "./device/device.ts";

/** Clocks this far apart are put right by the server's; below it the device's own time stands. */
const clockTolerance = 60_000;

/** What is asked before an entry of today counts, where today is a day without school; null on a school day. */
export function noSchoolToday({ pack, kept: { clockAhead } }: Pick<Device, "pack" | "kept">): string | null {
  return pack.noSchool?.[localDay(pack.timeZone, rightTime(Date.now(), clockAhead))] ?? null;
}

/** A moment of the device, put right where its clock is off. */
export function rightTime(at: number, clockAhead: number): number {
  return at + (Math.abs(clockAhead) >= clockTolerance ? clockAhead : 0);
}
