import { timeSpan } from "../words/dates.ts";
import { mean } from "simple-statistics";
import binomialCdf from "@stdlib/stats-base-dists-binomial-cdf";
import { groupBy } from "../lists/group-by.ts";
import { weekdayOf } from "../dates/day-number.ts";
import { weekdayName } from "../dates/week.ts";
import type { TimetableSlot } from "../schedule/timetable.ts";
import { listed } from "../words/lists.ts";
import { adjustP } from "./adjust-p.ts";
import { aspectsOfPair, type Association, associations, type PairKind } from "./associations.ts";
import { fisherMore } from "./fisher-exact.ts";
import { episodesOf } from "./episodes.ts";
import { hasLabel, type LabelledIncident, labelsOf } from "./labelled-incident.ts";
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

/** One sentence made from the numbers. */
export interface Finding {
  kind: PairKind | "time" | "weekday" | "change";
  /** Ends without a stop. */
  words: string;
  strength: "strong" | "weak";
  /** What it is about: the labels of a pair, a period, a weekday and a period, a weekday, a plan. */
  labels: string[];
  /** How many episodes carry it. */
  both: number;
  /** Adjusted over everything that was looked at. */
  adjustedP: number;
  /** The incidents behind it: the first of each episode. */
  incidentIds: string[];
}

/** Under so many incidents nothing is looked at. */
const fewest = 5;
/** So many episodes carry a strong sentence. */
const fewestStrong = 5;
/** One or two bad mornings are no time of the week. */
const fewestTimes = 3;
const most = 5;
const strongLevel = 0.05;
const weakLevel = 0.2;
/** Under so many episodes there are too few to tell. */
const fewestEpisodes = 20;
/** So many consequences are told of a finding. */
const mostFollowed = 2;

