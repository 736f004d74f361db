import { mean } from "simple-statistics";
import binomialCdf from "@stdlib/stats-base-dists-binomial-cdf";
import { groupBy } from "../lists/group-by.ts";
import { weekdayOf } from "../dates/day-number.ts";
import { weekdayName } from "../dates/week.ts";
import type { TimetableSlot } from "../schedule/timetable.ts";
import type { CountedArgs, FindingArgs } from "../words/en/findings.ts";
import { aspectsOfPair, type Association, associations } from "./associations.ts";
import { fisherMore } from "./fisher-exact.ts";
import { hasLabel, type LabelledIncident } from "./labelled-incident.ts";
import { minutesOf } from "./minutes-of.ts";
import type { RateChange } from "./rate.ts";

/** An incident with what opens it. */
export interface KnownIncident extends LabelledIncident {
  incidentId: string;
  /** The period of the day by its name, where only that is known. */
  period?: string | null;
}

/** What is looked at: incidents of one student in one span, and what was watched in it. */
export interface Watched {
  incidents: readonly KnownIncident[];
  /** The school days on which somebody watched, each once, `YYYY-MM-DD`. */
  days: readonly string[];
  /** The school's periods; where it has none, `hourSlots` stands in. */
  periods: readonly TimetableSlot[];
  /** Periods that nobody watched on a day that was: `YYYY-MM-DD name`. */
  notWatched?: ReadonlySet<string>;
  /** Incidents that are one, where that is known already; else those less than 30 minutes apart. */
  episodes?: readonly (readonly KnownIncident[])[];
  /** A plan that began within the span, and how often it was before and since. */
  change?: { name: string; rates: RateChange; incidentIds: readonly string[] };
}

/** So many episodes carry a strong sentence. */
export const fewestStrong = 5;
/** One or two bad mornings are no time of the week. */
const fewestTimes = 3;

/** Something that is looked at: what it says, how likely it is by chance, and which incidents carry it. */
export interface Candidate {
  labels: string[];
  says: FindingArgs;
  p: number;
  /** How much of the chance of error it is given: 1 where it is left out, and in the mean of all. */
  weight?: number;
  /** Incidents that carry it: the first of each episode. */
  ids: string[];
}

/** Hours in place of periods, Monday to Friday: for a school without a timetable. */
export function hourSlots(from: number, to: number): TimetableSlot[] {
  const two = (hour: number) => `${String(hour).padStart(2, "0")}:00`;
  return [1, 2, 3, 4, 5].flatMap((weekday) =>
    Array.from({ length: to - from }, (_, index) => ({
      weekday,
      name: `${from + index} to ${from + index + 1} o’clock`,
      startsAt: two(from + index),
      endsAt: two(from + index + 1),
    })),
  );
}

/**
 * How much a table could tell, whatever stands in it: the variances of its two labels, multiplied. Two labels of half of the episodes could show a
 * tie that a rare one never could. It goes by the margins alone, so that weighing by it takes nothing from the level of the tests.
 *
 * Source: weighted Benjamini–Hochberg, Genovese, Roeder & Wasserman (2006), Biometrika 93:509, from memory; the weights are ours.
 */
function couldTell({ both, aOnly, bOnly, neither }: Association): number {
  const n = both + aOnly + bOnly + neither;
  const variance = (count: number) => (count / n) * (1 - count / n);
  return variance(both + aOnly) * variance(both + bOnly);
}

function pairCandidates(incidents: readonly KnownIncident[], what: CountedArgs): Candidate[] {
  // A label of fewer episodes cannot carry a strong sentence: looking at it would only make the others harder to tell.
  const isLookedAt = ({ both, aOnly, bOnly }: Association) =>
    Math.min(both + aOnly, both + bOnly) >= fewestStrong;
  const looked = associations(incidents).filter(isLookedAt);
  const meanTelling = looked.length === 0 ? 1 : mean(looked.map(couldTell)) || 1;
  return looked.map((pair): Candidate => {
    const { kind, a, b, both, aOnly, bOnly } = pair;
    const [first, second] = aspectsOfPair(kind);
    const of = both + (kind.endsWith("-behavior") ? bOnly : aOnly);
    const others = kind.endsWith("-behavior") ? aOnly : bOnly;
    return {
      labels: [a, b],
      says: { kind, counted: what, a, b, both, of, others, othersOf: incidents.length - of },
      // What goes together less often than chance would have it is no finding here; it was looked at all the same.
      p: fisherMore(pair),
      weight: couldTell(pair) / meanTelling,
      ids: incidents
        .filter((one) => hasLabel(one, first, a) && hasLabel(one, second, b))
        .map(({ incidentId }) => incidentId),
    };
  });
}

/** One period of one weekday, how long it was watched, and the incidents that began in it. */
export interface Cell {
  slot: TimetableSlot;
  watchedMinutes: number;
  incidents: KnownIncident[];
}

