import { groupBy } from "../lists/group-by.ts";
import { weekdayOf } from "../dates/day-number.ts";
import { aspectsOfPair, associations, type Chain, chains } from "./associations.ts";
import { type Aspect, hasLabel, labelsOf } from "./labelled-incident.ts";
import { fewestStudents } from "./fewest-students.ts";
import type { LengthBand } from "./lengths.ts";
import { dailyCounts, lengthsOf, type PatternIncident, timeBins } from "./patterns.ts";
import { incidentRate, type Rate } from "./rate.ts";
import { hourSlots, type Watched } from "./finding-candidates.ts";
import { findingsEn, type FindingWords } from "../words/en/findings.ts";
import { minutesOf } from "./minutes-of.ts";

/** An incident of one of many students. */
export interface SchoolIncident extends PatternIncident {
  studentId: string;
}

/** A count without names: null where fewer than three students stand behind it. */
export interface NamelessCount {
  label: string;
  count: number | null;
}

/** Counts the incidents of a school together. No student can be recognised. */
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
  /** Before, did and after as they followed in the incidents of three students or more. */
  chains: (Chain & { students: number })[];
  /** Returns at most five sentences, each with its counts. They are counts, not tests. */
  findings: string[];
}

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

const aspects: readonly Aspect[] = ["setting", "antecedent", "behavior", "consequence", "function"];

/** The same incidents with one label for every spelling that differs in capitals only: the one used most. */
function inOneSpelling(incidents: readonly SchoolIncident[]): SchoolIncident[] {
  const spelling = (aspect: Aspect) => {
    const said = incidents.flatMap((one) => [...labelsOf(one, aspect)]);
    const kept = new Map(
      [...groupBy(said, (label) => label.toLocaleLowerCase())].flatMap(([key, ones]) => {
        const [most] = [...groupBy(ones, (label) => label)].sort(([, a], [, b]) => b.length - a.length);
        return most ? [[key, most[0]]] : [];
      }),
    );
    return <Label extends string>(label: Label): Label =>
      (kept.get(label.toLocaleLowerCase()) ?? label) as Label;
  };
  const [setting, antecedent, behavior, consequence] = aspects.map(spelling);
  if (!setting || !antecedent || !behavior || !consequence) return [...incidents];
  return incidents.map((one) => ({
    ...one,
    setting: one.setting === null ? null : setting(one.setting),
    antecedents: one.antecedents.map(antecedent),
    behaviors: one.behaviors.map(behavior),
    consequences: one.consequences.map(consequence),
  }));
}

const byLabel = (incidents: readonly SchoolIncident[], aspect: Aspect) =>
  [
    ...groupBy(
      incidents.flatMap((incident) => [...labelsOf(incident, aspect)].map((label) => ({ label, incident }))),
      ({ label }) => label,
    ),
  ].map(([label, ones]) => ({ label, incidents: ones.map(({ incident }) => incident) }));

/** Who stands behind incidents, and how many of them the one has who has most. */
function behind(incidents: readonly SchoolIncident[]) {
  const byStudent = [...groupBy(incidents, ({ studentId }) => studentId).values()];
  return { students: byStudent.length, most: Math.max(0, ...byStudent.map((ones) => ones.length)) };
}

/** A sentence about many students is left out where one student has more than half of its incidents. */
const isOfMany = (incidents: readonly SchoolIncident[]): boolean => {
  const { students, most } = behind(incidents);
  return incidents.length >= fewestSaid && students >= fewestBehind && most * 2 <= incidents.length;
};
const fewestSaid = 5;
/** From this phi on two labels are said to go together: a moderate tie (Cohen 1988, from memory). */
const tiedFrom = 0.3;
/** A time of the week is said from twice the incidents that its share of the week would have. */
const busyFrom = 2;
const mostSaid = 5;

/**
 * What goes with what, without a p: the incidents of one student are alike, and a test would take them for so many that are not.
 * Where the incidents with one of the two only are few students', the pair is kept back: the difference would tell them.
 */
function pairsOf(incidents: readonly SchoolIncident[], words: FindingWords) {
  return associations(incidents)
    .flatMap((pair) => {
      const { kind, a, b, both, aOnly, bOnly, phi } = pair;
      const [first, second] = aspectsOfPair(kind);
      const [withA, withB] = [
        incidents.filter((one) => hasLabel(one, first, a)),
        incidents.filter((one) => hasLabel(one, second, b)),
      ];
      const together = withA.filter((one) => hasLabel(one, second, b));
      const isTold = [
        withA.filter((one) => !hasLabel(one, second, b)),
        withB.filter((one) => !hasLabel(one, first, a)),
      ].every((rest) => rest.length === 0 || behind(rest).students >= fewestBehind);
      const { students } = behind(together);
      return phi !== null && phi > 0 && students >= fewestBehind && isTold
        ? [
            {
              ...{ a, b, both, of: both + aOnly, phi, together },
              words: words.schoolPair(
                { kind, a, b, both, of: both + (kind.endsWith("-behavior") ? bOnly : aOnly) },
                students,
              ),
            },
          ]
        : [];
    })
    .sort((x, y) => y.phi - x.phi || y.both - x.both)
    .slice(0, 12);
}

