import { groupBy } from "../group-by.ts";
import { weekdayOf } from "../progress/day-number.ts";
import { aspectsOfPair, associations } from "./associations.ts";
import { type Aspect, hasLabel, labelsOf } from "./incident.ts";
import type { LengthBand } from "./lengths.ts";
import { type BinSize, dailyCounts, lengthsOf, type PatternIncident, timeBins } from "./patterns.ts";
import { incidentRate, type Rate } from "./rate.ts";
import { hourSlots, type Watched } from "./stands-out.ts";

/** An incident of one of many students. */
export interface SchoolIncident extends PatternIncident {
  studentId: string;
}

/** A count without names: null where fewer than three students stand behind it. */
export interface NamelessCount {
  label: string;
  count: number | null;
}

/** What the incidents of a group or a school have in common, with nobody to be recognised in it. */
export interface SchoolPatterns {
  n: number;
  /** How many students had an incident. */
  students: number;
  /** Incidents of all of them a school day. */
  rate: Rate | null;
  bins: { from: string; to: string; count: number | null }[];
  weekdays: number[];
  grid: { name: string; startsAt: string; endsAt: string; cells: (NamelessCount | null)[] }[];
  /** Ranked; how many labels are kept back with their words, which may be one student's own. */
  labels: Record<Aspect, { counts: NamelessCount[]; hidden: number }>;
  strengths: NamelessCount[];
  lengths: NamelessCount[];
  /** Labels that go together in incidents of three students or more, the strongest tie first. */
  pairs: { a: string; b: string; both: number; of: number; phi: number }[];
}

/** With fewer students nothing is counted together: who it was could be told. */
export const fewestStudents = 5;
const fewestBehind = 3;

/**
 * Takes out the counts behind which fewer than three students stand, and where that is one only, the least of the others too:
 * otherwise the sum would tell it.
 *
 * Keeping small cells back is common practice where school data is given out; that three students stand behind a count is ours.
 */
function withoutSmall(
  counts: readonly { label: string; incidents: readonly SchoolIncident[] }[],
): NamelessCount[] {
  const made = counts.map(({ label, incidents }) => ({
    label,
    count: incidents.length,
    isSmall: incidents.length > 0 && new Set(incidents.map(({ studentId }) => studentId)).size < fewestBehind,
  }));
  if (made.filter(({ isSmall }) => isSmall).length === 1) {
    const [next] = made
      .filter(({ isSmall, count }) => !isSmall && count > 0)
      .sort((a, b) => a.count - b.count);
    if (next) next.isSmall = true;
  }
  return made.map(({ label, count, isSmall }) => ({ label, count: isSmall ? null : count }));
}

/** One label for every spelling that differs in capitals only: the one used most. */
function byLabel(incidents: readonly SchoolIncident[], aspect: Aspect) {
  const said = incidents.flatMap((incident) =>
    [...labelsOf(incident, aspect)].map((label) => ({ label, incident })),
  );
  return [...groupBy(said, ({ label }) => label.toLocaleLowerCase()).values()].flatMap((ones) => {
    const [spelling] = [...groupBy(ones, ({ label }) => label)].sort(([, a], [, b]) => b.length - a.length);
    return spelling
      ? [{ label: spelling[0], incidents: [...new Set(ones.map(({ incident }) => incident))] }]
      : [];
  });
}

/**
 * What goes with what, without a p: the incidents of one student are alike, and a test would take them for so many that are not.
 */
function pairsOf(incidents: readonly SchoolIncident[]): SchoolPatterns["pairs"] {
  return associations(incidents)
    .flatMap(({ kind, a, b, both, aOnly, phi }) => {
      const [first, second] = aspectsOfPair(kind);
      const students = new Set(
        incidents
          .filter((one) => hasLabel(one, first, a) && hasLabel(one, second, b))
          .map(({ studentId }) => studentId),
      );
      const rest = new Set(
        incidents.filter((one) => hasLabel(one, first, a)).map(({ studentId }) => studentId),
      );
      return phi !== null && phi > 0 && students.size >= fewestBehind && rest.size >= fewestBehind
        ? [{ a, b, both, of: both + aOnly, phi }]
        : [];
    })
    .sort((x, y) => y.phi - x.phi || y.both - x.both)
    .slice(0, 12);
}