interface Candidate {
  kind: Finding["kind"];
  labels: string[];
  words: string;
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

/** "during Math (10:15–11:00)" */
export const during = ({ name, startsAt, endsAt }: TimetableSlot) =>
  `during ${name} (${timeSpan(startsAt, endsAt)})`;

/** "3 of 4", or "all 4". */
export const ofWords = (count: number, all: number) => (count === all ? `all ${all}` : `${count} of ${all}`);

/** What is counted: incidents, or episodes where several incidents are one. */
type Counted = "incidents" | "episodes";

const pairWords: Record<PairKind, (pair: Association, n: number, what: Counted) => string> = {
  "antecedent-behavior": ({ a, b, both, aOnly, bOnly }, n, what) =>
    `${ofWords(both, both + bOnly)} ${what} with ${b} came just after: ${a}; of the others, ${aOnly} of ${n - both - bOnly}`,
  "setting-behavior": ({ a, b, both, aOnly, bOnly }, n, what) =>
    `${ofWords(both, both + bOnly)} ${what} with ${b} were in: ${a}; of the others, ${aOnly} of ${n - both - bOnly}`,
  "behavior-consequence": ({ a, b, both, aOnly, bOnly }, n, what) =>
    `${ofWords(both, both + aOnly)} ${what} with ${a} were followed by: ${b}; of the others, ${bOnly} of ${n - both - aOnly}`,
  "antecedent-consequence": ({ a, b, both, aOnly, bOnly }, n, what) =>
    `${ofWords(both, both + aOnly)} ${what} just after: ${a} were followed by: ${b}; of the others, ${bOnly} of ${n - both - aOnly}`,
};

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

function pairCandidates(incidents: readonly KnownIncident[], what: Counted): Candidate[] {
  // A label of fewer episodes cannot carry a strong sentence: looking at it would only make the others harder to tell.
  const isLookedAt = ({ both, aOnly, bOnly }: Association) =>
    Math.min(both + aOnly, both + bOnly) >= fewestStrong;
  const looked = associations(incidents).filter(isLookedAt);
  const meanTelling = looked.length === 0 ? 1 : mean(looked.map(couldTell)) || 1;
  return looked.map((pair) => {
    const [first, second] = aspectsOfPair(pair.kind);
    return {
      kind: pair.kind,
      labels: [pair.a, pair.b],
      words: pairWords[pair.kind](pair, incidents.length, what),
      // What goes together less often than chance would have it is no finding here; it was looked at all the same.
      p: fisherMore(pair),
      weight: couldTell(pair) / meanTelling,
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

/** "which is 45 of 390 minutes a day" */
function shareOfTime(cells: readonly Cell[], slot: TimetableSlot): string {
  const length = ({ startsAt, endsAt }: TimetableSlot) => minutesOf(endsAt) - minutesOf(startsAt);
  const day = cells.filter((cell) => cell.slot.weekday === slot.weekday);
  return `${length(slot)} of ${day.reduce((sum, cell) => sum + length(cell.slot), 0)} minutes a day`;
}

function timeCandidates(cells: readonly Cell[], what: Counted): Candidate[] {
  const timed = cells.reduce((sum, { incidents }) => sum + incidents.length, 0);
  const made = (some: readonly Cell[], where: string, slot: TimetableSlot): Candidate => {
    const ids = some.flatMap(({ incidents }) => incidents.map(({ incidentId }) => incidentId));
    return {
      kind: "time",
      labels: some.length === 1 ? [weekdayName(slot.weekday), slot.name] : [slot.name],
      words: `${ofWords(ids.length, timed)} ${what} whose time is known began ${where}, which is ${shareOfTime(cells, slot)}`,
      p: cellP(some, cells),
      ids,
    };
  };
  const periods = [...groupBy(cells, ({ slot }) => `${slot.name} ${slot.startsAt}`)].flatMap(([, some]) =>
    some[0] ? [{ some, slot: some[0].slot }] : [],
  );
  return [
    ...periods.map(({ some, slot }) => made(some, during(slot), slot)),
    ...cells.map((cell) =>
      made([cell], `on ${weekdayName(cell.slot.weekday)} ${during(cell.slot)}`, cell.slot),
    ),
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
    return {
      kind: "weekday",
      labels: [weekdayName(weekday)],
      words: `${both} of ${ofWeekday.length} observed ${weekdayName(weekday)}s had an incident; of the other days, ${bOnly} of ${days.length - ofWeekday.length}`,
      p: fisherMore(table),
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
      labels: [change.name],
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

/** "; what followed: the task was taken away after 14 of the 21, a break after 7" */
function followedTail(ids: readonly string[], incidents: readonly KnownIncident[]): string {
  const wanted = new Set(ids);
  const behind = incidents.filter(({ incidentId }) => wanted.has(incidentId));
  const counted = new Map<string, number>();
  for (const one of behind)
    for (const label of labelsOf(one, "consequence")) counted.set(label, (counted.get(label) ?? 0) + 1);
  const [first, ...more] = [...counted]
    .sort(([a, m], [b, n]) => n - m || (a < b ? -1 : 1))
    .slice(0, mostFollowed);
  if (!first) return "";
  const said = [
    `${first[0]} after ${first[1] === behind.length ? `all ${behind.length}` : `${first[1]} of the ${behind.length}`}`,
    ...more.map(([label, count]) => `${label} after ${count}`),
  ];
  return `; what followed: ${said.join(", ")}`;
}

/** What stands out, and why nothing does. */
export interface WhatStandsOut {
  n: number;
  episodes: number;
  findings: Finding[];
  /** Null where something is said; under 20 episodes there are too few to tell. */
  nothing: null | "too-few" | "none";
}

/**
 * What stands out among recorded incidents: at most five sentences, each with its counts and the incidents behind it. Each episode enters once,
 * by its first incident. Everything that is looked at (pairs of labels, periods, cells and weekdays) is adjusted together after Benjamini and
 * Hochberg. A sentence is strong when its adjusted p is at most 0.05 and at least 5 episodes carry it, weak when its adjusted p is at most 0.2;
 * nothing else is said.
 *
 * It tells of recorded incidents: not how often the same goes by without one, and not why.
 *
 * Source: the rules are ours; what they do stands in `docs/methods.md`, from the simulation of the tests.
 */
export function whatStandsOut(watched: Watched): WhatStandsOut {
  const all = watched.incidents;
  const episodes = watched.episodes ?? episodesOf(all, watched.periods);
  const incidents = episodes.flatMap(([first]) => first ?? []);
  const what = incidents.length === all.length ? "incidents" : "episodes";
  const found = all.length < fewest ? [] : findingsOf({ ...watched, incidents }, what);
  return {
    ...{ n: all.length, episodes: episodes.length, findings: found },
    nothing: found.length > 0 ? null : episodes.length < fewestEpisodes ? "too-few" : "none",
  };
}

/** A sentence with what followed and where in the week its incidents lie, as far as its kind does not say that. */
function withTails(
  { kind, words, ids }: Candidate,
  cluster: readonly Candidate[],
  incidents: readonly KnownIncident[],
  strongCells: readonly Cell[],
): string {
  const tellsTime = kind === "time" || kind === "weekday" || kind === "change";
  const tellsAfter = kind === "behavior-consequence" || kind === "antecedent-consequence";
  const hasAfter = cluster.some((one) => one.kind.endsWith("-consequence"));
  const followed =
    kind === "antecedent-behavior" || (hasAfter && !tellsAfter) ? followedTail(ids, incidents) : "";
  return `${words}${followed}${tellsTime ? "" : timeTail(ids, strongCells)}`;
}

function findingsOf(watched: Watched, what: Counted): Finding[] {
  const { incidents } = watched;
  const cells = timeCells(watched);
  const candidates = [
    ...pairCandidates(incidents, what),
    ...timeCandidates(cells, what),
    ...weekdayCandidates(watched),
  ];
  const adjusted = adjustP(candidates.map(({ p, weight = 1 }) => Math.min(1, p / (weight || 1))));
  const found = [
    // A plan is one question, asked by its day and not found by looking: it stands by its own p.
    ...changeCandidates(watched).map((candidate) => ({ ...candidate, adjustedP: candidate.p })),
    ...candidates.map((candidate, at) => ({ ...candidate, adjustedP: adjusted[at] ?? 1 })),
  ]
    .map((candidate) => {
      const isStrong =
        candidate.adjustedP <= strongLevel &&
        (candidate.kind === "change" || candidate.ids.length >= fewestStrong);
      return { ...candidate, strength: isStrong ? ("strong" as const) : ("weak" as const) };
    })
    .filter(({ adjustedP }) => adjustedP <= weakLevel)
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
    const best =
      telling
        .flatMap((kind) => cluster.filter((one) => one.kind === kind && one.strength === head.strength))
        .at(0) ?? head;
    const { kind, labels, ids, adjustedP, strength } = best;
    return [
      {
        ...{ kind, labels, both: ids.length, strength, adjustedP, incidentIds: ids },
        words: withTails(best, cluster, incidents, strongCells),
      },
    ];
  });
}
