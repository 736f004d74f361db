/**
 * One act on a panel of a sitting: what was touched or typed, and when. Everything else about a panel is read from its
 * marks, so undoing is leaving out the last one, and the order and the times are kept by themselves.
 */
export interface Mark {
  /** Milliseconds since 1970 on the clock of the device: it goes on while a tablet sleeps. */
  at: number;
  /** What was touched: `trial`, `level`, `row.3`, `press`, `bout` … */
  on: string;
  /** Which choice of it: `1`, `start`, an index, or what was typed. Empty takes a choice back. */
  value: string;
}

/** The last mark on each thing that holds one choice. */
export function standingMarks(marks: readonly Mark[]): ReadonlyMap<string, string> {
  return new Map(marks.map(({ on, value }) => [on, value]));
}

/** A stretch of time on the device's clock; `to` is null while it runs. */
export interface Stretch {
  from: number;
  to: number | null;
}

/** The stretches between `start` and `stop` of one clock, in order. A stop without a start and a second start change nothing. */
export function stretches(marks: readonly Mark[], clock: string): Stretch[] {
  const found: Stretch[] = [];
  for (const { at, on, value } of marks) {
    if (on !== clock) continue;
    const last = found.at(-1);
    const runs = last?.to === null;
    if (value === "start" && !runs) found.push({ from: at, to: null });
    if (value === "stop" && last && runs) last.to = at;
  }
  return found;
}

/** Was this clock started and not stopped since? */
export function isRunning(marks: readonly Mark[], clock: string): boolean {
  return stretches(marks, clock).at(-1)?.to === null;
}

/** Seconds, to a tenth; never below 0, whatever a clock was set to meanwhile. */
export function secondsBetween(from: number, to: number): number {
  return Math.max(0, Math.round((to - from) / 100) / 10);
}

/** Seconds on a clock in all; one that still runs counts until `now`. */
export function secondsOn(list: readonly Stretch[], now: number): number {
  return list.reduce((sum, { from, to }) => sum + secondsBetween(from, to ?? now), 0);
}
