export { seededRandom } from "#core/incidents/seeded-random.ts";

/** Roughly normal, mean 0 and standard deviation 1: the sum of twelve uniform numbers, less six. */
export function roughlyNormal(random: () => number): number {
  let sum = -6;
  for (let count = 0; count < 12; count += 1) sum += random();
  return sum;
}
