import { countedPurposes, meetsAll, type Purpose } from "../criteria/criterion.ts";
import { poolOccasions } from "../criteria/pool.ts";
import { joinedWords } from "../criteria/criterion-words.ts";
import { dateOfDay, dayNumber } from "../dates/day-number.ts";
import { weekOf } from "../dates/week.ts";
import { daysInSession, type SchoolCalendar } from "../schedule/calendar.ts";
import { isQuiet } from "../schedule/due-data.ts";
import { type Measure, unitOf } from "../measures/measure.ts";
import type { Goal, GoalPhase, GoalSetup } from "../model/goal.ts";
import { type FullFigures, fullFigures } from "./full-figures.ts";
import {
  baselinePhase,
  inDateOrder,
  type Observation,
  type Progress,
  progress,
  type Target,
} from "./progress.ts";
import { type Decided, decideFrom, type SeriesAsk } from "./decide.ts";
import type { DecisionFacts } from "./decision-facts.ts";

/** What the figures need to know of an entry: kept, measured or not, in the order observed. */
export interface EntryFigure {
  entryId: string;
  date: string;
  value: number | null;
  numerator: number | null;
  denominator: number | null;
  purpose: Purpose;
  /** Where it was observed, if that was said, and who observed it. */
  setting?: string | null;
  personId?: string;
  /** The score's detail, where the criterion joins a second figure from it. */
  detail?: Readonly<Record<string, unknown>> | null;
}

/** A figure in a score's detail: `accuracy`, `cumulative.verbal`. */
function sideFigure(detail: EntryFigure["detail"], name: string): number | null {
  const [outer = "", ...rest] = name.split(".");
  const found =
    rest.length === 0 ? detail?.[outer] : (detail?.[outer] as Record<string, unknown>)?.[rest.join(".")];
  return typeof found === "number" ? found : null;
}

/** A running total is shown as the sum so far; it starts at 0 again with each period. */
function runningTotals(measure: Measure, points: GoalPoint[]): GoalPoint[] {
  if (measure.kind !== "running-total") return points;
  const { startsAgain } = measure;
  const periodOf = (date: string) =>
    startsAgain === "week" ? weekOf(date) : startsAgain === "month" ? date.slice(0, 7) : "";
  let [period, total] = ["", 0];
  return points.map((point) => {
    if (periodOf(point.date) !== period) [period, total] = [periodOf(point.date), 0];
    total += point.value;
    return { ...point, value: total };
  });
}

export interface GoalPoint extends Observation {
  entry: EntryFigure;
}

/** A phase by the name that `progress` compares by. */
function phaseKey(phase: GoalPhase): string {
  return phase.isBaseline ? baselinePhase : phase.phaseId;
}

function inOrderOfStart(phases: readonly GoalPhase[]): GoalPhase[] {
  return [...phases].sort((a, b) => (a.startsOn < b.startsOn ? -1 : a.startsOn > b.startsOn ? 1 : 0));
}

/** The measured entries whose purpose counts, in date order, each with the phase that had begun by its date. */
export function goalPoints(setup: GoalSetup, entries: readonly EntryFigure[]): GoalPoint[] {
  const counted = countedPurposes(setup.criterion);
  const phases = inOrderOfStart(setup.phases);
  const points = inDateOrder(entries).flatMap((entry) => {
    if (entry.value === null || !counted.includes(entry.purpose)) return [];
    const phase = phases.findLast(({ startsOn }) => startsOn <= entry.date);
    return [{ date: entry.date, value: entry.value, phase: phase ? phaseKey(phase) : "", entry }];
  });
  const first = setup.baselineEntries ?? 0;
  return runningTotals(
    setup.measure,
    points.map((point, index) => (index < first ? { ...point, phase: baselinePhase } : point)),
  );
}

/** Trend, mastery, aim line and four-point rule of one goal. Entries with too few opportunities stay out of mastery alone. */
export const goalProgress = (setup: GoalSetup, points: readonly GoalPoint[]): Progress =>
  progress(points, goalTarget(setup, points));

/** Everything that is said of one goal. */
export const goalFullFigures = (setup: GoalSetup, points: readonly GoalPoint[]): FullFigures =>
  fullFigures(points, goalTarget(setup, points));

