/** How many times each value is there, for values that are there more than once. */
export function tieSizes(values: Iterable<number>): number[] {
  const sizes = new Map<number, number>();
  for (const value of values) sizes.set(value, (sizes.get(value) ?? 0) + 1);
  return [...sizes.values()].filter((size) => size > 1);
}

/** Σ t(t−1)(2t+5) over groups of equal values: what ties take from 18 times the variance of Kendall's S. */
export const tieTerm = (sizes: readonly number[]): number =>
  sizes.reduce((all, t) => all + t * (t - 1) * (2 * t + 5), 0);
