const place = "gentle-margin lock";
const minute = 60_000;

/** After how many minutes without use recording screens lock, and when they do, ms since 1970; null where they never do. */
function read(): { minutes: number; at: number } | null {
  const [minutes, at] = (localStorage.getItem(place) ?? "").split(" ").map(Number);
  return minutes && at ? { minutes, at } : null;
}

/** For how many milliseconds recording screens should have been locked; below 0 while they should not. */
export function overdue(): number {
  const lock = read();
  if (!lock) return -1;
  const late = Date.now() - lock.at;
  // A clock that was set back gives no more time.
  return late < -(lock.minutes + 1) * minute ? 0 : late;
}

/** From now on recording screens lock after so many minutes without use; null for never. */
export function lockAfter(minutes: number | null): void {
  if (minutes) localStorage.setItem(place, `${minutes} ${Date.now() + minutes * minute}`);
  else localStorage.removeItem(place);
}

/** The person uses this browser. Where its screens should be locked already, that counts for nothing. */
export function used(runs = false): void {
  const lock = read();
  if (lock && (runs || overdue() < 0)) lockAfter(lock.minutes);
}
