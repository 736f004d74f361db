import { groupBy } from "../group-by.ts";
import { weekOf } from "../criteria/pool.ts";
import { dateOfDay, dayNumber, weekdayOf } from "../progress/day-number.ts";
import type { TimetableSlot } from "../schedule/timetable.ts";
import { type Association, associations, type Chain, chains } from "./associations.ts";
import { type Aspect, labelsOf } from "./incident.ts";
import { bandOf, type Length, type LengthBand, totalLength } from "./lengths.ts";
import { incidentRate, type Rate } from "./rate.ts";
import { type Finding, hourSlots, type KnownIncident, standsOut } from "./stands-out.ts";

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

/** What the incidents of a student in one span have in common. */
export interface Patterns {
  n: number;
  from: string;
  to: string;
  rate: Rate | null;
  /** On how many observed days nobody wrote anything. */
  silent: number;
  /** Every week of the span, empty ones included. */
  weeks: { monday: string; days: number; incidentIds: string[] }[];
  /** Weekdays of school in the grid, Monday = 1. */
  weekdays: number[];
  grid: WeekRow[];
  /** Incidents that are in no cell: their time is not known, or between the periods. */
  outside: string[];
  labels: Record<Aspect, Counted[]>;
  pairs: Association[];
  chains: Chain[];
  lengths: { bands: Counted[]; known: number; total: { low: number; high: number | null } };
  strengths: Counted[];
  findings: Finding[];
}

const ids = (incidents: readonly KnownIncident[]) => incidents.map(({ incidentId }) => incidentId);

function weeksOf(incidents: readonly KnownIncident[], days: readonly string[], from: string, to: string) {
  const ofWeek = groupBy(incidents, ({ on }) => weekOf(on));
  const watched = groupBy(days, weekOf);
  const weeks: Patterns["weeks"] = [];
  for (let day = dayNumber(weekOf(from)); day <= dayNumber(to); day += 7) {
    const monday = dateOfDay(day);
    weeks.push({
      monday,
      days: watched.get(monday)?.length ?? 0,
      incidentIds: ids(ofWeek.get(monday) ?? []),
    });
  }
  return weeks;
}

function gridOf(
  incidents: readonly PatternIncident[],
  days: readonly string[],
  periods: readonly TimetableSlot[],
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
        return { weekday, watched: watched.get(weekday)?.length ?? 0, incidentIds: ids(began) };
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

/**
 * Everything that a page of patterns says of the incidents of one span.
 *
 * @param incidents those of the span, other accounts of the same one left out
 * @param days the observed school days of the span
 * @param periods the school's timetable; hours from 8 to 15 stand in where it has none
 */
export function patternsOf({
  incidents,
  days,
  silent,
  from,
  to,
  periods,
  bands,
}: {
  incidents: readonly PatternIncident[];
  days: readonly string[];
  silent: number;
  from: string;
  to: string;
  periods: readonly TimetableSlot[];
  bands: readonly LengthBand[];
}): Patterns {
  const slots = periods.length > 0 ? periods : hourSlots(8, 15);
  const ofDay = groupBy(incidents, ({ on }) => on);
  const by = (aspect: Aspect) => countedBy(incidents, (one) => labelsOf(one, aspect));
  const lengths = incidents.flatMap(({ length }) => (length === null ? [] : [length]));
  const bandName = ({ length }: PatternIncident) => {
    const band = length === null ? null : "band" in length ? length.band : bandOf(bands, length.minutes);
    return band ? [band.name] : [];
  };
  const byBand = countedBy(incidents, bandName);
  const ordered = [...bands.map(({ name }) => name), ...byBand.map(({ label }) => label)];
  return {
    ...{ n: incidents.length, from, to, silent },
    rate: incidentRate(days.map((day) => ofDay.get(day)?.length ?? 0)),
    weeks: weeksOf(incidents, days, from, to),
    ...gridOf(incidents, days, slots),
    labels: {
      setting: by("setting"),
      antecedent: by("antecedent"),
      behavior: by("behavior"),
      consequence: by("consequence"),
      function: by("function"),
    },
    pairs: associations(incidents).filter(({ both, fisherP }) => both >= 3 && fisherP <= 0.05),
    chains: chains(incidents),
    lengths: {
      bands: [...new Set(ordered)].map(
        (label) => byBand.find((one) => one.label === label) ?? { label, incidentIds: [] },
      ),
      known: lengths.length,
      total: totalLength(lengths),
    },
    strengths: [1, 2, 3, 4, 5].map((strength) => ({
      label: String(strength),
      incidentIds: ids(incidents.filter(({ intensity }) => intensity === strength)),
    })),
    findings: standsOut({ incidents, days, periods: slots }),
  };
}