/** On how many of these days a period was watched. */
export const timesWatched = (
  days: readonly string[],
  { name }: Pick<TimetableSlot, "name">,
  notWatched: ReadonlySet<string> | undefined,
): number =>
  notWatched?.size ? days.filter((day) => !notWatched.has(`${day} ${name}`)).length : days.length;

/** The cells of the week that were watched. */
export function timeCells({ incidents, days, periods, notWatched }: Watched): Cell[] {
  const watched = groupBy(days, weekdayOf);
  const timed = groupBy(incidents, ({ on }) => weekdayOf(on));
  return periods.flatMap((slot) => {
    const times = timesWatched(watched.get(slot.weekday) ?? [], slot, notWatched);
    if (times === 0) return [];
    const began = (timed.get(slot.weekday) ?? []).filter(({ at, period }) =>
      at === null ? period === slot.name : slot.startsAt <= at && at < slot.endsAt,
    );
    return [
      { slot, watchedMinutes: times * (minutesOf(slot.endsAt) - minutesOf(slot.startsAt)), incidents: began },
    ];
  });
}

/** One bad morning is one occasion, however many incidents it had. */
const occasions = (cells: readonly Cell[]) =>
  cells.reduce((sum, { incidents }) => sum + new Set(incidents.map(({ on }) => on)).size, 0);

/**
 * Cells in which incidents began on more days than the time watched in them would have it: the upper tail of a binomial over
 * occasions (a day and a period), with the cell's share of all watched minutes.
 */
function cellP(cells: readonly Cell[], all: readonly Cell[]): number {
  const minutes = (some: readonly Cell[]) =>
    some.reduce((sum, { watchedMinutes }) => sum + watchedMinutes, 0);
  const [seen, total] = [occasions(cells), occasions(all)];
  if (seen < fewestTimes) return 1;
  // Twice the tail, since the pairs are tested on both sides too.
  return Math.min(1, 2 * Math.max(0, 1 - binomialCdf(seen - 1, total, minutes(cells) / minutes(all))));
}

const minutesOfSlot = ({ startsAt, endsAt }: TimetableSlot) => minutesOf(endsAt) - minutesOf(startsAt);

function timeCandidates(cells: readonly Cell[], counted: CountedArgs): Candidate[] {
  const timed = cells.reduce((sum, { incidents }) => sum + incidents.length, 0);
  const made = (some: readonly Cell[], weekday: number | null, slot: TimetableSlot): Candidate => {
    const ids = some.flatMap(({ incidents }) => incidents.map(({ incidentId }) => incidentId));
    const day = cells.filter((cell) => cell.slot.weekday === slot.weekday);
    return {
      labels: some.length === 1 ? [weekdayName(slot.weekday), slot.name] : [slot.name],
      says: {
        ...{ kind: "time", counted, n: ids.length, of: timed, weekday, slot, minutes: minutesOfSlot(slot) },
        dayMinutes: day.reduce((sum, cell) => sum + minutesOfSlot(cell.slot), 0),
      },
      p: cellP(some, cells),
      ids,
    };
  };
  const periods = [...groupBy(cells, ({ slot }) => `${slot.name} ${slot.startsAt}`)].flatMap(([, some]) =>
    some[0] ? [{ some, slot: some[0].slot }] : [],
  );
  return [
    ...periods.map(({ some, slot }) => made(some, null, slot)),
    ...cells.map((cell) => made([cell], cell.slot.weekday, cell.slot)),
  ];
}

/** Weekdays with incidents on more of their days than the others: a day either had any or not. */
function weekdayCandidates({ incidents, days }: Watched): Candidate[] {
  const withAny = new Set(incidents.map(({ on }) => on));
  return [...groupBy(days, weekdayOf)].map(([weekday, ofWeekday]): Candidate => {
    const both = ofWeekday.filter((day) => withAny.has(day)).length;
    const bOnly = days.filter((day) => withAny.has(day)).length - both;
    const table = {
      both,
      aOnly: ofWeekday.length - both,
      bOnly,
      neither: days.length - ofWeekday.length - bOnly,
    };
    return {
      labels: [weekdayName(weekday)],
      says: {
        ...{ kind: "weekday", weekday, days: both, of: ofWeekday.length },
        ...{ otherDays: bOnly, othersOf: days.length - ofWeekday.length },
      },
      p: fisherMore(table),
      ids: incidents.filter(({ on }) => weekdayOf(on) === weekday).map(({ incidentId }) => incidentId),
    };
  });
}

/** A plan is one question, asked by its day and not found by looking. */
export function changeCandidates({ change }: Watched): Candidate[] {
  if (!change) return [];
  const { before, after, p } = change.rates;
  return [
    {
      labels: [change.name],
      says: { kind: "change", plan: change.name, before, after },
      p: p ?? 1,
      ids: [...change.incidentIds],
    },
  ];
}

/** Everything that is looked at and adjusted together: pairs of labels, periods, cells of the week and weekdays. */
export const candidatesOf = (watched: Watched, cells: readonly Cell[], counted: CountedArgs): Candidate[] => [
  ...pairCandidates(watched.incidents, counted),
  ...timeCandidates(cells, counted),
  ...weekdayCandidates(watched),
];
