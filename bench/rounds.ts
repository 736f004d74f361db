/** One side of a comparison: runs once and answers with its measure, larger is better (say, requests a second). */
export interface Side {
  name: string;
  run: () => Promise<number>;
}

function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = Math.floor(sorted.length / 2);
  return sorted.length % 2 === 1
    ? (sorted[middle] ?? 0)
    : ((sorted[middle - 1] ?? 0) + (sorted[middle] ?? 0)) / 2;
}

/** Runs the sides in turn, a warm-up round first, and prints the median of each with its spread, and the first as a ratio to the others. */
export async function compare(
  title: string,
  sides: readonly Side[],
  { rounds = 9, unit = "requests a second" } = {},
): Promise<void> {
  const results = sides.map(() => [] as number[]);
  for (let round = -1; round < rounds; round += 1) {
    for (const [index, side] of sides.entries()) {
      const value = await side.run();
      if (round >= 0) results[index]?.push(value);
    }
  }
  console.log(`\n${title}: median of ${rounds} alternating rounds, ${unit}`);
  const medians = results.map(median);
  sides.forEach(({ name }, index) => {
    const values = results[index] ?? [];
    console.log(
      `  ${name.padEnd(44)} ${Math.round(medians[index] ?? 0)
        .toString()
        .padStart(6)}  (${Math.round(Math.min(...values))}–${Math.round(Math.max(...values))})`,
    );
  });
  sides.slice(1).forEach(({ name }, index) => {
    const ratios = (results[0] ?? []).map(
      (value, round) => value / (results[index + 1]?.[round] ?? Number.NaN),
    );
    console.log(
      `  ratio to ${name}: ${((medians[0] ?? 0) / (medians[index + 1] ?? 1)).toFixed(2)} (rounds ${Math.min(...ratios).toFixed(2)}–${Math.max(...ratios).toFixed(2)})`,
    );
  });
}
