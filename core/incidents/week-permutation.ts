import { groupBy } from "../lists/group-by.ts";
import { weekOf } from "../dates/week.ts";
import { seededRandom } from "./seeded-random.ts";

/** How many incidents an observed school day had. */
export interface DayCount {
  /** `YYYY-MM-DD` */
  on: string;
  count: number;
}

/** With fewer school weeks a side nothing is tested. */
const fewestWeeks = 4;
const permutations = 5000;
/** Two differences count as equal where only rounding parts them. */
const tie = 1e-12;

interface Week {
  days: number;
  incidents: number;
}

const weeksOf = (days: readonly DayCount[]): Week[] =>
  [...groupBy(days, ({ on }) => weekOf(on)).values()].map((ones) => ({
    days: ones.length,
    incidents: ones.reduce((sum, { count }) => sum + count, 0),
  }));

/**
 * Is the difference between the rates of two spans more than chance would make it? Whole school weeks are dealt anew to the two spans, 5,000
 * times, seeded by the data: bad days come in clusters, and a week keeps its cluster together. A week that a span cuts is a week of that span.
 *
 * @param before,after the observed school days of each span, in any order
 * @returns p, two-sided; null with fewer than 4 school weeks a side, or where all weeks are alike
 *
 * Source: permutation test of a difference (Fisher 1935; Edgington & Onghena 2007, Randomization Tests, from memory); weeks as blocks are ours.
 */
export function weekPermutationP(before: readonly DayCount[], after: readonly DayCount[]): number | null {
  // Which span is called first makes no difference to the deal.
  const [first = [], second = []] = [weeksOf(before), weeksOf(after)].sort(
    (a, b) => a.length - b.length || (JSON.stringify(a) < JSON.stringify(b) ? -1 : 1),
  );
  if (first.length < fewestWeeks || second.length < fewestWeeks) return null;
  const weeks = [...first, ...second];
  const total = weeks.reduce(
    (sum, { days, incidents }) => ({ days: sum.days + days, incidents: sum.incidents + incidents }),
    { days: 0, incidents: 0 },
  );
  if (weeks.every(({ days, incidents }) => incidents * total.days === total.incidents * days)) return null;
  const difference = (chosen: readonly Week[]) => {
    let [days, incidents] = [0, 0];
    for (let at = 0; at < first.length; at += 1) {
      days += chosen[at]?.days ?? 0;
      incidents += chosen[at]?.incidents ?? 0;
    }
    return Math.abs(incidents / days - (total.incidents - incidents) / (total.days - days));
  };
  const seen = difference(weeks);
  const random = seededRandom(
    weeks.reduce((seed, { days, incidents }) => (31 * seed + 7 * incidents + days) >>> 0, 17),
  );
  const dealt = [...weeks];
  let asLarge = 0;
  for (let time = 0; time < permutations; time += 1) {
    // Fisher–Yates, as far as the first span reaches.
    for (let at = 0; at < first.length; at += 1) {
      const other = at + Math.floor(random() * (dealt.length - at));
      const kept = dealt[at];
      dealt[at] = dealt[other] as Week;
      dealt[other] = kept as Week;
    }
    if (difference(dealt) >= seen - tie) asLarge += 1;
  }
  return (asLarge + 1) / (permutations + 1);
}
