/** Above so many places a part of them is searched first, so that the pivot is close to the rank. */
const sampledFrom = 600;

/**
 * The value of a rank among those between two places of a list, which it rearranges: lower ranks come to stand left of it.
 *
 * @param rank a place between `from` and `to`, both included
 *
 * Source: R. W. Floyd, R. L. Rivest (1975), Communications of the ACM 18:173, algorithm 489. Of our own, since a library’s that is
 * called with lists of several kinds loses half its speed, and a line through points needs it three times.
 *
 * @example ranked(Float64Array.of(5, 1, 3), 1, 0, 2) // 3
 */
export function ranked(values: Float64Array, rank: number, from: number, to: number): number {
  let left = from;
  let right = to;
  while (left < right) {
    if (right - left > sampledFrom) {
      const n = right - left + 1;
      const place = rank - left + 1;
      const log = Math.log(n);
      const size = 0.5 * Math.exp((2 * log) / 3);
      const spread = 0.5 * Math.sqrt((log * size * (n - size)) / n) * Math.sign(place - n / 2);
      ranked(
        values,
        rank,
        Math.max(left, Math.floor(rank - (place * size) / n + spread)),
        Math.min(right, Math.floor(rank + ((n - place) * size) / n + spread)),
      );
    }
    const pivot = values[rank] ?? 0;
    let low = left;
    let high = right;
    while (low <= high) {
      while ((values[low] ?? 0) < pivot) low += 1;
      while ((values[high] ?? 0) > pivot) high -= 1;
      if (low > high) break;
      const kept = values[low] ?? 0;
      values[low] = values[high] ?? 0;
      values[high] = kept;
      low += 1;
      high -= 1;
    }
    if (high < rank) left = low;
    if (rank < low) right = high;
  }
  return values[rank] ?? 0;
}
