import { groupBy } from "../lists/group-by.ts";
import { adjustP } from "./adjust-p.ts";
import { fisherExact, phi, type TwoByTwo } from "./fisher-exact.ts";
import { type Aspect, type LabelledIncident, labelsOf } from "./labelled-incident.ts";

/** Which labels are looked at together, in the order they are listed. */
const pairings = {
  "antecedent-behavior": ["antecedent", "behavior"],
  "setting-behavior": ["setting", "behavior"],
  "behavior-consequence": ["behavior", "consequence"],
  "antecedent-consequence": ["antecedent", "consequence"],
} as const satisfies Record<string, readonly [Aspect, Aspect]>;
export type PairKind = keyof typeof pairings;

/** The two aspects of an incident that a kind of pair compares. */
export const aspectsOfPair = (kind: PairKind): readonly [Aspect, Aspect] => pairings[kind];

export interface Association extends TwoByTwo {
  kind: PairKind;
  a: string;
  b: string;
  /** −1 … 1; null where one label is in every incident. */
  phi: number | null;
  fisherP: number;
  /** `fisherP` adjusted over the pairs of its kind that are listed. */
  adjustedP: number;
}

function countPairs(incidents: readonly LabelledIncident[], [first, second]: readonly [Aspect, Aspect]) {
  const single = [new Map<string, number>(), new Map<string, number>()] as const;
  const together = new Map<string, { a: string; b: string; both: number }>();
  const add = (counts: Map<string, number>, label: string) => counts.set(label, (counts.get(label) ?? 0) + 1);
  for (const incident of incidents) {
    const [as, bs] = [labelsOf(incident, first), labelsOf(incident, second)];
    for (const a of as) add(single[0], a);
    for (const b of bs) add(single[1], b);
    for (const a of as)
      for (const b of bs) {
        const key = JSON.stringify([a, b]);
        const pair = together.get(key);
        if (pair) pair.both += 1;
        else together.set(key, { a, b, both: 1 });
      }
  }
  return [...together.values()].map(({ a, b, both }) => {
    const aOnly = (single[0].get(a) ?? 0) - both;
    const bOnly = (single[1].get(b) ?? 0) - both;
    return { a, b, both, aOnly, bOnly, neither: incidents.length - both - aOnly - bOnly };
  });
}

/**
 * What goes with what among recorded incidents: the 2 × 2 table of each pair of labels that at least one incident has both of,
 * with phi, Fisher's exact p and its Benjamini–Hochberg adjustment within the kind of pair.
 *
 * These records exist only where a behavior occurred: nothing here says how often an antecedent passes without it.
 *
 * @returns by kind, the least adjusted p first; ties by how many have both, then by name
 */
export function associations(incidents: readonly LabelledIncident[]): Association[] {
  return (Object.keys(pairings) as PairKind[]).flatMap((kind) => {
    const pairs = countPairs(incidents, pairings[kind]);
    const ps = pairs.map(fisherExact);
    const adjusted = adjustP(ps);
    return pairs
      .map((pair, at) => ({
        kind,
        ...pair,
        phi: phi(pair),
        fisherP: ps[at] ?? 1,
        adjustedP: adjusted[at] ?? 1,
      }))
      .sort(
        (x, y) =>
          x.adjustedP - y.adjustedP ||
          x.fisherP - y.fisherP ||
          y.both - x.both ||
          (x.a < y.a || (x.a === y.a && x.b < y.b) ? -1 : 1),
      );
  });
}

/** A chain of before → did → after, and how many incidents show it. */
export interface Chain {
  antecedent: string;
  behavior: string;
  consequence: string;
  count: number;
}

/** The chains seen more than once, the most frequent first; an incident counts once in each chain that its labels make. */
export function chains(incidents: readonly LabelledIncident[], most = 5): Chain[] {
  const links = incidents.flatMap((incident) =>
    [...labelsOf(incident, "antecedent")].flatMap((antecedent) =>
      [...labelsOf(incident, "behavior")].flatMap((behavior) =>
        [...labelsOf(incident, "consequence")].map((consequence) => ({ antecedent, behavior, consequence })),
      ),
    ),
  );
  return [...groupBy(links, (link) => JSON.stringify(Object.values(link)))]
    .flatMap(([, [first, ...more]]) => (first ? [{ ...first, count: 1 + more.length }] : []))
    .filter(({ count }) => count > 1)
    .sort((x, y) => y.count - x.count)
    .slice(0, most);
}
