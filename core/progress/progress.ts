import { median } from "simple-statistics";
import { type MasteryWindow, meets } from "../criteria/criterion.ts";
import type { Direction } from "../measures/direction-schema.ts";
import { type Judged, type Mastery, mastery } from "../criteria/mastery.ts";
import { type AimLine, aimLine } from "./aim-line.ts";
import { dayNumber } from "../dates/day-number.ts";
import { differencesFromAim, type FourPoint, fourPoint } from "./four-point.ts";
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
  window: MasteryWindow;
  due: string | null;
  /** A baseline that was entered rather than observed. */
  enteredBaseline?: { date: string; value: number } | null;
  /** The phase that is running, when it may not have a point yet; else the latest phase with points is taken. */
  currentPhase?: string;
  /** The occasions held against the criterion, when they are not simply the points outside the baseline. */
  occasions?: readonly Judged[];
  /** Settings and people that the criterion asks for. */
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
  aim: AimLine | null;
  fourPoint: FourPoint | null;
  /** Median of the last four differences from the aim line, larger is better; null without an aim line or a point. */
  medianDifference: number | null;
}

/** The phase that trends and rules speak of: the latest that is not the baseline, or the baseline if there is no other. */
export function latestPhase(observations: readonly Observation[]): string | null {
  const phases = [...new Set(observations.map((observation) => observation.phase))];
  return phases.filter((phase) => phase !== baselinePhase).at(-1) ?? phases.at(-1) ?? null;
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
  const { criterion, direction } = target;
  const lastFour = inPhase.slice(-4);
  const trend = theilSen(inPhase.map((point) => ({ x: dayNumber(point.date) - dayZero, y: point.value })));
  return {
    n: points.length,
    from: first?.date ?? null,
    to: points.at(-1)?.date ?? null,
    currentPhase,
    nInPhase: inPhase.length,
    theilSen: trend,
    slopePerWeek: trend && 7 * trend.slope,
    mastery:
      criterion === null
        ? null
        : mastery(
            target.occasions ??
              points
                .filter((point) => point.phase !== baselinePhase)
                .map(({ date, value }) => ({ date, meets: meets(value, criterion, direction) })),
            target.window,
            target.breadth,
          ),
    aim,
    fourPoint: aim && fourPoint(inPhase, aim, target.direction),
    medianDifference:
      aim && lastFour.length > 0 ? median(differencesFromAim(lastFour, aim, target.direction)) : null,
  };
}
