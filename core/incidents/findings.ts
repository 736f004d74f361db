import { timeSpan } from "../words/dates.ts";
import binomialCdf from "@stdlib/stats-base-dists-binomial-cdf";
import { groupBy } from "../lists/group-by.ts";
import { weekdayOf } from "../dates/day-number.ts";
import { weekdayName } from "../dates/week.ts";
import type { TimetableSlot } from "../schedule/timetable.ts";
import { listed } from "../words/lists.ts";
import { adjustP } from "./adjust-p.ts";
import { aspectsOfPair, type Association, associations, type PairKind } from "./associations.ts";
import { fisherExact } from "./fisher-exact.ts";
import { hasLabel, type LabelledIncident } from "./labelled-incident.ts";
import type { RateChange } from "./rate.ts";

/** An incident with what opens it. */
export interface KnownIncident extends LabelledIncident {
  incidentId: string;
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
  /** A plan that began within the span, and how often it was before and since. */
  change?: { name: string; rates: RateChange; incidentIds: readonly string[] };
}

/** One sentence made from the numbers. */
export interface Finding {
  kind: PairKind | "time" | "weekday" | "change";
  /** Ends without a stop. */
  words: string;
  strength: "strong" | "weak";
  /** Adjusted over everything that was looked at. */
  adjustedP: number;
  /** The incidents behind it. */
  incidentIds: string[];
}

const fewest = 5;
const fewestWeak = 3;
const most = 5;
const level = 0.05;

