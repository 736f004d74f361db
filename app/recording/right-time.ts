/** Clocks this far apart are put right by the server's; below it the device's own time stands. */
const clockTolerance = 60_000;

/** A moment of the device, put right where its clock is off. */
export function rightTime(at: number, clockAhead: number): number {
  return at + (Math.abs(clockAhead) >= clockTolerance ? clockAhead : 0);
}
