const z95 = 1.959964;
const halvings = 60;

/** Pairs of a value before and one after, by whether the later one is better. */
export interface Pairs {
  better: number;
  equal: number;
  worse: number;
}

/**
 * Every value before with every value after.
 *
 * @param before,after oriented so that larger is improvement
 */
export function comparePairs(before: readonly number[], after: readonly number[]): Pairs {
  let [better, equal] = [0, 0];
  for (const a of before)
    for (const b of after)
      if (b > a) better += 1;
      else if (b === a) equal += 1;
  return { better, equal, worse: before.length * after.length - better - equal };
}

export interface Nap {
  /** 0 … 1; half of the pairs by chance. */
  nap: number;
  /** 95% interval; null with fewer than 2 points in a phase. */
  low: number | null;
  high: number | null;
}

/**
 * Nonoverlap of all pairs: in which share of the pairs of a before and an after point the after point is better, ties counting half.
 *
 * The interval holds every θ with |θ − NAP| ≤ z·√(θ(1 − θ)·[1 + h(1 − θ)/(2 − θ) + hθ/(1 + θ)] / (nA·nB)), h = (nA + nB)/2 − 1.
 *
 * @param before,after at least one value each, oriented so that larger is improvement
 * @returns null where a phase is empty
 *
 * Source: R. I. Parker & K. J. Vannest (2009), Behavior Therapy 40:357–367; interval after R. G. Newcombe (2006), Statistics in
 * Medicine 25:559–573, method 5, from memory. Points of one student are alike, so the interval is optimistic.
 *
 * @example nap([1, 2, 3], [2, 4, 5])?.nap // 0.833…
 */
export function nap(before: readonly number[], after: readonly number[]): Nap | null {
  const all = before.length * after.length;
  if (all === 0) return null;
  const { better, equal } = comparePairs(before, after);
  const share = (better + equal / 2) / all;
  if (before.length < 2 || after.length < 2) return { nap: share, low: null, high: null };
  const h = (before.length + after.length) / 2 - 1;
  const isWithin = (t: number) =>
    (t - share) ** 2 <= (z95 ** 2 * t * (1 - t) * (1 + (h * (1 - t)) / (2 - t) + (h * t) / (1 + t))) / all;
  return { nap: share, low: edge(isWithin, share, 0), high: edge(isWithin, share, 1) };
}

/** The last number from `inside`, which is within, towards `end` that still is, by halving. */
function edge(isWithin: (t: number) => boolean, inside: number, end: number): number {
  let [last, beyond] = [inside, end];
  if (last === beyond) return end;
  for (let time = 0; time < halvings; time += 1) {
    const half = (last + beyond) / 2;
    if (isWithin(half)) last = half;
    else beyond = half;
  }
  return last;
}
