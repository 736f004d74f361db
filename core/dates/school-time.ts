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
