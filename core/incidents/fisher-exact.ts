import logpmf from "@stdlib/stats-base-dists-hypergeometric-logpmf";

/** Of incidents and two labels: how many have both, the first only, the second only, neither. */
export interface TwoByTwo {
  both: number;
  aOnly: number;
  bOnly: number;
  neither: number;
}

/** Two tables count as equally likely where only rounding parts them. */
const tie = 1e-7;

/** The tables with the same margins, by how many have both; likelihoods are logarithms. */
function tablesLike({ both, aOnly, bOnly, neither }: TwoByTwo) {
  const [withA, withB, all] = [both + aOnly, both + bOnly, both + aOnly + bOnly + neither];
  return {
    least: Math.max(0, withA + withB - all),
    most: Math.min(withA, withB),
    likelihoodOf: (count: number) => logpmf(count, all, withA, withB),
    /** What one more of both adds to the likelihood: a logarithm a step, and the library once. */
    oneMore: (count: number) =>
      Math.log(((withA - count) * (withB - count)) / ((count + 1) * (all - withA - withB + count + 1))),
  };
}

/**
 * Fisher's exact test, two-sided: the probability, with these margins, of all tables that are no likelier than the one seen.
 *
 * @param table whole numbers of at least 0
 * @returns 0 … 1; 1 where a margin is 0, since then there is one table only
 *
 * Source: Fisher, R. A. (1935). The logic of inductive inference. Journal of the Royal Statistical Society, 98, 39–82.
 *
 * @example fisherExact({ both: 8, aOnly: 2, bOnly: 1, neither: 5 }) // 0.03497
 */
export function fisherExact(table: TwoByTwo): number {
  const { least, most, likelihoodOf, oneMore } = tablesLike(table);
  if (least === most) return 1;
  const seen = likelihoodOf(table.both);
  let sum = Math.exp(seen);
  for (let count = table.both, likelihood = seen; count < most; count += 1) {
    likelihood += oneMore(count);
    if (likelihood <= seen + tie) sum += Math.exp(likelihood);
  }
  for (let count = table.both, likelihood = seen; count > least; count -= 1) {
    likelihood -= oneMore(count - 1);
    if (likelihood <= seen + tie) sum += Math.exp(likelihood);
  }
  return Math.min(1, sum);
}

/**
 * Fisher's exact test for labels that go together more often than chance would have it: twice the probability, with these margins, of as many
 * with both or more. Unlike the sum over all tables no likelier than the one seen, it is never below twice its tail, so that of many pairs looked at
 * no more stand out by chance on this side than the level says.
 *
 * @returns 0 … 1
 *
 * Source: Fisher (1935), as above; doubling the tail is common practice.
 */
export function fisherMore(table: TwoByTwo): number {
  const { least, most, likelihoodOf, oneMore } = tablesLike(table);
  if (least === most) return 1;
  let likelihood = likelihoodOf(table.both);
  let sum = Math.exp(likelihood);
  for (let count = table.both; count < most; count += 1) {
    likelihood += oneMore(count);
    sum += Math.exp(likelihood);
  }
  return Math.min(1, 2 * sum);
}

/**
 * Phi of a 2 × 2 table: how far two labels go together, −1 … 1, 0 where neither says anything of the other.
 *
 * @returns null where a label is in every incident or in none
 *
 * Source: Pearson, K. (1900), as the correlation of two yes-or-no variables in any textbook.
 */
export function phi({ both, aOnly, bOnly, neither }: TwoByTwo): number | null {
  const margins = (both + aOnly) * (bOnly + neither) * (both + bOnly) * (aOnly + neither);
  return margins === 0 ? null : (both * neither - aOnly * bOnly) / Math.sqrt(margins);
}
