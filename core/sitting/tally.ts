import type { CountEntry } from "../measures/count/schema.ts";

/** One press of a count that runs all day, wherever it was pressed. */
export interface Press {
  pressId: string;
  /** Milliseconds since 1970. */
  at: number;
  /** Who pressed, as their colleagues call them. */
  by: string;
  /** Was it taken back? */
  back: boolean;
}

/**
 * What two devices know of one tally, put together: every press once, taken back if either knows so. The order in which
 * they meet does not matter, and meeting twice changes nothing.
 */
export function mergePresses(one: readonly Press[], other: readonly Press[]): Press[] {
  const known = new Map<string, Press>();
  for (const press of [...one, ...other]) {
    const before = known.get(press.pressId);
    known.set(press.pressId, before ? { ...before, back: before.back || press.back } : press);
  }
  return [...known.values()].sort((a, b) => a.at - b.at || (a.pressId < b.pressId ? -1 : 1));
}

/** The presses that count. */
export const standingPresses = (presses: readonly Press[]): Press[] => presses.filter(({ back }) => !back);

/**
 * The entry that a tally comes to: its count, the moment of each press in seconds since `from`, and how long it was
 * watched. A press outside the time said widens it: who pressed was watching.
 *
 * @param at moments of the presses that count, milliseconds since 1970
 * @param from, to when somebody was watching, milliseconds since 1970
 */
export function tallyEntry(
  at: readonly number[],
  from: number,
  to: number,
): { entry: CountEntry; from: number; to: number } {
  const sorted = [...at].sort((a, b) => a - b);
  const first = Math.min(from, sorted[0] ?? from);
  const last = Math.max(to, sorted.at(-1) ?? to, first + 1000);
  const seconds = (time: number) => Math.round((time - first) / 1000);
  return {
    entry: {
      kind: "count",
      count: sorted.length,
      observedSeconds: seconds(last),
      atSeconds: sorted.map(seconds),
    },
    from: first,
    to: last,
  };
}
