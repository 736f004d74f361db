/**
 * Benjamini–Hochberg: p values adjusted for how many were looked at, so that of those called found at 0.05 no more than a
 * twentieth is expected to be chance.
 *
 * @param ps 0 … 1 each
 * @returns the adjusted ones in the order of `ps`
 *
 * Source: Benjamini, Y., & Hochberg, Y. (1995). Controlling the false discovery rate. Journal of the Royal Statistical Society B,
 * 57, 289–300.
 *
 * @example adjustP([0.01, 0.04, 0.03]) // [0.03, 0.04, 0.04]
 */
export function adjustP(ps: readonly number[]): number[] {
  const adjusted = new Array<number>(ps.length);
  let least = 1;
  const fromLargest = ps.map((p, at) => ({ p, at })).sort((a, b) => b.p - a.p);
  fromLargest.forEach(({ p, at }, place) => {
    least = Math.min(least, (p * ps.length) / (ps.length - place));
    adjusted[at] = least;
  });
  return adjusted;
}