/**
 * The patterns of many students together.
 *
 * @param incidents those of the span; the labels are the words of each student's own lists, the same words being the same label
 * @param days the school days of the span
 * @returns null where fewer than five students had an incident
 */
export function schoolPatternsOf({
  incidents,
  days,
  from,
  to,
  periods,
  bands,
  bins,
}: {
  incidents: readonly SchoolIncident[];
  days: readonly string[];
  from: string;
  to: string;
  periods: Watched["periods"];
  bands: readonly LengthBand[];
  bins: BinSize;
}): SchoolPatterns | null {
  const students = new Set(incidents.map(({ studentId }) => studentId)).size;
  if (students < fewestStudents) return null;
  const known = new Map(incidents.map((one) => [one.incidentId, one]));
  const ofIds = (ids: readonly string[]) => ids.flatMap((id) => known.get(id) ?? []);
  const slots = periods.length > 0 ? periods : hourSlots(8, 15);
  const weekdays = [...new Set(slots.map(({ weekday }) => weekday))].sort((a, b) => a - b);
  const rows = [...groupBy(slots, ({ name, startsAt, endsAt }) => `${startsAt} ${endsAt} ${name}`)]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .flatMap(([, ofRow]) => (ofRow[0] ? [{ first: ofRow[0], ofRow }] : []));
  const weekdayOfIncident = groupBy(incidents, ({ on }) => weekdayOf(on));
  const began = rows.flatMap(({ first, ofRow }) =>
    weekdays.map((weekday) => ({
      meets: ofRow.some((slot) => slot.weekday === weekday),
      label: `${first.startsAt} ${weekday}`,
      incidents: (weekdayOfIncident.get(weekday) ?? []).filter(({ at, period }) =>
        at === null ? period === first.name : first.startsAt <= at && at < first.endsAt,
      ),
    })),
  );
  const cells = withoutSmall(began);
  const ranked = (aspect: Aspect) => {
    const all = withoutSmall(byLabel(incidents, aspect));
    const counts = all
      .filter(({ count }) => count !== null)
      .sort((x, y) => (y.count ?? 0) - (x.count ?? 0) || (x.label < y.label ? -1 : 1));
    return { counts, hidden: all.length - counts.length };
  };
  const inBins = timeBins(incidents, days, { from, to }, bins);
  const binCounts = withoutSmall(
    inBins.map(({ from: label, incidentIds }) => ({ label, incidents: ofIds(incidentIds) })),
  );
  return {
    ...{ n: incidents.length, students, weekdays },
    rate: incidentRate(dailyCounts(incidents, days)),
    bins: inBins.map(({ from: first, to: last }, at) => ({
      ...{ from: first, to: last },
      count: binCounts[at]?.count ?? null,
    })),
    grid: rows.map(({ first: { name, startsAt, endsAt } }, row) => ({
      ...{ name, startsAt, endsAt },
      cells: weekdays.map((_, at) => {
        const place = row * weekdays.length + at;
        return began[place]?.meets ? (cells[place] ?? null) : null;
      }),
    })),
    labels: {
      setting: ranked("setting"),
      antecedent: ranked("antecedent"),
      behavior: ranked("behavior"),
      consequence: ranked("consequence"),
      function: ranked("function"),
    },
    strengths: withoutSmall(
      [1, 2, 3, 4, 5].map((strength) => ({
        label: String(strength),
        incidents: incidents.filter(({ intensity }) => intensity === strength),
      })),
    ),
    lengths: withoutSmall(
      lengthsOf(incidents, bands).bands.map(({ label, incidentIds }) => ({
        label,
        incidents: ofIds(incidentIds),
      })),
    ),
    pairs: pairsOf(incidents),
  };
}
