import { median } from "simple-statistics";
import type { Mastery } from "../criteria/mastery.ts";
import { dayNumber } from "../dates/day-number.ts";
import type { Direction } from "../measures/direction-schema.ts";
import { type AimLine, type NoAim } from "./aim-line.ts";
import { type SideOfLine, sideOfLine } from "./side-of-line.ts";
import type { TheilSen } from "./theil-sen.ts";
import type { Slope } from "./trend.ts";

interface Dated {
  date: string;
  value: number;
}

/** What standing, trend, pace and advice are made from. Nothing in it depends on today's date. */
export interface DecisionFacts {
  /** Points in the current phase, and the days from its first to its last. */
  nInPhase: number;
  phaseDays: number;
  slope: Slope | null;
  /** The median of the last three points of the phase. */
  recentLevel: number | null;
  mastery: Mastery | null;
  /** The line that is gone by, or why there is none. */
  aim: AimLine | null;
  noAim: NoAim | null;
  /** Null under four points and without an aim line. */
  side: SideOfLine | null;
  /** Is the current phase one of instruction, and not the baseline? */
  isInstruction: boolean;
  /** The phase of instruction before this one: when it changed, and on which side of the line its points ended. */
  before: { changedOn: string; side: SideOfLine["key"] | null } | null;
  /** The date of the first of the last four points. */
  lastFourFrom: string | null;
}

const recent = 3;

/**
 * @param inPhase the points of the current phase, in date order
 * @param inPhaseBefore those of the phase of instruction before it; null where there was none
 */
export function decisionFacts(
  inPhase: readonly Dated[],
  inPhaseBefore: readonly Dated[] | null,
  {
    trend,
    mastery,
    aim: found,
    direction,
    phaseFrom,
    isInstruction,
  }: {
    trend: TheilSen | null;
    mastery: Mastery | null;
    aim: AimLine | NoAim;
    direction: Direction;
    phaseFrom?: string | undefined;
    isInstruction: boolean;
  },
): DecisionFacts {
  const aim = typeof found === "string" ? null : found;
  const [first, last] = [inPhase[0], inPhase.at(-1)];
  const aWeek = (perDay: number | null) => (perDay === null ? null : 7 * perDay);
  return {
    nInPhase: inPhase.length,
    phaseDays: first && last ? dayNumber(last.date) - dayNumber(first.date) : 0,
    slope: trend && { perWeek: 7 * trend.slope, low: aWeek(trend.low), high: aWeek(trend.high) },
    recentLevel: last ? median(inPhase.slice(-recent).map(({ value }) => value)) : null,
    ...{ isInstruction, mastery, aim, noAim: typeof found === "string" ? found : null },
    side: aim && sideOfLine(inPhase, aim, direction),
    before:
      inPhaseBefore && inPhaseBefore.length > 0
        ? {
            changedOn: phaseFrom ?? first?.date ?? "",
            side: aim && (sideOfLine(inPhaseBefore, aim, direction)?.key ?? null),
          }
        : null,
    lastFourFrom: inPhase.slice(-4)[0]?.date ?? null,
  };
}
