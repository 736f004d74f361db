/** A small seeded source of numbers in 0 … 1: the same seed tells the same story on every machine (mulberry32). */
export function seededRandom(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296;
  };
}

/** Roughly normal, mean 0 and standard deviation 1: the sum of twelve uniform numbers, less six. */
export function roughlyNormal(random: () => number): number {
  let sum = -6;
  for (let count = 0; count < 12; count += 1) sum += random();
  return sum;
}
