import { type Direction, type MasteryWindow, meets } from "./criterion.ts";

export interface Mastery {
  /** Was the window ever satisfied, even if it no longer is? */
  met: boolean;
  /** The first date on which it was. */
  on: string | null;
  /** How many of the last n occasions meet the criterion now. */
  inWindow: number;
  /** How many have to. */
  needed: number;
}

/**
 * Mastery: the window is satisfied as soon as k of the last n occasions (or of all, if there are fewer) meet the criterion.
 *
 * @param occasions in the order they happened, baseline left out, already pooled to the window's unit
 * @returns whether and since when, and how many of the last n meet it now (`inWindow` below `needed` after `met` says lost again)
 *
 * Source: criterion and window as IEP goals state them, common practice.
 *
 * @example mastery([{date: "2026-10-01", value: 80}, {date: "2026-10-02", value: 90}], 80, "increase", {k: 2, n: 3}).met // true
 */
export function mastery(
  occasions: readonly { date: string; value: number }[],
  threshold: number,
  direction: Direction,
  { k, n }: MasteryWindow,
): Mastery {
  let inWindow = 0;
  let on: string | null = null;
  occasions.forEach((occasion, index) => {
    if (meets(occasion.value, threshold, direction)) inWindow += 1;
    const leaving = occasions[index - n];
    if (leaving && meets(leaving.value, threshold, direction)) inWindow -= 1;
    if (inWindow >= k) on ??= occasion.date;
  });
  return { met: on !== null, on, inWindow, needed: k };
}
