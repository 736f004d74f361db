import { type Criterion, countedPurposes, meetsAll, type Purpose } from "../criteria/criterion.ts";
import type { Judged } from "../criteria/mastery.ts";
import { dateOfDay, dayNumber, weekdayOf } from "../dates/day-number.ts";
import { weekOf } from "../dates/week.ts";
import { kindOf } from "../measures/kinds.ts";
import { mergeOf } from "../measures/merge-entries.ts";
import type { Measure, ObservedEntry } from "../measures/measure-schema.ts";
import type { GoalPhase, GoalSetup } from "../model/goal.ts";
import { baselinePhase, inDateOrder, type Observation } from "./progress.ts";

/** What the figures need to know of an entry: kept, measured or not, in the order observed. */
export interface EntryFigure {
  entryId: string;
  date: string;
  /** Minutes since a fixed moment at which it was observed; entries without one are each a session of their own. */
  minute?: number;
  /** Entries of one sitting are one session. */
  sittingId?: string | null;
  value: number | null;
  numerator: number | null;
  denominator: number | null;
  purpose: Purpose;
  /** Where it was observed, if that was said, and who observed it. */
  setting?: string | null;
  personId?: string;
  /** The score's detail, where the criterion joins a second figure from it. */
  detail?: Readonly<Record<string, unknown>> | null;
  /** What was observed, of a measure whose entries are put together before they are scored (`mergeOf`). */
  observed?: ObservedEntry | null;
  /** How much was planned, as the measure it was recorded for says: opportunities, or seconds of reading. */
  planned?: number | null;
}

/** What an entry of a measure has planned: opportunities, or the seconds of a timed reading; null where it says nothing. */
export function plannedOf(measure: Measure): number | null {
  if (measure.kind === "fluency") return measure.plannedSeconds ?? null;
  return "planned" in measure ? (measure.planned ?? null) : null;
}

/** What a point is: all entries of one session, day, week or month. */
export type PointUnit = Criterion["windowUnit"];

interface Pooled {
  /** Of the last of its entries. */
  date: string;
  phase: string;
  /** The entries as one: the id of the last, counts added. */
  entry: EntryFigure;
  entries: readonly EntryFigure[];
  settings: readonly string[];
  people: readonly string[];
  /** Fewer opportunities than planned: shown hollow, not held against the criterion. */
  isShort: boolean;
  /** Its day, week or month is not over. */
  isOpen: boolean;
}

/** A point with a figure. */
export interface GoalPoint extends Observation, Pooled {}

/** A point without one: no response where the median would fall, no bout, an outcome that has no credit. */
export interface BlankPoint extends Pooled {
  value: null;
  /** Does it meet the criterion all the same? */
  meets: boolean;
}

/** The points of a goal: one set for its chart, trend, standing, criterion, report and file. */
export interface GoalSeries {
  unit: PointUnit;
  /** All of them, in order. */
  all: (GoalPoint | BlankPoint)[];
  /** Those that enter trend and standing. */
  points: GoalPoint[];
  /** What is held against the criterion, and null for a point that is not, in the order of `all`. */
  judged: (Judged | null)[];
}

/** Entries begun less than so many minutes after the one before are one session. */
const sessionMinutes = 60;
/** A point with a smaller share of what was planned is not in the trend either. */
const leastShare = 0.5;
/** A clock that is stopped by hand ends a little early. */
const clockSeconds = 1;

const present = <T>(values: readonly (T | null | undefined)[]) =>
  values.filter((value): value is T => value !== null && value !== undefined);
const sum = (values: readonly number[]) => values.reduce((total, value) => total + value, 0);
const distinct = (values: readonly (string | null | undefined)[]) => [
  ...new Set(present(values).filter((value) => value !== "")),
];

/** What the points of a goal are pooled to: a total that starts again is its week or month, else the unit of the criterion. */
export function pointUnit({ measure, criterion }: Pick<GoalSetup, "measure" | "criterion">): PointUnit {
  return (
    (measure.kind === "running-total" ? measure.startsAgain : undefined) ?? criterion?.windowUnit ?? "session"
  );
}

/** The last day of the day, week or month that a date lies in; of a session its day. */
export function periodEnd(date: string, unit: PointUnit): string {
  if (unit === "week") return dateOfDay(dayNumber(date) - weekdayOf(date) + 7);
  if (unit !== "month") return date;
  const [year = 0, month = 0] = date.split("-").map(Number);
  return `${date.slice(0, 8)}${new Date(Date.UTC(year, month, 0)).getUTCDate()}`;
}

const periodOf = (date: string, unit: PointUnit) =>
  unit === "week" ? weekOf(date) : unit === "month" ? date.slice(0, 7) : date;

/** Do the entries of a period add up, so that it says nothing before it is over? */
const addsUp = (measure: Measure) =>
  measure.kind === "running-total" ||
  (measure.kind === "count" && measure.per === "observation") ||
  (measure.kind === "duration" && measure.report === "total");