function goalTarget(setup: GoalSetup, points: readonly GoalPoint[]): Target {
  const { criterion } = setup;
  const minimum = criterion?.minimumOpportunities ?? 0;
  const occasions = points
    .filter((point) => point.phase !== baselinePhase && (point.entry.denominator ?? Infinity) >= minimum)
    .map(({ date, value, entry }) => ({
      date,
      value,
      numerator: entry.numerator,
      denominator: entry.denominator,
      setting: entry.setting ?? null,
      personId: entry.personId ?? "",
      side: Object.fromEntries(
        (criterion?.joined ?? []).map(({ figure }) => [figure, sideFigure(entry.detail, figure)]),
      ),
    }));
  return {
    direction: criterion?.direction ?? "increase",
    criterion: criterion?.value ?? null,
    window: criterion?.window ?? { k: 1, n: 1 },
    due: setup.dueOn,
    enteredBaseline: setup.enteredBaseline,
    currentPhase: points.at(-1)?.phase,
    occasions:
      criterion === null
        ? []
        : poolOccasions(occasions, criterion.windowUnit).map((occasion) => ({
            date: occasion.date,
            meets: meetsAll(occasion, criterion),
            settings: occasion.settings,
            people: occasion.people,
          })),
    breadth: { settings: criterion?.settings, people: criterion?.people },
  };
}

/** The summaries that this program writes. One of another format is made anew when the tables are brought up to date. */
export const summaryFormat = 2;

/** The summary of a goal that is stored for the caseload. It does not depend on today's date. */
export interface GoalSummary extends DecisionFacts {
  format: typeof summaryFormat;
  /** Entries kept, measured or not. */
  entries: number;
  n: number;
  last: EntryFigure | null;
  /** The last points, oldest first, for the little chart. */
  recent: { date: string; value: number; phase: string }[];
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

/**
 * What is kept of a goal so that the caseload reads no entries: counts, the last and the most recent points, standing and trend.
 *
 * @param entries every kept entry of the goal, in the order of their dates
 */
export function goalSummary(setup: GoalSetup, entries: readonly EntryFigure[]): GoalSummary {
  const points = goalPoints(setup, entries);
  const figures = goalProgress(setup, points);
  return {
    format: summaryFormat,
    entries: entries.length,
    n: figures.n,
    last: lastFigure(points),
    recent: points.slice(-recentPoints).map(({ date, value, phase }) => ({ date, value, phase })),
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
  /** The date of the last point. */
  lastOn: string | undefined;
  today: string;
  calendar: SchoolCalendar;
  taughtOn?: string | null;
  absences?: readonly string[] | undefined;
}

/** School weeks left, and whether the last point is old: the same for the page and its file. */
export function askOf(
  { dueOn }: Pick<GoalSetup, "dueOn">,
  { lastOn, today, calendar, taughtOn = null, absences }: JudgeMore,
): SeriesAsk {
  return {
    ...{ today, taughtOn },
    weeks: dueOn === null ? null : schoolWeeks(calendar, today, dueOn),
    isStale: lastOn !== undefined && isQuiet(lastOn, today, calendar, absences),
  };
}

/**
 * Where a goal stands today, its trend, pace and advice. The kept facts speak of the phase of the last point; a phase begun since, which
 * has no point yet, leaves nothing to say of line and trend.
 *
 * @param facts made from the goal's points
 */
export function judgeGoal(
  facts: DecisionFacts,
  setup: Pick<GoalSetup, "criterion" | "metOn" | "measure" | "phases" | "dueOn">,
  more: JudgeMore,
): Decided {
  const { lastOn, today } = more;
  const [then, now] = [lastOn === undefined ? null : phaseOn(setup, lastOn), phaseOn(setup, today)];
  const begunSince = lastOn !== undefined && lastOn < today && now?.phaseId !== then?.phaseId;
  const without = {
    nInPhase: 0,
    phaseDays: 0,
    slope: null,
    recentLevel: null,
    side: null,
    lastFourFrom: null,
  };
  const before =
    then !== null && !then.isBaseline && now !== null
      ? { changedOn: now.startsOn, side: facts.side?.key ?? null }
      : null;
  return decideFrom(begunSince ? { ...facts, ...without, before } : facts, {
    ...{ criterion: setup.criterion, metOn: setup.metOn, dueOn: setup.dueOn },
    ...{
      joined: setup.criterion ? joinedWords(setup.criterion, setup.measure) : [],
      unit: unitOf(setup.measure),
      measuredOn: lastOn ?? null,
    },
    ...askOf(setup, more),
  });
}
