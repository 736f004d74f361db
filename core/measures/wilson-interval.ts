const z95 = 1.959964;

/**
 * Wilson score interval for k of n, 95%.
 *
 * @param k credited opportunities, a whole number from 0 to n
 * @param n opportunities, a whole number above 0
 * @returns `[low, high]` as proportions in 0 … 1
 * @throws RangeError when k or n is not such a number
 *
 * Source: E. B. Wilson (1927), Journal of the American Statistical Association 22:209–212.
 * Single-case data are autocorrelated, so read as an interval for one session it is somewhat optimistic.
 *
 * @example wilsonInterval(7, 10) // [0.3968, 0.8922]
 */
export function wilsonInterval(k: number, n: number): [low: number, high: number] {
  if (!Number.isInteger(n) || n <= 0) throw new RangeError(`n must be a whole number above 0, not ${n}`);
  if (!Number.isInteger(k) || k < 0 || k > n)
    throw new RangeError(`k must be a whole number from 0 to ${n}, not ${k}`);
  const p = k / n;
  const z2 = z95 * z95;
  const center = (p + z2 / (2 * n)) / (1 + z2 / n);
  const half = (z95 / (1 + z2 / n)) * Math.sqrt((p * (1 - p)) / n + z2 / (4 * n * n));
  return [k === 0 ? 0 : center - half, k === n ? 1 : center + half];
}

/** The same in percent, as scores carry it. */
export function wilsonPercent(k: number, n: number): [low: number, high: number] {
  const [low, high] = wilsonInterval(k, n);
  return [100 * low, 100 * high];
}
