/** A word in a chart: where it begins, how wide it is, and its baseline; in pixels. */
export interface PlacedLabel {
  left: number;
  width: number;
  baseline: number;
}

const height = 14;
const tries = [0, -1, 1, -2, 2, -3, 3, -4, 4, -5, 5, -6, 6];

const touch = (a: PlacedLabel, b: PlacedLabel) =>
  a.left < b.left + b.width + 4 &&
  b.left < a.left + a.width + 4 &&
  Math.abs(a.baseline - b.baseline) < height;

/**
 * Moves labels up or down until none touches another: the first stays where it is, each further one takes the nearest free place.
 *
 * @param bounds between which baselines have to be
 * @returns the baselines, in the order of the labels
 */
export function placeLabels(
  labels: readonly PlacedLabel[],
  { top, bottom }: { top: number; bottom: number },
): number[] {
  const placed: PlacedLabel[] = [];
  for (const label of labels) {
    const places = tries
      .map((step) => ({ ...label, baseline: label.baseline + (step * height) / 2 }))
      .filter(({ baseline }) => top <= baseline && baseline <= bottom);
    placed.push(places.find((place) => !placed.some((other) => touch(place, other))) ?? label);
  }
  return placed.map(({ baseline }) => baseline);
}
