/**
 * Where the name of a phase stands: beside the line it begins with, or as far left of it as it takes to be read whole.
 *
 * @param line where that line is; like the widths of name and drawing in pixels
 */
export const nameBeside = (line: number, width: number, whole: number): { left: number; width: number } => ({
  left: Math.max(0, Math.min(line + 6, whole - width - 2)),
  width,
});

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
