import { groupBy } from "../lists/group-by.ts";
import { type CountedArgs, type FindingMore, findingsEn, type FindingWords } from "../words/en/findings.ts";
import { adjustP } from "./adjust-p.ts";
import type { PairKind } from "./associations.ts";
import { episodesOf } from "./episodes.ts";
import {
  type Candidate,
  candidatesOf,
  type Cell,
  changeCandidates,
  fewestStrong,
  type KnownIncident,
  timeCells,
  type Watched,
} from "./finding-candidates.ts";
import { labelsOf } from "./labelled-incident.ts";

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
const most = 5;
const strongLevel = 0.05;
const weakLevel = 0.2;
/** Under so many episodes there are too few to tell. */
const fewestEpisodes = 20;
/** So many consequences are told of a finding. */
const mostFollowed = 2;

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
function whenOf(ids: readonly string[], strongCells: readonly Cell[]): FindingMore["when"] {
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
  const n = slots?.reduce((sum, one) => sum + one.count, 0) ?? 0;
  if (!slots || !first || n * 2 < ids.length) return null;
  return { n, of: ids.length, weekdays: slots.map(({ slot }) => slot.weekday), slot: first.slot };
}

/** The consequences that most of these incidents had. */
function followedOf(ids: readonly string[], incidents: readonly KnownIncident[]): FindingMore["followed"] {
  const wanted = new Set(ids);
  const behind = incidents.filter(({ incidentId }) => wanted.has(incidentId));
  const counted = new Map<string, number>();
  for (const one of behind)
    for (const label of labelsOf(one, "consequence")) counted.set(label, (counted.get(label) ?? 0) + 1);
  const labels = [...counted]
    .sort(([a, m], [b, n]) => n - m || (a < b ? -1 : 1))
    .slice(0, mostFollowed)
    .map(([label, n]) => ({ label, n }));
  return { labels, of: behind.length };
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
export function whatStandsOut(watched: Watched, words: FindingWords = findingsEn): WhatStandsOut {
  const all = watched.incidents;
  const episodes = watched.episodes ?? episodesOf(all, watched.periods);
  const incidents = episodes.flatMap(([first]) => first ?? []);
  const what = incidents.length === all.length ? "incidents" : "episodes";
  const found = all.length < fewest ? [] : findingsOf({ ...watched, incidents }, what, words);
  return {
    ...{ n: all.length, episodes: episodes.length, findings: found },
    nothing: found.length > 0 ? null : episodes.length < fewestEpisodes ? "too-few" : "none",
  };
}

/** What is told beside a finding, as far as its kind does not say that. */
function moreOf(
  { says: { kind }, ids }: Candidate,
  cluster: readonly Candidate[],
  incidents: readonly KnownIncident[],
  strongCells: readonly Cell[],
): FindingMore {
  const tellsTime = kind === "time" || kind === "weekday" || kind === "change";
  const tellsAfter = kind === "behavior-consequence" || kind === "antecedent-consequence";
  const hasAfter = cluster.some((one) => one.says.kind.endsWith("-consequence"));
  return {
    followed: kind === "antecedent-behavior" || (hasAfter && !tellsAfter) ? followedOf(ids, incidents) : null,
    when: tellsTime ? null : whenOf(ids, strongCells),
  };
}

function findingsOf(watched: Watched, what: CountedArgs, words: FindingWords): Finding[] {
  const { incidents } = watched;
  const cells = timeCells(watched);
  const candidates = candidatesOf(watched, cells, what);
  const adjusted = adjustP(candidates.map(({ p, weight = 1 }) => Math.min(1, p / (weight || 1))));
  const found = [
    // It has a p of its own.
    ...changeCandidates(watched).map((candidate) => ({ ...candidate, adjustedP: candidate.p })),
    ...candidates.map((candidate, at) => ({ ...candidate, adjustedP: adjusted[at] ?? 1 })),
  ]
    .map((candidate) => {
      const isStrong =
        candidate.adjustedP <= strongLevel &&
        (candidate.says.kind === "change" || candidate.ids.length >= fewestStrong);
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
      ({ says, strength, ids }) =>
        says.kind === "time" &&
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
        .flatMap((kind) => cluster.filter((one) => one.says.kind === kind && one.strength === head.strength))
        .at(0) ?? head;
    const { says, labels, ids, adjustedP, strength } = best;
    return [
      {
        ...{ kind: says.kind, labels, both: ids.length, strength, adjustedP, incidentIds: ids },
        words: words.finding(says, moreOf(best, cluster, incidents, strongCells)),
      },
    ];
  });
}
