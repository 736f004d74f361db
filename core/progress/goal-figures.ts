import { joinedWords } from "../criteria/criterion-words.ts";
import { dateOfDay, dayNumber } from "../dates/day-number.ts";
import { daysInSession, type SchoolCalendar } from "../schedule/calendar.ts";
import { isQuiet } from "../schedule/due-data.ts";
import { unitOf } from "../measures/measure.ts";
import type { Goal, GoalPhase, GoalSetup } from "../model/goal.ts";
import { criterionEn, type CriterionWords } from "../words/en/criterion.ts";
import { progressEn } from "../words/en/progress.ts";
import { standingEn } from "../words/en/standing.ts";
import { type FullFigures, fullFigures } from "./full-figures.ts";
import {
  type EntryFigure,
  type GoalPoint,
  goalSeries,
  type GoalSeries,
  inOrderOfStart,
  periodEnd,
  pointUnit,
} from "./points.ts";
import { type Progress, progress, type Target } from "./progress.ts";
import { type Decided, type DecideWords, decideFrom, type SeriesAsk } from "./decide.ts";
import type { DecisionFacts } from "./decision-facts.ts";

/** Trend, mastery, aim line and four-point rule of one goal. */
export const goalProgress = (setup: GoalSetup, series: GoalSeries): Progress =>
  progress(series.points, goalTarget(setup, series));

/** Everything that is said of one goal. */
export const goalFullFigures = (setup: GoalSetup, series: GoalSeries): FullFigures =>
  fullFigures(series.points, goalTarget(setup, series));

function goalTarget(setup: GoalSetup, { all, judged }: GoalSeries): Target {
  const { criterion } = setup;
  const last = all.at(-1);
  return {
    direction: criterion?.direction ?? "increase",
    criterion: criterion?.value ?? null,
    window: criterion?.window ?? { k: 1, n: 1 },
    due: setup.dueOn,
    enteredBaseline: setup.enteredBaseline,
    ...{ currentPhase: last?.phase, phaseFrom: last && phaseOn(setup, last.date)?.startsOn },
    occasions: judged.filter((one) => one !== null),
    breadth: { settings: criterion?.settings, people: criterion?.people },
    isTotal: setup.measure.kind === "running-total",
  };
}

/** The summaries that this program writes. One of another format is made anew when the tables are brought up to date. */
export const summaryFormat = 3;

/** The summary of a goal that is stored for the caseload. It does not depend on today's date. */
export interface GoalSummary extends DecisionFacts {
  format: typeof summaryFormat;
  /** Entries kept, measured or not. */
  entries: number;
  n: number;
  /** The last point. */
  last: EntryFigure | null;
  /** The date of the last point of any kind: one without a figure too. */
  lastOn: string | null;
  /** The last points, oldest first, for the little chart. */
  recent: { date: string; value: number; phase: string }[];
  /** The facts without the last day, week or month, for as long as that is running; null where points are not pooled to one. */
  running: { through: string; facts: DecisionFacts } | null;
}

/** A goal with the facts kept beside it; null where it has no summary yet. */
export interface SummarisedGoal extends Goal {
  summary: GoalSummary | null;
}

const recentPoints = 16;

/** The last point as an entry says it, in a running total with what has come together by then. */
function lastFigure(points: readonly GoalPoint[]): GoalSummary["last"] {
  const last = points.at(-1);
  if (!last) return null;
  const { entryId, date, numerator, denominator, purpose } = last.entry;
  return { entryId, date, value: last.value, numerator, denominator, purpose };
}

function runningFacts(
  setup: GoalSetup,
  entries: readonly EntryFigure[],
  lastOn: string | null,
): GoalSummary["running"] {
  if (lastOn === null) return null;
  const series = goalSeries(setup, entries, lastOn);
  if (!series.all.at(-1)?.isOpen) return null;
  return { through: periodEnd(lastOn, series.unit), facts: goalProgress(setup, series).decided };
}

/**
 * What is kept of a goal so that the caseload reads no entries: counts, the last and the most recent points, standing and trend.
 *
 * @param entries every kept entry of the goal, in the order of their dates
 */
export function goalSummary(setup: GoalSetup, entries: readonly EntryFigure[]): GoalSummary {
  const series = goalSeries(setup, entries);
  const { points } = series;
  const figures = goalProgress(setup, series);
  const lastOn = series.all.at(-1)?.date ?? null;
  return {
    format: summaryFormat,
    entries: entries.length,
    n: figures.n,
    last: lastFigure(points),
    lastOn,
    recent: points.slice(-recentPoints).map(({ date, value, phase }) => ({ date, value, phase })),
    running: runningFacts(setup, entries, lastOn),
    ...figures.decided,
  };
}

/** The phase that has begun last by a date; null when none has. */
export function phaseOn({ phases }: Pick<GoalSetup, "phases">, date: string): GoalPhase | null {
  return inOrderOfStart(phases).findLast(({ startsOn }) => startsOn <= date) ?? null;
}

/** School weeks from a day (it not counted) to another: days in session over the school days of a week. */
export function schoolWeeks(calendar: SchoolCalendar, today: string, to: string): number {
  const tomorrow = dateOfDay(dayNumber(today) + 1);
  return to <= today ? 0 : daysInSession(calendar, tomorrow, to).length / calendar.schoolDays.length;
}

/** What the day, the calendar and the decisions add to a goal's facts. */
export interface JudgeMore {
  /** The date of the last point of any kind. */
  lastOn: string | null;
  today: string;
  calendar: SchoolCalendar;
  taughtOn?: string | null;
  absences?: readonly string[] | undefined;
}

/** School weeks left, and whether the last point is old: the same for the page and its file. */
export function askOf(
  setup: Pick<GoalSetup, "dueOn" | "phases">,
  { lastOn, today, calendar, taughtOn = null, absences }: JudgeMore,
): SeriesAsk {
  const { dueOn } = setup;
  return {
    since: phaseOn(setup, today)?.startsOn ?? null,
    ...{ today, taughtOn },
    weeks: dueOn === null ? null : schoolWeeks(calendar, today, dueOn),
    isStale: lastOn !== null && isQuiet(lastOn, today, calendar, absences),
  };
}

/** The facts of a goal on a day: without its last week or month where that is still running. */
function factsOn(facts: DecisionFacts & Partial<Pick<GoalSummary, "running">>, today: string): DecisionFacts {
  return facts.running && today <= facts.running.through ? facts.running.facts : facts;
}

/** The areas of a language that say where a goal stands. */
export interface JudgeWords extends DecideWords {
  criterion: CriterionWords;
}

/**
 * Where a goal stands today, its trend, pace and advice.
 *
 * @param stored made from the goal's points
 */
export function judgeGoal(
  stored: DecisionFacts & Partial<Pick<GoalSummary, "running">>,
  setup: Pick<GoalSetup, "criterion" | "metOn" | "measure" | "phases" | "dueOn">,
  more: JudgeMore,
  words: JudgeWords = { standing: standingEn, progress: progressEn, criterion: criterionEn },
): Decided {
  const { lastOn, today } = more;
  const facts = factsOn(stored, today);
  const ask = {
    ...{ metOn: setup.metOn, dueOn: setup.dueOn, unit: unitOf(setup.measure), measuredOn: lastOn },
    criterion: setup.criterion && { ...setup.criterion, windowUnit: pointUnit(setup) },
    joined: setup.criterion ? joinedWords(setup.criterion, setup.measure, words.criterion) : [],
    isTotal: setup.measure.kind === "running-total",
    ...askOf(setup, more),
  };
  return decideFrom(facts, ask, words);
}
