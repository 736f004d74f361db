import { dateOfDay, dayNumber } from "../dates/day-number.ts";
import { weekOf } from "../dates/week.ts";
import { groupBy } from "../lists/group-by.ts";
import { type DueQuestion, dueData } from "./due-data.ts";

/** What a plan asked of one week, and what came. */
export interface WeekCoverage {
  /** The week's Monday, `YYYY-MM-DD`. */
  monday: string;
  asked: number;
  taken: number;
  /**
   * - `nothing`: the plan asked for nothing in this week, and nothing came
   * - `all`: as many days of data as the plan asks, or more
   * - `some`, `none`: fewer, or none, and the week is over or has no planned day left
   * - `open`: there are planned days still to come
   */
  state: "nothing" | "all" | "some" | "none" | "open";
}

/** The Mondays of so many weeks, the one of `today` last. */
export function mondaysUpTo(today: string, weeks: number): string[] {
  const last = dayNumber(weekOf(today));
  return Array.from({ length: weeks }, (_, index) => dateOfDay(last - 7 * (weeks - 1 - index)));
}

/**
 * What a goal's plan asked of each week, and on how many days data came. The plan of today counts for every week.
 *
 * @param question of the goal; `today` is the last day that is looked at
 * @param mondays of the weeks, in their order
 *
 * Source: ours, by the rules of `dueData`.
 */
export function weeksCovered(question: DueQuestion, mondays: readonly string[]): WeekCoverage[] {
  const { today, measuredOn } = question;
  return mondays.map((monday) => {
    const sunday = dateOfDay(dayNumber(monday) + 6);
    const until = sunday < today ? sunday : today;
    const { asked, state } = dueData({ ...question, today: until });
    // Without a plan, or before it begins, what came is counted all the same.
    const taken = new Set(measuredOn.filter((date) => monday <= date && date <= sunday)).size;
    if (asked === 0) return { monday, asked, taken, state: taken > 0 ? "all" : "nothing" };
    if (taken >= asked) return { monday, asked, taken, state: "all" };
    const isOver = sunday < today || state === "late";
    if (!isOver) return { monday, asked, taken, state: "open" };
    return { monday, asked, taken, state: taken > 0 ? "some" : "none" };
  });
}

/** The least share of a phase's days of data that a second observer should have seen as well. */
export const secondObserverShare = 0.2;

/** The days of data of one phase, and how many of them a second observer saw. */
export interface PhaseObserved {
  /** The phase's name; "" where the goal has no phases. */
  name: string;
  days: number;
  seconded: number;
  /** Days that are still missing to a fifth; 0 where it is reached, or nothing was measured. */
  missing: number;
}

/**
 * In each phase: on how many days there are data, and on how many of these a second observer recorded as well.
 *
 * @param phases in their order, each with its first day; days before the first belong to a phase without a name
 * @param days of data, and whether a second observer recorded on that day
 *
 * Source: agreement in at least 20 % of the data points of each phase: What Works Clearinghouse, *Procedures and Standards Handbook*, version
 * 5.0 (2022), single-case designs (from memory). Days stand for data points here.
 */
export function secondObserved(
  phases: readonly { name: string; startsOn: string }[],
  days: readonly { on: string; isSeconded: boolean }[],
): PhaseObserved[] {
  const ordered = phases.toSorted((a, b) => (a.startsOn < b.startsOn ? -1 : 1));
  const first = ordered[0]?.startsOn ?? "9999-12-31";
  const spans = [
    { name: "", from: "", to: first },
    ...ordered.map(({ name, startsOn }, index) => ({
      ...{ name, from: startsOn, to: ordered[index + 1]?.startsOn ?? "9999-12-31" },
    })),
  ];
  return spans
    .map(({ name, from, to }) => {
      const inside = days.filter(({ on }) => from <= on && on < to);
      const seconded = inside.filter(({ isSeconded }) => isSeconded).length;
      const wanted = Math.ceil(inside.length * secondObserverShare);
      return { name, days: inside.length, seconded, missing: Math.max(0, wanted - seconded) };
    })
    .filter(({ name, days: n }) => name !== "" || n > 0);
}

/** How often each came in all, the first one first: `[["probe", 5], ["teaching", 1]]`. */
export const sums = (all: readonly (readonly [name: string, n: number])[]): [string, number][] =>
  [...groupBy(all, ([name]) => name)].map(([name, some]) => [name, some.reduce((sum, [, n]) => sum + n, 0)]);

/** A goal as the weeks of people are counted from it. */
export interface CoveredGoal {
  /** Who usually measures it. */
  measuredBy: string | null;
  weeks: readonly WeekCoverage[];
  /** Who observed on which day; several lines of one day count once. */
  days: readonly { personId: string; on: string }[];
  /** Who was a second observer, once for each day. */
  seconds: readonly string[];
}

/** One person's part: days of data of each week, each goal for itself, and what came of what was due for the goals that are usually theirs. */
export interface PersonCoverage {
  weeks: { recorded: number; asked: number; taken: number }[];
  /** How many goals they usually measure. */
  usual: number;
  /** On how many days they were a second observer. */
  seconds: number;
}

/**
 * What each person recorded, week by week, by their ids.
 *
 * @param mondays of the weeks, in their order, those of the goals' weeks
 *
 * Source: ours. More days than were asked for count as those asked for: one goal does not make up for another.
 */
export function weeksOfPeople(
  goals: readonly CoveredGoal[],
  mondays: readonly string[],
): Map<string, PersonCoverage> {
  const people = new Map<string, PersonCoverage>();
  const person = (personId: string) => {
    const found = people.get(personId) ?? {
      weeks: mondays.map(() => ({ recorded: 0, asked: 0, taken: 0 })),
      ...{ usual: 0, seconds: 0 },
    };
    people.set(personId, found);
    return found;
  };
  for (const { measuredBy, weeks, days, seconds } of goals) {
    if (measuredBy) {
      const usual = person(measuredBy);
      usual.usual += 1;
      for (const [place, { asked, taken }] of weeks.entries()) {
        const week = usual.weeks[place];
        if (!week) continue;
        week.asked += asked;
        week.taken += Math.min(asked, taken);
      }
    }
    for (const seconder of seconds) person(seconder).seconds += 1;
    for (const [personId, some] of groupBy(days, (one) => one.personId))
      for (const on of new Set(some.map((one) => one.on))) {
        const week = person(personId).weeks[mondays.findLastIndex((monday) => monday <= on)];
        if (week) week.recorded += 1;
      }
  }
  return people;
}
