import type { MasteryWindow } from "./criterion.ts";

export interface Mastery {
  /** Was the window ever satisfied, even if it no longer is? */
  met: boolean;
  /** The first date on which it was. */
  on: string | null;
  /** How many of the last n occasions meet the criterion now. */
  inWindow: number;
  /** Of how many: the last n, or all where there are fewer. */
  of: number;
  /** How many have to. */
  needed: number;
  /** In how many different settings, and by how many people, it has been met so far; only where the criterion names a number. */
  settings?: { seen: number; needed: number };
  people?: { seen: number; needed: number };
}

/** One occasion held against the criterion. */
export interface Judged {
  date: string;
  meets: boolean;
  settings?: readonly string[];
  people?: readonly string[];
}

/**
 * Mastery: the window is satisfied as soon as k of the last n occasions (or of all, if there are fewer) meet the criterion.
 * Where a number of settings or people is named, the occasions that met it must by then have come from as many.
 *
 * @param occasions in the order they happened, baseline left out, already pooled to the window's unit
 * @returns whether and since when, and how many of the last n meet it now (`inWindow` below `needed` after `met` says lost again)
 *
 * Source: criterion and window as IEP goals state them, common practice.
 *
 * @example mastery([{date: "2026-10-01", meets: true}, {date: "2026-10-02", meets: true}], {k: 2, n: 3}).met // true
 */
export function mastery(
  occasions: readonly Judged[],
  { k, n }: MasteryWindow,
  breadth: { settings?: number | undefined; people?: number | undefined } = {},
): Mastery {
  const seen = { settings: new Set<string>(), people: new Set<string>() };
  const wide = (what: "settings" | "people") => seen[what].size >= (breadth[what] ?? 0);
  let inWindow = 0;
  let on: string | null = null;
  occasions.forEach((occasion, index) => {
    if (occasion.meets) {
      inWindow += 1;
      occasion.settings?.forEach((setting) => seen.settings.add(setting));
      occasion.people?.forEach((person) => seen.people.add(person));
    }
    if (occasions[index - n]?.meets) inWindow -= 1;
    if (inWindow >= k && wide("settings") && wide("people")) on ??= occasion.date;
  });
  return {
    met: on !== null,
    on,
    inWindow,
    of: Math.min(n, occasions.length),
    needed: k,
    ...(breadth.settings ? { settings: { seen: seen.settings.size, needed: breadth.settings } } : {}),
    ...(breadth.people ? { people: { seen: seen.people.size, needed: breadth.people } } : {}),
  };
}
