import { dayNumber } from "./day-number.ts";

/** Swedish writes dates and times as ISO 8601 does. */
const formats = new Map<string, Intl.DateTimeFormat>();

function formatOf(timeZone: string): Intl.DateTimeFormat {
  const known = formats.get(timeZone);
  if (known) return known;
  const made = new Intl.DateTimeFormat("sv-SE", { timeZone, dateStyle: "short", timeStyle: "medium" });
  formats.set(timeZone, made);
  return made;
}

/**
 * A moment in the school's own date and time, to the second.
 *
 * @param at milliseconds since 1970
 * @returns `YYYY-MM-DDTHH:MM:SS`
 * @throws RangeError where there is no such time zone
 */
export function localMoment(timeZone: string, at: number): string {
  return formatOf(timeZone).format(at).replace(" ", "T");
}

/** The school's own date at a moment, `YYYY-MM-DD`. */
export const localDay = (timeZone: string, at: number): string => localMoment(timeZone, at).slice(0, 10);

/** The school's own time at a moment, `HH:MM`. */
export const localTime = (timeZone: string, at: number): string => localMoment(timeZone, at).slice(11, 16);

/** Minutes since 1970 by the school's own clock: how far two of its moments lie apart. */
export const minuteOf = (date: string, time: string): number => {
  const [hours = 0, minutes = 0] = time.split(":").map(Number);
  return dayNumber(date) * 24 * 60 + hours * 60 + minutes;
};

/**
 * The moment of a date and time of the school; the earlier one of two where the clocks go back, and as many minutes after the gap where
 * they go ahead.
 *
 * @param local `YYYY-MM-DDTHH:MM[:SS]`
 * @returns milliseconds since 1970
 */
export function momentOfLocal(timeZone: string, local: string): number {
  const asUtc = (text: string) => Date.parse(`${text.length === 16 ? `${text}:00` : text}Z`);
  const offBy = (at: number) => asUtc(localMoment(timeZone, at)) - at;
  const wanted = asUtc(local);
  const tries = [-1, 0, 1].map((days) => wanted - offBy(wanted + days * 86_400_000));
  const exact = tries.filter((at) => localMoment(timeZone, at) === localMoment("UTC", wanted));
  return Math.min(...(exact.length > 0 ? exact : tries.slice(0, 1)));
}
