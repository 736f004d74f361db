/** The school's own date at a moment, `YYYY-MM-DD`. */
export function localDay(timeZone: string, at = Date.now()): string {
  return new Intl.DateTimeFormat("sv-SE", { timeZone, dateStyle: "short" }).format(at);
}

/** The school's own time at a moment, `HH:MM`. */
export function localTime(timeZone: string, at = Date.now()): string {
  return new Intl.DateTimeFormat("sv-SE", { timeZone, timeStyle: "short" }).format(at);
}
