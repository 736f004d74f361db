import { groupBy } from "../lists/group-by.ts";
import { weekOf } from "../dates/week.ts";
import { dateOfDay, dayNumber, weekdayOf } from "../dates/day-number.ts";
import type { TimetableSlot } from "../schedule/timetable.ts";
import { aspectsOfPair, type Association, associations, type Chain, chains } from "./associations.ts";
import { type Aspect, hasLabel, labelsOf } from "./labelled-incident.ts";
import { bandOf, type Length, type LengthBand, totalLength } from "./lengths.ts";
import { episodesOf } from "./episodes.ts";
import { incidentRate, type Rate } from "./rate.ts";
import type { DayCount } from "./week-permutation.ts";
import { hourSlots, type KnownIncident, timesWatched, type Watched } from "./finding-candidates.ts";
import { type Finding, type WhatStandsOut, whatStandsOut } from "./findings.ts";

/** An incident with what its patterns need beside its labels. */
export interface PatternIncident extends KnownIncident {
  /** The period of the day by its name, where only that is known. */
  period: string | null;
  length: Length | null;
}

/** A count that opens the incidents behind it. */
export interface Counted {
  label: string;
  incidentIds: string[];
}

/** One cell of the week: a period of a weekday, on how many days it was watched, and the incidents that began in it. */
export interface WeekCell {
  weekday: number;
  watched: number;
  incidentIds: string[];
}

export interface WeekRow {
  name: string;
  startsAt: string;
  endsAt: string;
  /** One for each weekday of school; null where the period does not meet on it. */
  cells: (WeekCell | null)[];
}

/** One stretch of the time axis: a day, a week or a month, with the observed days and the incidents in it. */
export interface Bin {
  from: string;
  to: string;
  /** Observed school days. */
  days: number;
  incidentIds: string[];
}
export const binSizes = ["day", "week", "month"] as const;
export type BinSize = (typeof binSizes)[number];

/** How long the incidents of a span lasted, and how many of them say so. */
export interface Lengths {
  bands: Counted[];
  known: number;
  /** Minutes in all: a range where bands are among them, open where an open band is. */
  total: { low: number; high: number | null };
}

/** The four counts of a 2 × 2 table. */
type PairCount = "both" | "aOnly" | "bOnly" | "neither";

/** What the incidents of a student in one span have in common. */
export interface Patterns {
  n: number;
  from: string;
  to: string;
  rate: Rate | null;
  /** On how many observed days nobody wrote anything. */
  silent: number;
  /** Every stretch of the span, empty ones included. */
  bins: Bin[];
  /** Weekdays of school in the grid, Monday = 1. */
  weekdays: number[];
  grid: WeekRow[];
  /** Incidents that are in no cell: their time is not known, or between the periods. */
  outside: string[];
  labels: Record<Aspect, Counted[]>;
  /** Pairs of labels that go together, over episodes, with the first incident of each behind each of their four counts. */
  pairs: (Association & { behind: Record<PairCount, string[]> })[];
  chains: (Chain & { incidentIds: string[] })[];
  lengths: Lengths;
  strengths: Counted[];
  /** Incidents less than 30 minutes apart are one episode. */
  episodes: number;
  findings: Finding[];
  nothing: WhatStandsOut["nothing"];
}

const ids = (incidents: readonly KnownIncident[]) => incidents.map(({ incidentId }) => incidentId);

const binOf: Record<BinSize, (date: string) => string> = {
  day: (date) => date,
  week: weekOf,
  month: (date) => `${date.slice(0, 7)}-01`,
};
const nextBin: Record<BinSize, (from: string) => string> = {
  day: (from) => dateOfDay(dayNumber(from) + 1),
  week: (from) => dateOfDay(dayNumber(from) + 7),
  month: (from) => binOf.month(dateOfDay(dayNumber(from) + 31)),
};

/**
 * The time axis of a span in days, weeks (from Monday) or months: every stretch in its place, whether anything was in it or not.
 *
 * @param days the observed school days
 */
export function timeBins(
  incidents: readonly KnownIncident[],
  days: readonly string[],
  { from, to }: { from: string; to: string },
  size: BinSize,
): Bin[] {
  const began = groupBy(incidents, ({ on }) => binOf[size](on));
  const watched = groupBy(days, binOf[size]);
  const bins: Bin[] = [];
  for (let first = binOf[size](from); first <= to; first = nextBin[size](first)) {
    const last = dateOfDay(dayNumber(nextBin[size](first)) - 1);
    bins.push({
      from: first,
      to: last,
      days: watched.get(first)?.length ?? 0,
      incidentIds: ids(began.get(first) ?? []),
    });
  }
  return bins;
}

function gridOf(
  incidents: readonly PatternIncident[],
  days: readonly string[],
  periods: readonly TimetableSlot[],
  notWatched: ReadonlySet<string> | undefined,
): Pick<Patterns, "grid" | "weekdays" | "outside"> {
  const weekdays = [...new Set(periods.map(({ weekday }) => weekday))].sort((a, b) => a - b);
  const watched = groupBy(days, weekdayOf);
  const ofWeekday = groupBy(incidents, ({ on }) => weekdayOf(on));
  const placed = new Set<string>();
  const rows = [...groupBy(periods, ({ name, startsAt, endsAt }) => `${startsAt} ${endsAt} ${name}`)]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .flatMap(([, slots]) => {
      const [first] = slots;
      if (!first) return [];
      const { name, startsAt, endsAt } = first;
      const cells = weekdays.map((weekday): WeekCell | null => {
        if (!slots.some((slot) => slot.weekday === weekday)) return null;
        const began = (ofWeekday.get(weekday) ?? []).filter(({ at, period }) =>
          at === null ? period === name : startsAt <= at && at < endsAt,
        );
        began.forEach(({ incidentId }) => placed.add(incidentId));
        return {
          weekday,
          watched: timesWatched(watched.get(weekday) ?? [], first, notWatched),
          incidentIds: ids(began),
        };
      });
      return [{ name, startsAt, endsAt, cells }];
    });
  return { weekdays, grid: rows, outside: ids(incidents).filter((id) => !placed.has(id)) };
}

