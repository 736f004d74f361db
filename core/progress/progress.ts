import { type MasteryWindow, meets } from "../criteria/criterion.ts";
import type { Direction } from "../measures/direction-schema.ts";
import { type Judged, type Mastery, mastery } from "../criteria/mastery.ts";
import { type AimLine, aimLine, usableAim } from "./aim-line.ts";
import { type DecisionFacts, decisionFacts } from "./decision-facts.ts";
import { dayNumber } from "../dates/day-number.ts";
import { type FourPoint, fourPoint } from "./four-point.ts";
import { type TheilSen, theilSen } from "./theil-sen.ts";

/** The phase of this name is the baseline; every other name is a phase of instruction. */
export const baselinePhase = "baseline";

/** One measured point of a goal. */
export interface Observation {
  date: string;
  phase: string;
  value: number;
}

export interface Target {
  direction: Direction;
  criterion: number | null;
  /** With how many decimals the criterion is written, where its number does not say. */
  decimals?: number;
  window: MasteryWindow;
  due: string | null;
  /** A baseline that was entered rather than observed. */
  enteredBaseline?: { date: string; value: number } | null;
  /** The phase that is running, when it may not have a point yet; else the latest phase with points is taken. */
  currentPhase?: string | undefined;
  /** The day on which it began; else that of its first point. */
  phaseFrom?: string | undefined;
  /** The occasions held against the criterion, when they are not simply the points outside the baseline. */
  occasions?: readonly Judged[];
  /** Settings and people that the criterion asks for. */
  /** Amounts that add up have no trend: it would run across the day on which they start again. */
  isTotal?: boolean;
  breadth?: { settings?: number | undefined; people?: number | undefined };
}

export interface Progress {
  n: number;
  from: string | null;
  to: string | null;
  currentPhase: string | null;
  /** Points in the current phase. */
  nInPhase: number;
  /** Per day, on days since the series' first measured date; points of the current phase only. */
  theilSen: TheilSen | null;
  /** The same slope as it is always shown, 7 × per day. */
  slopePerWeek: number | null;
  mastery: Mastery | null;
  /** From whatever baseline there is; the line that is gone by stands in `decided`. */
  aim: AimLine | null;
  fourPoint: FourPoint | null;
  /** What standing, trend, pace and advice are made from. */
  decided: DecisionFacts;
}

/** The phase that trends and rules speak of: the latest that is not the baseline, or the baseline if there is no other. */
export function latestPhase(observations: readonly Observation[]): string | null {
  const phases = [...new Set(observations.map((observation) => observation.phase))];
  return phases.filter((phase) => phase !== baselinePhase).at(-1) ?? phases.at(-1) ?? null;
}

/** The points of the phase of instruction that ended when this one began; null where there was none. */
function phaseBefore(points: readonly Observation[], current: string | null): Observation[] | null {
  const names = [...new Set(points.map(({ phase }) => phase))];
  const before = names.slice(0, names.includes(current ?? "") ? names.indexOf(current ?? "") : undefined);
  const name = before.filter((phase) => phase !== baselinePhase).at(-1);
  return name === undefined || current === baselinePhase
    ? null
    : points.filter(({ phase }) => phase === name);
}

/** Puts observations in date order; those of one date keep the order they came in. */
export function inDateOrder<T extends { date: string }>(observations: readonly T[]): T[] {
  return [...observations].sort((a, b) => (a.date < b.date ? -1 : a.date > b.date ? 1 : 0));
}

/**
 * Everything said of one series: trend, mastery, aim line and the four-point rule.
 *
 * @param observations measured points only, in any order; several on one date keep their order
 *
 * The trend is drawn for the current phase alone, since a line across a change of instruction describes neither side.
 */
export function progress(observations: readonly Observation[], target: Target): Progress {
  const points = inDateOrder(observations);
  const first = points[0];
  const baseline = points.filter((point) => point.phase === baselinePhase);
  const aim = aimLine(
    baseline.length > 0 ? baseline : target.enteredBaseline ? [target.enteredBaseline] : [],
    target.criterion,
    target.due,
  );
  const currentPhase = target.currentPhase ?? latestPhase(points);
  const inPhase = points.filter((point) => point.phase === currentPhase);
  const dayZero = first ? dayNumber(first.date) : 0;
  const { criterion, direction, due, decimals } = target;
  const trend = target.isTotal
    ? null
    : theilSen(inPhase.map((point) => ({ x: dayNumber(point.date) - dayZero, y: point.value })));
  const mastered =
    criterion === null
      ? null
      : mastery(
          target.occasions ??
            points
              .filter((point) => point.phase !== baselinePhase)
              .map(({ date, value }) => ({ date, meets: meets(value, criterion, direction, decimals) })),
          target.window,
          target.breadth,
        );
  return {
    n: points.length,
    from: first?.date ?? null,
    to: points.at(-1)?.date ?? null,
    currentPhase,
    nInPhase: inPhase.length,
    theilSen: trend,
    slopePerWeek: trend && 7 * trend.slope,
    mastery: mastered,
    aim,
    fourPoint: aim && fourPoint(inPhase, aim, direction),
    decided: decisionFacts(inPhase, phaseBefore(points, currentPhase), {
      ...{ trend, mastery: mastered, direction, phaseFrom: target.phaseFrom },
      isInstruction: currentPhase !== null && currentPhase !== baselinePhase && currentPhase !== "",
      aim: usableAim(baseline, target.enteredBaseline ?? null, { criterion, due, direction }),
    }),
  };
}