interface Candidate {
  kind: Finding["kind"];
  words: string;
  p: number;
  /** Incidents that carry it. */
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

/** Minutes since midnight of a time `HH:MM`. */
export const minutesOf = (time: string) => 60 * Number(time.slice(0, 2)) + Number(time.slice(3, 5));

/** "during Math (10:15–11:00)" */
export const during = ({ name, startsAt, endsAt }: TimetableSlot) =>
  `during ${name} (${timeSpan(startsAt, endsAt)})`;

/** "3 of 4", or "all 4". */
export const ofWords = (count: number, all: number) => (count === all ? `all ${all}` : `${count} of ${all}`);

const pairWords: Record<PairKind, (pair: Association, n: number) => string> = {
  "antecedent-behavior": ({ a, b, both, aOnly, bOnly }, n) =>
    `${ofWords(both, both + bOnly)} incidents with ${b} came just after: ${a}; of the others, ${aOnly} of ${n - both - bOnly}`,
  "setting-behavior": ({ a, b, both, aOnly, bOnly }, n) =>
    `${ofWords(both, both + bOnly)} incidents with ${b} were in: ${a}; of the others, ${aOnly} of ${n - both - bOnly}`,
  "behavior-consequence": ({ a, b, both, aOnly, bOnly }, n) =>
    `${ofWords(both, both + aOnly)} incidents with ${a} were followed by: ${b}; of the others, ${bOnly} of ${n - both - aOnly}`,
  "antecedent-consequence": ({ a, b, both, aOnly, bOnly }, n) =>
    `${ofWords(both, both + aOnly)} incidents just after: ${a} were followed by: ${b}; of the others, ${bOnly} of ${n - both - aOnly}`,
};

function pairCandidates(incidents: readonly KnownIncident[]): Candidate[] {
  return associations(incidents).map((pair) => {
    const [first, second] = aspectsOfPair(pair.kind);
    return {
      kind: pair.kind,
      words: pairWords[pair.kind](pair, incidents.length),
      // What goes together less often than chance would have it is no finding here; it was looked at all the same.
      p: (pair.phi ?? 0) > 0 ? pair.fisherP : 1,
      ids: incidents
        .filter((one) => hasLabel(one, first, pair.a) && hasLabel(one, second, pair.b))
        .map(({ incidentId }) => incidentId),
    };
  });
}

/** One period of one weekday, how long it was watched, and the incidents that began in it. */
interface Cell {
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

function timeCells({ incidents, days, periods, notWatched }: Watched): Cell[] {
  const watched = groupBy(days, weekdayOf);
  const timed = groupBy(incidents, ({ on }) => weekdayOf(on));
  return periods.flatMap((slot) => {
    const times = timesWatched(watched.get(slot.weekday) ?? [], slot, notWatched);
    if (times === 0) return [];
    const began = (timed.get(slot.weekday) ?? []).filter(
      ({ at }) => at !== null && slot.startsAt <= at && at < slot.endsAt,
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
  // One or two bad mornings are no time of the week.
  if (seen < fewestWeak) return 1;
  return Math.max(0, 1 - binomialCdf(seen - 1, total, minutes(cells) / minutes(all)));
}

function timeCandidates(cells: readonly Cell[]): Candidate[] {
  const timed = cells.reduce((sum, { incidents }) => sum + incidents.length, 0);
  const made = (some: readonly Cell[], where: string): Candidate => {
    const ids = some.flatMap(({ incidents }) => incidents.map(({ incidentId }) => incidentId));
    return {
      kind: "time",
      words: `${ofWords(ids.length, timed)} incidents whose time is known began ${where}`,
      p: cellP(some, cells),
      ids,
    };
  };
  const periods = [...groupBy(cells, ({ slot }) => `${slot.name} ${slot.startsAt}`)].flatMap(([, some]) =>
    some[0] ? [{ some, slot: some[0].slot }] : [],
  );
  return [
    ...periods.map(({ some, slot }) => made(some, during(slot))),
    ...cells.map((cell) => made([cell], `on ${weekdayName(cell.slot.weekday)} ${during(cell.slot)}`)),
  ];
}

/** Weekdays with incidents on more of their days than the others: a day either had any or not. */
function weekdayCandidates({ incidents, days }: Watched): Candidate[] {
  const withAny = new Set(incidents.map(({ on }) => on));
  return [...groupBy(days, weekdayOf)].map(([weekday, ofWeekday]) => {
    const both = ofWeekday.filter((day) => withAny.has(day)).length;
    const bOnly = days.filter((day) => withAny.has(day)).length - both;
    const table = {
      both,
      aOnly: ofWeekday.length - both,
      bOnly,
      neither: days.length - ofWeekday.length - bOnly,
    };
    const isMore = both * (days.length - ofWeekday.length) > bOnly * ofWeekday.length;
    return {
      kind: "weekday",
      words: `${both} of ${ofWeekday.length} observed ${weekdayName(weekday)}s had an incident; of the other days, ${bOnly} of ${days.length - ofWeekday.length}`,
      p: isMore ? fisherExact(table) : 1,
      ids: incidents.filter(({ on }) => weekdayOf(on) === weekday).map(({ incidentId }) => incidentId),
    };
  });
}

function changeCandidates({ change }: Watched): Candidate[] {
  if (!change) return [];
  const { before, after, p } = change.rates;
  const said = ({ incidents, days, perDay }: RateChange["before"]) =>
    `${incidents} in ${days} observed days, ${perDay.toFixed(2)} a day`;
  return [
    {
      kind: "change",
      words: `since ${change.name} there were ${said(after)}; before, ${said(before)}`,
      p: p ?? 1,
      ids: [...change.incidentIds],
    },
  ];
}

/** The kind said first where several tell of the same incidents. */
const telling: readonly Finding["kind"][] = [
  "change",
  "antecedent-behavior",
  "time",
  "setting-behavior",
  "antecedent-consequence",
  "behavior-consequence",
  "weekday",
];

const overlap = (some: readonly string[], others: readonly string[]) => {
  const there = new Set(others);
  const shared = some.filter((id) => there.has(id)).length;
  return shared / (Math.min(some.length, others.length) || 1);
};
/** Two findings tell of the same incidents where the smaller lies in the other but for a fifth. */
const sameThing = 0.8;

/** Where in the week the incidents behind a finding lie: the cells that stand out by themselves, if they hold half of it. */
function timeTail(ids: readonly string[], strongCells: readonly Cell[]): string {
  const inside = strongCells
    .map(({ slot, incidents }) => ({
      slot,
      count: incidents.filter(({ incidentId }) => ids.includes(incidentId)).length,
    }))
    .filter(({ count }) => count > 0);
  const [slots] = [...groupBy(inside, ({ slot }) => `${slot.name} ${slot.startsAt}`).values()].sort(
    (x, y) => y.reduce((sum, { count }) => sum + count, 0) - x.reduce((sum, { count }) => sum + count, 0),
  );
  const first = slots?.[0];
  const count = slots?.reduce((sum, one) => sum + one.count, 0) ?? 0;
  if (!slots || !first || count * 2 < ids.length) return "";
  const weekdays = slots.map(({ slot }) => weekdayName(slot.weekday));
  const days = weekdays.length >= 5 ? "" : `on ${listed(weekdays, "or")} `;
  return `; ${ofWords(count, ids.length)} of them ${days}${during(first.slot)}`.replace(
    `all ${ids.length} of them`,
    "all of them",
  );
}

/**
 * What stands out among recorded incidents: at most five sentences, each with its counts and the incidents behind it. Everything
 * that is looked at (pairs of labels, periods, cells and weekdays) is adjusted together after Benjamini and Hochberg.
 * A sentence is strong when its adjusted p is at most 0.05 and at least 5 incidents carry it; one whose own p is at most 0.05 is
 * said as weak; the rest is left out. Fewer than 5 incidents say nothing.
 *
 * It tells of recorded incidents: not how often the same goes by without one, and not why.
 */
export function findingsOf(watched: Watched): Finding[] {
  const { incidents } = watched;
  if (incidents.length < fewest) return [];
  const cells = timeCells(watched);
  const candidates = [...pairCandidates(incidents), ...timeCandidates(cells), ...weekdayCandidates(watched)];
  const adjusted = adjustP(candidates.map(({ p }) => p));
  const found = [
    // A plan is one question, asked by its day and not found by looking: it stands by its own p.
    ...changeCandidates(watched).map((candidate) => ({ ...candidate, adjustedP: candidate.p })),
    ...candidates.map((candidate, at) => ({ ...candidate, adjustedP: adjusted[at] ?? 1 })),
  ]
    .map((candidate) => {
      const isStrong =
        candidate.adjustedP <= level && (candidate.kind === "change" || candidate.ids.length >= fewest);
      return { ...candidate, strength: isStrong ? ("strong" as const) : ("weak" as const) };
    })
    .filter(({ kind, p, ids }) => p <= level && (kind === "change" || ids.length >= fewestWeak))
    .sort(
      (x, y) =>
        Number(x.strength === "weak") - Number(y.strength === "weak") ||
        x.adjustedP - y.adjustedP ||
        x.p - y.p ||
        y.ids.length - x.ids.length,
    );
  const strongCells = cells.filter((cell) =>
    found.some(
      ({ kind, strength, ids }) =>
        kind === "time" &&
        strength === "strong" &&
        ids.length === cell.incidents.length &&
        cell.incidents.every(({ incidentId }) => ids.includes(incidentId)),
    ),
  );
  // Findings of the same incidents are one: the kind that tells most stands for them.
  const clusters: (typeof found)[] = [];
  for (const one of found) {
    const near = clusters.find(([head]) => head && overlap(head.ids, one.ids) >= sameThing);
    if (near) near.push(one);
    else clusters.push([one]);
  }
  return clusters.slice(0, most).flatMap((cluster) => {
    const [head] = cluster;
    if (!head) return [];
    const best = telling
      .flatMap((kind) => cluster.filter((one) => one.kind === kind && one.strength === head.strength))
      .at(0);
    const { kind, words, ids, adjustedP, strength } = best ?? head;
    const tail = kind === "time" || kind === "weekday" || kind === "change" ? "" : timeTail(ids, strongCells);
    return [{ kind, words: `${words}${tail}`, strength, adjustedP, incidentIds: ids }];
  });
}
