import { median } from "simple-statistics";
import { groupBy } from "../lists/group-by.ts";
import type { Direction } from "../measures/direction-schema.ts";
import { comparePhases } from "../phases/compare-phases.ts";
import { phaseStatistics } from "../phases/phase-statistics.ts";
import { fewestToCompare, pairsArgs } from "./changes.ts";
import { dateOfDay, dayNumber } from "../dates/day-number.ts";
import type { GoalPoint } from "./points.ts";
import { sidesEn, type SidesWords } from "../words/en/sides.ts";
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
  words: SidesWords = sidesEn,
): [label: string, text: string][] {
  const found = phaseStatistics(points.map(({ value }) => value));
  const [first, last] = [points[0], points.at(-1)];
  if (!found || !first || !last) return [words.none()];
  const phases = phasesOf(points);
  const isOnePhase = phases.length === 1;
  const trend = isOnePhase
    ? theilSenLine(points.map(({ date, value }) => ({ x: dayNumber(date), y: value })))
    : null;
  const [of, all] = [
    sum(points.map(({ entry }) => entry.numerator)),
    sum(points.map(({ entry }) => entry.denominator)),
  ];
  return [
    words.points(found.n, first.date, last.date),
    ...phases.map(([phase, ofPhase]) =>
      words.median(isOnePhase ? null : nameOf(phase), middle(ofPhase), unit),
    ),
    words.range(found.min, found.max, unit),
    ...(isOnePhase && of !== null && all && unit === "percent" ? [words.allTogether(of, all)] : []),
    trend ? words.trend(7 * trend.slope, unit) : words.noTrend(isOnePhase ? "one day" : "phases"),
    words.last(last.value, unit),
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
function ownChange({ points, unit, title }: Side, words: SidesWords): string {
  const phases = phasesOf(points);
  const [first, last] = [phases[0]?.[1] ?? [], phases.at(-1)?.[1] ?? []];
  const isByPhases = phases.length > 1;
  if (!isByPhases && points.length < 2 * ends) return words.tooFewForChange(title, points.length);
  const [from, to] = isByPhases ? [first, last] : [points.slice(0, ends), points.slice(-ends)];
  return words.ownChange(title, { before: middle(from), after: middle(to), unit }, isByPhases);
}

/**
 * The two sides in sentences. Two stretches of one goal: their medians, and where one follows the other in how many pairs of an earlier and
 * a later point the later one was better; never with a baseline and a phase put together. Two goals: how each changed by itself. It never
 * says why.
 *
 * @param sameGoal whether both are of one goal, and what is better there
 */
export function sidesSentence(
  first: Side,
  second: Side,
  sameGoal: { direction: Direction } | null,
  words: SidesWords = sidesEn,
): string {
  if (first.points.length === 0 || second.points.length === 0) return words.nothingToCompare();
  if (!sameGoal) return `${ownChange(first, words)} ${ownChange(second, words)}`;
  if ([first, second].some(({ points }) => phasesOf(points).length > 1)) return words.severalPhases();
  const [end, start] = [first.points.at(-1)?.date ?? "", second.points[0]?.date ?? ""];
  const isBefore = end < start && Math.min(first.points.length, second.points.length) >= fewestToCompare;
  const [left, right] = [
    { name: "left", points: first.points },
    { name: "right", points: second.points },
  ];
  return words.medians(
    { before: middle(first.points), after: middle(second.points), unit: first.unit },
    first.points.length,
    second.points.length,
    isBefore ? pairsArgs(comparePhases(left, right, sameGoal.direction), "points") : null,
  );
}
