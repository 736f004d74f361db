import normalCdf from "@stdlib/stats-base-dists-normal-cdf";

const leastPoints = 3;

/**
 * Mann–Whitney test, two-sided, normal approximation with correction for ties and for continuity: do the values of one phase
 * tend to be larger than those of the other?
 *
 * @param before,after values of each phase, in any order and unit
 * @returns p, 0 … 1; null where a phase has fewer than 3 points, or all values of both are equal
 *
 * Source: Mann, H. B., & Whitney, D. R. (1947). On a test of whether one of two random variables is stochastically larger than
 * the other. Annals of Mathematical Statistics, 18, 50–60; the tie correction as in any textbook of rank tests.
 */
export function mannWhitney(before: readonly number[], after: readonly number[]): number | null {
  const [m, n] = [before.length, after.length];
  if (m < leastPoints || n < leastPoints) return null;
  const all = [
    ...before.map((value) => ({ value, first: true })),
    ...after.map((value) => ({ value, first: false })),
  ].sort((a, b) => a.value - b.value);
  let rankSum = 0;
  let tied = 0;
  for (let start = 0; start < all.length;) {
    let end = start;
    while (end < all.length && all[end]?.value === all[start]?.value) end += 1;
    const size = end - start;
    // Ranks start + 1 … end share their mean.
    rankSum += all.slice(start, end).filter(({ first }) => first).length * ((start + 1 + end) / 2);
    tied += size ** 3 - size;
    start = end;
  }
  const u = rankSum - (m * (m + 1)) / 2;
  const variance = ((m * n) / 12) * (m + n + 1 - tied / ((m + n) * (m + n - 1)));
  if (variance <= 0) return null;
  const z = Math.max(0, Math.abs(u - (m * n) / 2) - 0.5) / Math.sqrt(variance);
  return Math.min(1, 2 * normalCdf(-z, 0, 1));
}
