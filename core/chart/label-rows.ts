/**
 * Puts labels that stand side by side into as few rows as keep them apart.
 *
 * @param labels in order from left to right: where each begins and how wide it is, in one unit
 * @returns the row of each, 0 on top
 */
export function labelRows(labels: readonly { left: number; width: number }[], gap = 6): number[] {
  const ends: number[] = [];
  return labels.map(({ left, width }) => {
    const free = ends.findIndex((end) => end + gap <= left);
    const row = free === -1 ? ends.length : free;
    ends[row] = left + width;
    return row;
  });
}