/** Is the period of this date still running? A week or month always is until it is over, a day where its entries add up. */
function runsOn(date: string, today: string | null, unit: PointUnit, measure: Measure): boolean {
  if (today === null || unit === "session" || (unit === "day" && !addsUp(measure))) return false;
  return today <= periodEnd(date, unit);
}

/** Numbers of a detail together: their mean, weighted by opportunities where there are counts. */
function pooledDetail(group: readonly EntryFigure[]): EntryFigure["detail"] {
  const weights = group.map(({ denominator }) => denominator ?? 1);
  const pool = (values: readonly unknown[]): unknown => {
    if (values.every((value) => typeof value === "number"))
      return sum(values.map((value, at) => value * (weights[at] ?? 1))) / sum(weights);
    if (!values.every((value) => typeof value === "object" && value !== null && !Array.isArray(value)))
      return null;
    const records = values as Record<string, unknown>[];
    return Object.fromEntries(
      Object.keys(records[0] ?? {}).map((key) => [key, pool(records.map((record) => record[key]))]),
    );
  };
  const details = present(group.map(({ detail }) => detail));
  return details.length === group.length ? (pool(details) as EntryFigure["detail"]) : null;
}

type Scored = Pick<EntryFigure, "value" | "numerator" | "denominator" | "detail">;

/**
 * Entries of one unit as one: measures with bouts, delays, events or amounts are put together and scored anew; counts of opportunities are
 * added; a rubric, a grid, a task analysis or an outcome is averaged.
 */
function pooledScore(measure: Measure, group: readonly EntryFigure[]): Scored {
  const merge = mergeOf(measure);
  const observed = present(group.map((entry) => entry.observed));
  if (merge && observed.length === group.length) {
    const found = kindOf(measure).score(measure, merge(observed));
    if (found.ok) return found.score;
  }
  const values = present(group.map(({ value }) => value));
  const [numerators, denominators] = [
    present(group.map(({ numerator }) => numerator)),
    present(group.map(({ denominator }) => denominator)),
  ];
  const isCounted = numerators.length === group.length && denominators.length === group.length;
  const detail = pooledDetail(group) ?? null;
  if (isCounted && !isAveraged(measure)) {
    const [numerator, denominator] = [sum(numerators), sum(denominators)];
    return { value: (100 * numerator) / denominator, numerator, denominator, detail };
  }
  const whole = values.length === 0 ? null : addsUp(measure) ? sum(values) : sum(values) / values.length;
  return { value: whole, numerator: null, denominator: null, detail };
}

/** Is a point of several entries their mean, rather than made of added counts? */
export const isAveraged = ({ kind }: Measure): boolean =>
  ["rubric", "skills", "steps", "outcomes"].includes(kind);

/** Were two entries taken in one sitting, or begun less than an hour apart? */
const isSameSession = (before: EntryFigure, entry: EntryFigure) =>
  (before.sittingId != null && before.sittingId === entry.sittingId) ||
  (before.minute !== undefined &&
    entry.minute !== undefined &&
    Math.abs(entry.minute - before.minute) < sessionMinutes);

function groupsOf(
  entries: readonly (EntryFigure & { phase: string })[],
  unit: PointUnit,
): (EntryFigure & { phase: string })[][] {
  const groups: (EntryFigure & { phase: string })[][] = [];
  for (const entry of entries) {
    const before = groups.at(-1)?.at(-1);
    const isSame =
      before !== undefined &&
      (before.phase === baselinePhase) === (entry.phase === baselinePhase) &&
      (unit === "session"
        ? before.phase === entry.phase && isSameSession(before, entry)
        : periodOf(before.date, unit) === periodOf(entry.date, unit));
    if (isSame) groups.at(-1)?.push(entry);
    else groups.push([entry]);
  }
  return groups;
}

/** How much of what was planned was done: opportunities, or seconds of reading; null where nothing was planned. */
function shareDone(
  setup: Pick<GoalSetup, "criterion" | "measure">,
  group: readonly EntryFigure[],
  { denominator }: Scored,
): number | null {
  const planned = present(group.map((entry) => entry.planned)).at(-1) ?? null;
  if (setup.measure.kind === "fluency") {
    const seconds = present(group.map(({ observed }) => observed)).map((one) =>
      one.kind === "fluency" ? one.seconds : 0,
    );
    return planned === null || seconds.length < group.length
      ? null
      : sum(seconds) / Math.max(1, planned - clockSeconds);
  }
  const asked = Math.max(planned ?? 0, setup.criterion?.minimumOpportunities ?? 0);
  return asked === 0 || denominator === null ? null : denominator / asked;
}

