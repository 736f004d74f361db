import { mean, median } from "simple-statistics";

/** A band of lengths in minutes, from `from` to under `to`; without `to` it is open. */
export interface LengthBand {
  name: string;
  from: number;
  to: number | null;
}

/** The bands a school starts with. */
export const starterBands: readonly LengthBand[] = [
  { name: "under 2 min", from: 0, to: 2 },
  { name: "2–5 min", from: 2, to: 5 },
  { name: "5–15 min", from: 5, to: 15 },
  { name: "15–30 min", from: 15, to: 30 },
  { name: "30–60 min", from: 30, to: 60 },
  { name: "over an hour", from: 60, to: null },
];

/** How long one incident lasted: by the clock, or in a band. */
export type Length = { minutes: number } | { band: LengthBand };

/** What lasted so many minutes by the clock belongs to this band; null where the bands leave it out. */
export const bandOf = (bands: readonly LengthBand[], minutes: number): LengthBand | null =>
  bands.find(({ from, to }) => from <= minutes && (to === null || minutes < to)) ?? null;

/**
 * The sum of lengths as a range: exact minutes are themselves, a band is its ends and never invented minutes in between.
 *
 * @returns minutes; `high` is null where an open band is among them
 */
export function totalLength(lengths: readonly Length[]): { low: number; high: number | null } {
  let [low, high]: [number, number | null] = [0, 0];
  for (const length of lengths) {
    const [from, to] =
      "minutes" in length ? [length.minutes, length.minutes] : [length.band.from, length.band.to];
    low += from;
    high = high === null || to === null ? null : high + to;
  }
  return { low, high };
}

/** Exact minutes of incidents: how many are known, their sum, the middle and the longest. Null where none is known. */
export function summariseMinutes(minutes: readonly number[]) {
  const none = minutes.length === 0;
  return {
    n: minutes.length,
    total: minutes.reduce((sum, one) => sum + one, 0),
    median: none ? null : median([...minutes]),
    longest: none ? null : Math.max(...minutes),
  };
}

/** How strong incidents were, 1–5: how many say so, the mean, the middle, and how many of each. */
export function summariseIntensity(levels: readonly number[]) {
  const none = levels.length === 0;
  const counts = new Map<number, number>();
  for (const level of [...levels].sort((a, b) => a - b)) counts.set(level, (counts.get(level) ?? 0) + 1);
  return {
    n: levels.length,
    mean: none ? null : mean([...levels]),
    median: none ? null : median([...levels]),
    counts: Object.fromEntries(counts),
  };
}