function countedBy(
  incidents: readonly PatternIncident[],
  labels: (one: PatternIncident) => Iterable<string>,
): Counted[] {
  const counted = new Map<string, string[]>();
  for (const one of incidents)
    for (const label of labels(one)) counted.set(label, [...(counted.get(label) ?? []), one.incidentId]);
  return [...counted]
    .map(([label, incidentIds]) => ({ label, incidentIds }))
    .sort((a, b) => b.incidentIds.length - a.incidentIds.length || (a.label < b.label ? -1 : 1));
}

/** How long incidents lasted: what the clock told stands in the band it belongs to, a band stays itself. */
export function lengthsOf(incidents: readonly PatternIncident[], bands: readonly LengthBand[]): Lengths {
  const lengths = incidents.flatMap(({ length }) => (length === null ? [] : [length]));
  const byBand = countedBy(incidents, ({ length }) => {
    const band = length === null ? null : "band" in length ? length.band : bandOf(bands, length.minutes);
    return band ? [band.name] : [];
  });
  const ordered = [...bands.map(({ name }) => name), ...byBand.map(({ label }) => label)];
  return {
    bands: [...new Set(ordered)].map(
      (label) => byBand.find((one) => one.label === label) ?? { label, incidentIds: [] },
    ),
    known: lengths.length,
    total: totalLength(lengths),
  };
}

/** Incidents by their strength, 1 to 5. */
export const strengthsOf = (incidents: readonly PatternIncident[]): Counted[] =>
  [1, 2, 3, 4, 5].map((strength) => ({
    label: String(strength),
    incidentIds: ids(incidents.filter(({ intensity }) => intensity === strength)),
  }));

/** The count of each of these days. */
export function dailyCounts(incidents: readonly KnownIncident[], days: readonly string[]): DayCount[] {
  const ofDay = groupBy(incidents, ({ on }) => on);
  return days.map((on) => ({ on, count: ofDay.get(on)?.length ?? 0 }));
}

/**
 * Everything that a page of patterns says of the incidents of one span.
 *
 * @param incidents those of the span, other accounts of the same one left out
 * @param days the observed school days of the span
 * @param periods the school's timetable; hours from 8 to 15 stand in where it has none
 * @param bins how the time axis is cut
 * @param change a plan that began within the span, for what is said first
 */
export function patternsOf({
  incidents,
  days,
  silent,
  from,
  to,
  periods,
  notWatched,
  bands,
  bins = "week",
  change,
}: {
  incidents: readonly PatternIncident[];
  silent: number;
  from: string;
  to: string;
  bands: readonly LengthBand[];
  bins?: BinSize;
} & Pick<Watched, "days" | "periods" | "notWatched" | "change">): Patterns {
  const slots = periods.length > 0 ? periods : hourSlots(8, 15);
  const firsts = episodesOf(incidents, slots).flatMap(([first]) => first ?? []);
  const by = (aspect: Aspect) => countedBy(incidents, (one) => labelsOf(one, aspect));
  const having = (wanted: readonly (readonly [Aspect, string])[]) =>
    ids(incidents.filter((one) => wanted.every(([aspect, label]) => hasLabel(one, aspect, label))));
  return {
    ...{ n: incidents.length, from, to, silent },
    rate: incidentRate(dailyCounts(incidents, days).map(({ count }) => count)),
    bins: timeBins(incidents, days, { from, to }, bins),
    ...gridOf(incidents, days, slots, notWatched),
    labels: {
      setting: by("setting"),
      antecedent: by("antecedent"),
      behavior: by("behavior"),
      consequence: by("consequence"),
      function: by("function"),
    },
    pairs: associations(firsts)
      .filter(({ phi, adjustedP }) => (phi ?? 0) > 0 && adjustedP <= 0.2)
      .map((pair) => {
        const [first, second] = aspectsOfPair(pair.kind);
        const behind: Record<PairCount, string[]> = { both: [], aOnly: [], bOnly: [], neither: [] };
        for (const one of firsts) {
          const [isA, isB] = [hasLabel(one, first, pair.a), hasLabel(one, second, pair.b)];
          behind[isA ? (isB ? "both" : "aOnly") : isB ? "bOnly" : "neither"].push(one.incidentId);
        }
        return { ...pair, behind };
      }),
    chains: chains(incidents).map((chain) => ({
      ...chain,
      incidentIds: having([
        ["antecedent", chain.antecedent],
        ["behavior", chain.behavior],
        ["consequence", chain.consequence],
      ]),
    })),
    lengths: lengthsOf(incidents, bands),
    strengths: strengthsOf(incidents),
    ...whatStandsOut({
      ...{ incidents, days, periods: slots },
      ...(notWatched && { notWatched }),
      ...(change && { change }),
    }),
  };
}