/** A point without a figure counts: no bout meets what is to decrease, anything else does not meet. Of a grid broken off there is no point. */
function blankMeets({ measure, criterion }: GoalSetup): boolean | null {
  if (measure.kind === "duration") return criterion?.direction === "decrease";
  return measure.kind === "latency" || measure.kind === "outcomes" ? false : null;
}

/** A figure in a score's detail: `accuracy`, `cumulative.verbal`. */
function sideFigure(detail: EntryFigure["detail"], name: string): number | null {
  const [outer = "", ...rest] = name.split(".");
  const found =
    rest.length === 0 ? detail?.[outer] : (detail?.[outer] as Record<string, unknown>)?.[rest.join(".")];
  return typeof found === "number" ? found : null;
}

/** Null for a point that is not held against the criterion. */
function judgedOf({ criterion }: GoalSetup, point: GoalPoint | BlankPoint): Judged | null {
  if (criterion === null || point.phase === baselinePhase || point.isOpen || point.isShort) return null;
  const { date, settings, people, entry } = point;
  const side = Object.fromEntries(
    (criterion.joined ?? []).map(({ figure }) => [figure, sideFigure(entry.detail, figure)]),
  );
  return {
    ...{ date, settings, people },
    meets: point.value === null ? point.meets : meetsAll({ value: point.value, side }, criterion),
  };
}

/** A phase by the name that `progress` compares by. */
function phaseKey(phase: GoalPhase): string {
  return phase.isBaseline ? baselinePhase : phase.phaseId;
}

/** The phases in the order in which they begin. */
export function inOrderOfStart(phases: readonly GoalPhase[]): GoalPhase[] {
  return [...phases].sort((a, b) => (a.startsOn < b.startsOn ? -1 : a.startsOn > b.startsOn ? 1 : 0));
}

/** The entries whose purpose counts, in date order, each with the phase that had begun by its date. */
function countedEntries(setup: GoalSetup, entries: readonly EntryFigure[]) {
  const counted = countedPurposes(setup.criterion);
  const phases = inOrderOfStart(setup.phases);
  const blank = blankMeets(setup);
  const first = setup.baselineEntries ?? 0;
  return inDateOrder(entries)
    .filter(({ value, purpose }) => (value !== null || blank !== null) && counted.includes(purpose))
    .map((entry, index) => {
      const phase = phases.findLast(({ startsOn }) => startsOn <= entry.date);
      return { ...entry, phase: index < first ? baselinePhase : phase ? phaseKey(phase) : "" };
    });
}

/**
 * The points of a goal: its entries pooled to the unit of the criterion, so that two probes a minute apart are one session and "at most 3 a
 * week" is the week's sum. Entries of a session begin less than 60 minutes apart. A week or month in which a phase begins belongs to the new
 * phase. A total that never starts again is what has come together by each point.
 *
 * @param entries every kept entry, in the order observed
 * @param today the school's own date; a period that is still running is open: shown, and held against nothing. Null: all are over
 *
 * Source: pooling of counts, common practice; sessions of 60 minutes, hollow points and open periods are ours.
 */
export function goalSeries(
  setup: GoalSetup,
  entries: readonly EntryFigure[],
  today: string | null = null,
): GoalSeries {
  const { measure } = setup;
  const unit = pointUnit(setup);
  let total = 0;
  const isTotal = measure.kind === "running-total" && measure.startsAgain === undefined;
  const fragments = new Set<GoalPoint>();
  const all = groupsOf(countedEntries(setup, entries), unit).flatMap((group): (GoalPoint | BlankPoint)[] => {
    const last = group.at(-1);
    if (!last) return [];
    const { phase, ...lastEntry } = last;
    const score: Scored = group.length === 1 ? lastEntry : pooledScore(measure, group);
    if (isTotal) total += score.value ?? 0;
    const value = isTotal ? total : score.value;
    const settings = distinct(group.map(({ setting }) => setting));
    const people = distinct(group.map(({ personId }) => personId));
    const share = shareDone(setup, group, score);
    const pooled: Pooled = {
      ...{ date: last.date, phase, entries: group, settings, people },
      entry: {
        ...lastEntry,
        ...{ value, numerator: score.numerator, denominator: score.denominator },
        ...(group.length === 1
          ? {}
          : {
              detail: score.detail ?? null,
              setting: settings.length === 1 ? (settings[0] ?? null) : null,
              personId: people.length === 1 ? (people[0] ?? "") : "",
            }),
      },
      isShort: share !== null && share < 1,
      isOpen: runsOn(last.date, today, unit, measure),
    };
    if (value === null) return [{ ...pooled, value, meets: blankMeets(setup) ?? false }];
    const point = { ...pooled, value };
    if (share !== null && share < leastShare) fragments.add(point);
    return [point];
  });
  return {
    ...{ unit, all },
    points: all.filter(
      (point): point is GoalPoint => point.value !== null && !point.isOpen && !fragments.has(point),
    ),
    judged: all.map((point) => judgedOf(setup, point)),
  };
}
