/** One figure of agreement. */
export interface Agreement {
  /** Percent, 0–100; for kappa −1 … 1. Null where the method defines none for these data. */
  value: number | null;
  why?: string;
}

/** No agreement can be given, for this reason. */
export const none = (why: string): Agreement => ({ value: null, why });

/** Smaller over larger, in percent: 0 against 0 agrees. Shapes: two numbers ≥ 0 in one unit. */
export function smallerOverLarger(first: number, second: number): number {
  const larger = Math.max(first, second);
  return larger === 0 ? 100 : (100 * Math.min(first, second)) / larger;
}

/** Agreements over all, in percent; null where there is nothing to agree on. */
export function share(agreements: number, of: number, why: string): Agreement {
  return of === 0 ? none(why) : { value: (100 * agreements) / of };
}