function chainsOf(incidents: readonly SchoolIncident[]): SchoolPatterns["chains"] {
  return chains(incidents, Infinity)
    .map((chain) => ({
      ...chain,
      students: behind(
        incidents.filter(
          (one) =>
            hasLabel(one, "antecedent", chain.antecedent) &&
            hasLabel(one, "behavior", chain.behavior) &&
            hasLabel(one, "consequence", chain.consequence),
        ),
      ).students,
    }))
    .filter(({ students }) => students >= fewestBehind)
    .slice(0, mostSaid);
}

/**
 * The patterns of many students together.
 *
 * @param told those of the span; the labels are the words of each student's own lists, the same words being the same label
 * @param days the school days of the span
 * @returns null where fewer than five students had an incident
 */
export function schoolPatternsOf(
  {
    incidents: told,
    days,
    from,
    to,
    periods,
    bands,
  }: {
    incidents: readonly SchoolIncident[];
    days: readonly string[];
    from: string;
    to: string;
    periods: Watched["periods"];
    bands: readonly LengthBand[];
  },
  words: FindingWords = findingsEn,
): SchoolPatterns | null {
  const { students } = behind(told);
  if (students < fewestStudents) return null;
  const incidents = inOneSpelling(told);
  const known = new Map(incidents.map((one) => [one.incidentId, one]));
  const ofIds = (ids: readonly string[]) => ids.flatMap((id) => known.get(id) ?? []);
  const slots = periods.length > 0 ? periods : hourSlots(8, 15);
  const weekdays = [...new Set(slots.map(({ weekday }) => weekday))].sort((a, b) => a - b);
  const rows = [...groupBy(slots, ({ name, startsAt, endsAt }) => `${startsAt} ${endsAt} ${name}`)]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .flatMap(([, ofRow]) => (ofRow[0] ? [{ first: ofRow[0], ofRow }] : []));
  const daysOf = groupBy(days, weekdayOf);
  const weekdayOfIncident = groupBy(incidents, ({ on }) => weekdayOf(on));
  const began = rows.flatMap(({ first, ofRow }) =>
    weekdays.map((weekday) => ({
      slot: ofRow.find((slot) => slot.weekday === weekday),
      minutes: (daysOf.get(weekday)?.length ?? 0) * (minutesOf(first.endsAt) - minutesOf(first.startsAt)),
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
  const meeting = began.flatMap((cell, at) => (cell.slot ? [{ ...cell, slot: cell.slot, at }] : []));
  const timed = meeting.reduce((sum, { incidents: ones }) => sum + ones.length, 0);
  const watched = meeting.reduce((sum, { minutes }) => sum + minutes, 0);
  const busy = meeting
    .map((cell) => ({ ...cell, times: (cell.incidents.length * watched) / (timed * cell.minutes) }))
    .filter(
      ({ at, times, incidents: ones }) =>
        cells[at]?.count !== null && Number.isFinite(times) && times >= busyFrom && isOfMany(ones),
    )
    .sort((x, y) => y.incidents.length - x.incidents.length)
    .map(({ slot, incidents: ones, times }) =>
      words.schoolTime({
        ...{ n: ones.length, of: timed, weekday: slot.weekday, slot, share: times },
        students: behind(ones).students,
      }),
    );
  const pairs = pairsOf(incidents, words);
  const tied = pairs
    .filter(({ phi, together }) => phi >= tiedFrom && isOfMany(together))
    .map(({ words }) => words);
  const inBins = timeBins(incidents, days, { from, to }, "week");
  const binCounts = withoutSmall(
    inBins.map(({ from: label, incidentIds }) => ({ label, incidents: ofIds(incidentIds) })),
  );
  return {
    ...{ n: incidents.length, students, weekdays },
    rate: incidentRate(dailyCounts(incidents, days).map(({ count }) => count)),
    bins: inBins.map(({ from: first, to: last }, at) => ({
      ...{ from: first, to: last },
      count: binCounts[at]?.count ?? null,
    })),
    grid: rows.map(({ first: { name, startsAt, endsAt } }, row) => ({
      ...{ name, startsAt, endsAt },
      cells: weekdays.map((_, at) => {
        const place = row * weekdays.length + at;
        return began[place]?.slot ? (cells[place] ?? null) : null;
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
    pairs: pairs.map(({ a, b, both, of, phi }) => ({ a, b, both, of, phi })),
    chains: chainsOf(incidents),
    // Times and ties by turns, so that neither keeps the other out.
    findings: Array.from({ length: mostSaid }, (_, at) => [busy[at] ?? [], tied[at] ?? []])
      .flat(2)
      .slice(0, mostSaid),
  };
}
