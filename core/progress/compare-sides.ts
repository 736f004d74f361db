import type { Direction } from "../measures/direction-schema.ts";
import { comparePhases } from "../phases/compare-phases.ts";
import { phaseStatistics, type PhaseStatistics } from "../phases/phase-statistics.ts";
import { figure, plainFigure } from "../words/amounts.ts";
import { dateWithYear } from "../words/dates.ts";
import { counts, percent, plural } from "../words/numbers.ts";
import { differenceWords, fewestToCompare, napWords } from "./changes.ts";
import { dateOfDay, dayNumber } from "../dates/day-number.ts";
import type { GoalPoint } from "./points.ts";
import { slopeWords } from "./standing.ts";
import { theilSenLine } from "./theil-sen.ts";

/** Which points of a goal are looked at. */
export interface SideChoice {
  /** Every point, those of one phase, or of so many days up to the last point. */
  span: "all" | { phase: string } | { days: number };
  /** Of one setting only; empty for every one. */
  setting: string;
}

/** The points of a goal that are chosen, in date order. */
export function chosenPoints(points: readonly GoalPoint[], { span, setting }: SideChoice): GoalPoint[] {
  const ofSetting = points.filter(({ entry }) => setting === "" || entry.setting === setting);
  if (span === "all") return ofSetting;
  if ("phase" in span) return ofSetting.filter(({ phase }) => phase === span.phase);
  const last = points.at(-1)?.date;
  if (last === undefined) return [];
  const from = dateOfDay(dayNumber(last) - span.days + 1);
  return ofSetting.filter(({ date }) => date >= from);
}

/** One side in rows of words, each with its counts. */
export function sideRows(points: readonly GoalPoint[], unit: string): [what: string, said: string][] {
  const found = phaseStatistics(points.map(({ value }) => value));
  const [first, last] = [points[0], points.at(-1)];
  if (!found || !first || !last) return [["points", "none"]];
  // A line across a change of phase describes neither side.
  const isOnePhase = points.every(({ phase }) => phase === first.phase);
  const trend = isOnePhase
    ? theilSenLine(points.map(({ date, value }) => ({ x: dayNumber(date), y: value })))
    : null;
  const slope = slopeWords(trend && 7 * trend.slope, unit);
  const opportunities = points.map(({ entry }) => entry.denominator);
  const credited = points.map(({ entry }) => entry.numerator);
  const sum = (all: readonly (number | null)[]) =>
    all.includes(null) ? null : all.reduce<number>((total, one) => total + (one ?? 0), 0);
  const [of, all] = [sum(credited), sum(opportunities)];
  return [
    ["points", `${found.n}, ${dateWithYear(first.date)} to ${dateWithYear(last.date)}`],
    ["median", figure(found.median, unit)],
    ["lowest to highest", `${plainFigure(found.min, unit)} to ${figure(found.max, unit)}`],
    ...(of !== null && all && unit === "percent"
      ? ([["all together", `${percent((100 * of) / all)} (${counts(of, all)})`]] satisfies [string, string][])
      : []),
    ["trend", slope ?? (isOnePhase ? "none: one day only" : "none: they are of more than one phase")],
    ["last", figure(last.value, unit)],
  ];
}

interface Side {
  points: readonly GoalPoint[];
  unit: string;
}

const statisticsOf = ({ points }: Side): PhaseStatistics | null =>
  phaseStatistics(points.map(({ value }) => value));

/**
 * The two sides in a sentence: their medians, and for two stretches of one goal that follow each other in how many pairs of an
 * earlier and a later point the later one was better. It never says why, and nothing of measures that have different units.
 *
 * @param sameGoal whether both are of one goal, and what is better there
 */
export function sidesSentence(first: Side, second: Side, sameGoal: { direction: Direction } | null): string {
  const [a, b] = [statisticsOf(first), statisticsOf(second)];
  if (!a || !b) return "One of the two has no point: there is nothing to compare.";
  if (first.unit !== second.unit)
    return "The two are measured in different units: they stand beside each other, and no number compares them.";
  const medians = `Median ${figure(a.median, first.unit)} of ${a.n} ${plural(a.n, "point")} on the left, ${figure(b.median, first.unit)} of ${b.n} on the right: ${differenceWords(b.median - a.median, first.unit)}`;
  const [end, start] = [first.points.at(-1)?.date ?? "", second.points[0]?.date ?? ""];
  const pairs =
    sameGoal && end < start && Math.min(a.n, b.n) >= fewestToCompare
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
