import type { Direction } from "../measures/direction-schema.ts";
import { logRatio } from "./log-ratio.ts";
import { mannWhitney } from "./mann-whitney.ts";
import { comparePairs, nap, type Pairs } from "./nap.ts";
import { pem, pnd } from "./overlap.ts";
import { type Dated, tau, tauU } from "./tau.ts";

/** Two phases against each other; everything but the log ratio and the percent change oriented so that larger is improvement. */
export interface PhaseComparison {
  before: string;
  after: string;
  pairs: Pairs;
  nap: number | null;
  napLow: number | null;
  napHigh: number | null;
  tau: number | null;
  tauU: number | null;
  pnd: number | null;
  pem: number | null;
  mannWhitneyP: number | null;
  logRatio: number | null;
  logRatioSe: number | null;
  percentChange: number | null;
}

/**
 * The figures of a phase against the one before it. Each stands in a file of its own, with its source.
 *
 * @param before,after name and points in date order, in the measure's unit
 */
export function comparePhases(
  before: { name: string; points: readonly Dated[] },
  after: { name: string; points: readonly Dated[] },
  direction: Direction,
): PhaseComparison {
  const sign = direction === "increase" ? 1 : -1;
  const raw = (points: readonly Dated[]) => points.map(({ value }) => value);
  const turned = (points: readonly Dated[]) =>
    points.map(({ date, value }) => ({ date, value: sign * value }));
  const [a, b] = [turned(before.points), turned(after.points)];
  const [as, bs] = [raw(a), raw(b)];
  const overlap = nap(as, bs);
  const ratio = logRatio(raw(before.points), raw(after.points));
  return {
    ...{ before: before.name, after: after.name, pairs: comparePairs(as, bs) },
    ...{ nap: overlap?.nap ?? null, napLow: overlap?.low ?? null, napHigh: overlap?.high ?? null },
    ...{ tau: tau(as, bs), tauU: tauU(a, b), pnd: pnd(as, bs), pem: pem(as, bs) },
    mannWhitneyP: mannWhitney(as, bs),
    logRatio: ratio?.ratio ?? null,
    logRatioSe: ratio?.se ?? null,
    percentChange: ratio?.percentChange ?? null,
  };
}
