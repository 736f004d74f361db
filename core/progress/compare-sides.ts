import { median } from "simple-statistics";
import { groupBy } from "../lists/group-by.ts";
import type { Direction } from "../measures/direction-schema.ts";
import { comparePhases } from "../phases/compare-phases.ts";
import { phaseStatistics } from "../phases/phase-statistics.ts";
import { figure, plainFigure } from "../words/amounts.ts";
import { dateWithYear } from "../words/dates.ts";
import { counts, percent, plural } from "../words/numbers.ts";
import { differenceWords, fewestToCompare, napWords } from "./changes.ts";
import { dateOfDay, dayNumber } from "../dates/day-number.ts";
import type { GoalPoint } from "./points.ts";
import { progressEn } from "../words/en/progress.ts";
import { theilSenLine } from "./theil-sen.ts";

/** Which points of a goal are looked at. */
export interface SideChoice {
  /** Every point, those of one phase, of so many days up to the last point, or of a reporting period. */
  span: "all" | { phase: string } | { days: number } | { from: string; to: string; key: string };
  /** Of one setting only; empty for every one. */
  setting: string;
}

/** The points of a goal that are chosen, in date order. */
export function chosenPoints(points: readonly GoalPoint[], { span, setting }: SideChoice): GoalPoint[] {
  const ofSetting = points.filter(({ entry }) => setting === "" || entry.setting === setting);
  if (span === "all") return ofSetting;
  if ("phase" in span) return ofSetting.filter(({ phase }) => phase === span.phase);
  if ("key" in span) return ofSetting.filter(({ date }) => span.from <= date && date <= span.to);
  const last = points.at(-1)?.date;
  if (last === undefined) return [];
  const from = dateOfDay(dayNumber(last) - span.days + 1);
  return ofSetting.filter(({ date }) => date >= from);
}

const sum = (all: readonly (number | null)[]) =>
  all.includes(null) ? null : all.reduce<number>((total, one) => total + (one ?? 0), 0);

/** The points of each phase, in order: a baseline and what followed are never put together. */
const phasesOf = (points: readonly GoalPoint[]) => [...groupBy(points, ({ phase }) => phase)];

/** One side in rows of words, each with its counts; of several phases each with its own median. */
export function sideRows(
  points: readonly GoalPoint[],
  unit: string,
  nameOf: (phase: string) => string = (phase) => phase,
): [what: string, said: string][] {
  const found = phaseStatistics(points.map(({ value }) => value));
  const [first, last] = [points[0], points.at(-1)];
  if (!found || !first || !last) return [["points", "none"]];
  const phases = phasesOf(points);
  const isOnePhase = phases.length === 1;
  const trend = isOnePhase
    ? theilSenLine(points.map(({ date, value }) => ({ x: dayNumber(date), y: value })))
    : null;
  const slope = trend && progressEn.slope(7 * trend.slope, unit);
  const [of, all] = [
    sum(points.map(({ entry }) => entry.numerator)),
    sum(points.map(({ entry }) => entry.denominator)),
  ];
  return [
    ["points", `${found.n}, ${dateWithYear(first.date)} to ${dateWithYear(last.date)}`],
    ...phases.map(([phase, ofPhase]): [string, string] => [
      isOnePhase ? "median" : `median, ${nameOf(phase) || "before the first phase"}`,
      figure(median(ofPhase.map(({ value }) => value)), unit),
    ]),
    ["lowest to highest", `${plainFigure(found.min, unit)} to ${figure(found.max, unit)}`],
    ...(isOnePhase && of !== null && all && unit === "percent"
      ? ([["all together", `${percent((100 * of) / all)} (${counts(of, all)})`]] satisfies [string, string][])
      : []),
    ["trend", slope ?? (isOnePhase ? "none: one day only" : "none: the points are from more than one phase")],
    ["last", figure(last.value, unit)],
  ];
}

interface Side {
  points: readonly GoalPoint[];
  unit: string;
  /** The goal, as a sentence about two goals calls it. */
  title: string;
}

const ends = 3;
const middle = (points: readonly GoalPoint[]) => median(points.map(({ value }) => value));

/** How one goal changed by itself: from its first phase to its last, or from its first three points to its last three. */
function ownChange({ points, unit, title }: Side): string {
  const phases = phasesOf(points);
  const [first, last] = [phases[0]?.[1] ?? [], phases.at(-1)?.[1] ?? []];
  const [from, to] = phases.length > 1 ? [first, last] : [points.slice(0, ends), points.slice(-ends)];
  if (phases.length === 1 && points.length < 2 * ends)
    return `“${title}”: ${points.length} ${plural(points.length, "point")}, too few to tell a change.`;
  const [before, after] = [middle(from), middle(to)];
  const what =
    phases.length > 1
      ? "median of the first phase to the last"
      : "median of the first 3 points to the last 3";
  return `“${title}”: ${figure(before, unit)} → ${figure(after, unit)}, ${differenceWords(before, after, unit)} (${what}).`;
}

/**
 * The two sides in sentences. Two stretches of one goal: their medians, and where one follows the other in how many pairs of an earlier and
 * a later point the later one was better; never with a baseline and a phase put together. Two goals: how each changed by itself. It never
 * says why.
 *
 * @param sameGoal whether both are of one goal, and what is better there
 */
export function sidesSentence(first: Side, second: Side, sameGoal: { direction: Direction } | null): string {
  if (first.points.length === 0 || second.points.length === 0)
    return "One side has no points, so there is nothing to compare.";
  if (!sameGoal) return `${ownChange(first)} ${ownChange(second)}`;
  if ([first, second].some(({ points }) => phasesOf(points).length > 1))
    return "A side spans more than one phase. Choose one phase on each side to compare them.";
  const [a, b] = [middle(first.points), middle(second.points)];
  const medians = `Median ${figure(a, first.unit)} of ${first.points.length} ${plural(first.points.length, "point")} on the left, ${figure(b, first.unit)} of ${second.points.length} on the right: ${differenceWords(a, b, first.unit)}`;
  const [end, start] = [first.points.at(-1)?.date ?? "", second.points[0]?.date ?? ""];
  const pairs =
    end < start && Math.min(first.points.length, second.points.length) >= fewestToCompare
      ? napWords(
          comparePhases(
            { name: "left", points: first.points },
            { name: "right", points: second.points },
            sameGoal.direction,
          ),
        )
      : null;
  return `${medians}${pairs ? `; ${pairs}` : ""}.`;
}
