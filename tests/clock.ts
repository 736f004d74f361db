/**
 * The clock of the tests' cluster: all tests of a run take place on the same school day. Ahead or back of the real one by so many
 * milliseconds.
 */
export const clockAhead = Number(process.env["GENTLE_MARGIN_CLOCK_AHEAD"] ?? 0);

const day = 86_400_000;

/** Milliseconds since 1970 by the tests' clock. */
export const testNow = (): number => Date.now() + clockAhead;

/** The date in Greenwich, `YYYY-MM-DD`, so many days ago by the tests' clock. */
export const daysAgo = (days: number): string => new Date(testNow() - days * day).toISOString().slice(0, 10);

/** Sets a browser's clock as the cluster's: run in the page before any script of the application. */
export function setBrowserClock(ahead: number): void {
  const real = Date.now;
  Date.now = () => real() + ahead;
  globalThis.Date = new Proxy(Date, {
    construct: (target, args: unknown[], made) =>
      Reflect.construct(target, args.length === 0 ? [target.now()] : args, made) as Date,
  });
}
