import { figure, plainFigure } from "../amounts.ts";
import { dateWithYear } from "../dates.ts";
import { counts, inDigits, percent, plural } from "../numbers.ts";
import { changesEn, type LevelsArgs, type PairsArgs } from "./changes.ts";
import { progressEn } from "./progress.ts";

/** A label and what is said beside it. */
export type RowWords = [label: string, text: string];

const noTrend = { "one day": "none: one day only", phases: "none: the points are from more than one phase" };

/** Two sides of a comparison: rows of one, and the two in sentences; English. */
export const sidesEn = {
  none: (): RowWords => ["points", "none"],
  points: (n: number, from: string, to: string): RowWords => [
    "points",
    `${inDigits(n)}, ${dateWithYear(from)} to ${dateWithYear(to)}`,
  ],
  /** @param phase the name of one of several; null where all points are of one */
  median: (phase: string | null, value: number, unit: string): RowWords => [
    phase === null ? "median" : `median, ${phase || "before the first phase"}`,
    figure(value, unit),
  ],
  range: (min: number, max: number, unit: string): RowWords => [
    "lowest to highest",
    `${plainFigure(min, unit)} to ${figure(max, unit)}`,
  ],
  allTogether: (of: number, all: number): RowWords => [
    "all together",
    `${percent((100 * of) / all)} (${counts(of, all)})`,
  ],
  trend: (perWeek: number, unit: string): RowWords => ["trend", progressEn.slope(perWeek, unit)],
  noTrend: (why: keyof typeof noTrend): RowWords => ["trend", noTrend[why]],
  last: (value: number, unit: string): RowWords => ["last", figure(value, unit)],
  nothingToCompare: () => "One side has no points, so there is nothing to compare.",
  severalPhases: () => "A side spans more than one phase. Choose one phase on each side to compare them.",
  tooFewForChange: (title: string, n: number) =>
    `“${title}”: ${inDigits(n)} ${plural(n, "point")}, too few to tell a change.`,
  ownChange: (title: string, levels: LevelsArgs, isByPhases: boolean) =>
    `“${title}”: ${figure(levels.before, levels.unit)} → ${figure(levels.after, levels.unit)}, ${changesEn.difference(levels)} (${
      isByPhases ? "median of the first phase to the last" : "median of the first 3 points to the last 3"
    }).`,
  medians: (levels: LevelsArgs, left: number, right: number, pairs: PairsArgs | null) =>
    `Median ${figure(levels.before, levels.unit)} of ${inDigits(left)} ${plural(left, "point")} on the left, ${figure(levels.after, levels.unit)} of ${inDigits(right)} on the right: ${changesEn.difference(levels)}${
      pairs ? `; ${changesEn.pairs(pairs)}` : ""
    }.`,
};

/** Two sides in one language. */
export type SidesWords = typeof sidesEn;
