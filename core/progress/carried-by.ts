import { mean } from "simple-statistics";
import { groupBy } from "../lists/group-by.ts";
import { changesEn, type ChangesWords } from "../words/en/changes.ts";
import { weekdayOf } from "../dates/day-number.ts";
import type { GoalPoint, PointUnit } from "./points.ts";

/** The points of one person, setting or weekday together. */
export interface Share {
  name: string;
  n: number;
  /** In the unit of the measure: pooled where the points are counts, else a mean of sessions. */
  value: number;
  /** "62 % (31 of 50)", "mean of sessions 12 s" */
  words: string;
}

export interface CarriedBy {
  by: "person" | "setting" | "weekday";
  shares: Share[];
}

function shareOf(name: string, points: readonly GoalPoint[], unit: string, words: ChangesWords): Share {
  const counted = points.flatMap(({ entry: { numerator, denominator } }) =>
    numerator === null || denominator === null ? [] : [{ numerator, denominator }],
  );
  if (counted.length === points.length && unit === "percent") {
    const [of, all] = [
      counted.reduce((sum, { numerator }) => sum + numerator, 0),
      counted.reduce((sum, { denominator }) => sum + denominator, 0),
    ];
    const value = (100 * of) / all;
    return { name, n: points.length, value, words: words.pooledShare(value, of, all) };
  }
  const value = mean(points.map((point) => point.value));
  return { name, n: points.length, value, words: words.meanOfSessions(value, unit) };
}

/**
 * Who, where and on which weekday the points of a phase come from, and what each of them gave. Counts are pooled (numerators and
 * denominators added); where there are none it is a mean of sessions.
 *
 * @param points of one phase; a running total has no share of anything
 * @param personName who a person of the entries is
 * @param per what a point is
 * @returns only what has at least two names to tell apart, each by its value, the highest first
 *
 * Source: pooling as in `docs/methods.md`, common practice.
 */
export function carriedBy(
  points: readonly GoalPoint[],
  unit: string,
  personName: (personId: string) => string,
  per: PointUnit = "session",
  words: ChangesWords = changesEn,
): CarriedBy[] {
  const sorts = [
    ["person", ({ entry }: GoalPoint) => (entry.personId ? personName(entry.personId) : null)],
    ["setting", ({ entry }: GoalPoint) => entry.setting ?? null],
    // A week or a month has no weekday.
    [
      "weekday",
      ({ date }: GoalPoint) => (per === "week" || per === "month" ? null : words.weekday(weekdayOf(date))),
    ],
  ] as const;
  return sorts.flatMap(([by, nameOf]) => {
    const known = points.flatMap((point) => {
      const name = nameOf(point);
      return name === null || name === "" ? [] : [{ name, point }];
    });
    const shares = [...groupBy(known, ({ name }) => name)].map(([name, ones]) =>
      shareOf(
        name,
        ones.map(({ point }) => point),
        unit,
        words,
      ),
    );
    return shares.length < 2 ? [] : [{ by, shares: shares.sort((a, b) => b.value - a.value) }];
  });
}
