import { ranked } from "./ranked.ts";

/** Up to so many points all slopes are computed: that is faster then, as measured. */
const directUpTo = 700;
/** So many slopes are looked at to guess where a rank lies. */
const sampleSize = 24_000;
/** A guess that leaves more slopes than this is no help. */
const mostBetween = 400_000;

const at = (list: Float64Array | Int32Array, place: number): number => list[place] ?? 0;

/** The slopes between all pairs of points at different x, in no order. */
function allSlopes(xs: Float64Array, ys: Float64Array): Float64Array {
  const n = xs.length;
  const slopes = new Float64Array((n * (n - 1)) / 2);
  let total = 0;
  for (let first = 0; first < n; first += 1) {
    const x = at(xs, first);
    const y = at(ys, first);
    for (let second = first + 1; second < n; second += 1) {
      const apart = at(xs, second) - x;
      if (apart !== 0) {
        slopes[total] = (at(ys, second) - y) / apart;
        total += 1;
      }
    }
  }
  return slopes.subarray(0, total);
}

/** The same numbers for the same points, whenever they are asked. */
function numbersFrom(seed: number): () => number {
  let state = seed;
  return () => (state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0) / 2 ** 32;
}

/**
 * How many pairs have their later value below the earlier one by more than `by`: a merge sort that counts. Values within a group (points at
 * one x) are not compared.
 *
 * @param starts the place at which each group begins, and the number of values
 */
function countFalls(values: Float64Array, starts: readonly number[], by: number): number {
  const spare = new Float64Array(values.length);
  const sortFrom = (low: number, high: number): number => {
    const from = starts[low] ?? 0;
    const to = starts[high] ?? 0;
    if (high - low === 1) {
      if (to - from > 1) values.subarray(from, to).sort();
      return 0;
    }
    const middle = (low + high) >> 1;
    const border = starts[middle] ?? 0;
    let found = sortFrom(low, middle) + sortFrom(middle, high);
    let left = from;
    for (let right = border; right < to; right += 1) {
      const value = at(values, right);
      while (left < border && at(values, left) - value <= by) left += 1;
      found += border - left;
    }
    let [one, other] = [from, border];
    for (let place = from; place < to; place += 1)
      spare[place] =
        other >= to || (one < border && at(values, one) <= at(values, other))
          ? at(values, one++)
          : at(values, other++);
    values.set(spare.subarray(from, to), from);
    return found;
  };
  return sortFrom(0, starts.length - 1);
}

/** A slope that no pair has, as a border between those that are less and those that are more. */
interface Border {
  slope: number;
  /** How many slopes are less. */
  below: number;
}

const isBetween = (low: Border, rank: number, high: Border) => low.below <= rank && rank < high.below;

/**
 * The slopes of all pairs of points, by their rank, without computing them all.
 *
 * A border is a slope t that no pair has. A pair's slope is less than t where y − t·x falls from the earlier point to the later: a merge sort
 * counts these. Two borders around a rank are guessed from some slopes. The pairs between them are those that stand in another order by
 * y − t·x at the one border than at the other, so a second merge sort lists them, and the rank is looked up among their slopes, which are
 * computed as everywhere. A border at which rounding could decide is moved a little; slope 0, which many pairs may have, is counted exactly.
 * Where no guess helps (most points on one line), all slopes are computed.
 *
 * O(n log n) for the usual series; the values are bit for bit those of all slopes sorted.
 *
 * Source: the counting is that of R. Cole, J. S. Salowe, W. L. Steiger, E. Szemerédi (1989), SIAM Journal on Computing 18:792–810; borders
 * guessed from a sample: J. Matoušek (1991), Information Processing Letters 39:183–187. *From memory.*
 *
 * @param xs any unit of time, in any order
 * @param ys the values at these
 */
export function slopeRanks(
  xs: Float64Array,
  ys: Float64Array,
): { total: number; at: (rank: number) => number } {
  const n = xs.length;
  if (n <= directUpTo) {
    const slopes = allSlopes(xs, ys);
    return { total: slopes.length, at: (rank) => ranked(slopes, rank, 0, slopes.length - 1) };
  }
  const order = Int32Array.from(xs, (_, place) => place).sort(
    (one, other) => at(xs, one) - at(xs, other) || one - other,
  );
  const x = Float64Array.from(order, (place) => at(xs, place) - at(xs, at(order, 0)));
  const y = Float64Array.from(order, (place) => at(ys, place));
  const starts = [0];
  for (let place = 1; place < n; place += 1) if (at(x, place) !== at(x, place - 1)) starts.push(place);
  starts.push(n);
  let total = (n * (n - 1)) / 2;
  starts.slice(1).forEach((end, group) => {
    const size = end - (starts[group] ?? 0);
    total -= (size * (size - 1)) / 2;
  });
  let all: Float64Array | null = null;
  const direct = (rank: number) => ranked((all ??= allSlopes(xs, ys)), rank, 0, total - 1);

  const [widest, highest] = [at(x, n - 1), y.reduce((most, value) => Math.max(most, Math.abs(value)), 0)];
  const heights = (slope: number) => y.map((value, place) => value - slope * at(x, place));
  const flat: Border = { slope: 0, below: countFalls(y.slice(), starts, 0) };
  const falling = flat.below;
  const notRising =
    total -
    countFalls(
      y.map((value) => -value),
      starts,
      0,
    );

  /** The border at a slope, moved by steps where rounding could decide about a pair; null where that does not help. */
  function borderNear(slope: number, step: number): Border | null {
    for (let [tries, moved, by] = [0, slope + step, step]; tries < 6; tries += 1, by *= 7, moved += by) {
      const doubt = 2 ** -48 * (highest + Math.abs(moved) * widest);
      const below = countFalls(heights(moved), starts, doubt);
      if (below === countFalls(heights(moved), starts, -doubt)) return { slope: moved, below };
    }
    return null;
  }

  let sample: Float64Array | null = null;
  function sampled(): Float64Array {
    if (sample) return sample;
    const random = numbersFrom(n);
    const found = new Float64Array(sampleSize);
    for (let place = 0; place < sampleSize;) {
      const [one, other] = [Math.floor(random() * n), Math.floor(random() * n)];
      const apart = at(x, other) - at(x, one);
      if (apart !== 0) found[place++] = (at(y, other) - at(y, one)) / apart;
    }
    return (sample = found.sort());
  }

  /** The slopes between two borders. */
  function between(low: Border, high: Border): Float64Array {
    const [atLow, atHigh] = [heights(low.slope), heights(high.slope)];
    let line = Int32Array.from(x, (_, place) => place).sort(
      (one, other) => at(atLow, one) - at(atLow, other) || at(atHigh, one) - at(atHigh, other),
    );
    const found = new Float64Array(high.below - low.below);
    let count = 0;
    let spare = new Int32Array(n);
    for (let width = 1; width < n; width *= 2) {
      for (let from = 0; from < n; from += 2 * width) {
        const border = Math.min(from + width, n);
        const to = Math.min(from + 2 * width, n);
        let [one, other] = [from, border];
        for (let place = from; place < to; place += 1) {
          if (other >= to || (one < border && at(atHigh, at(line, one)) <= at(atHigh, at(line, other)))) {
            spare[place] = at(line, one++);
            continue;
          }
          const later = at(line, other++);
          for (let before = one; before < border; before += 1) {
            const earlier = at(line, before);
            found[count++] = (at(y, later) - at(y, earlier)) / (at(x, later) - at(x, earlier));
          }
          spare[place] = later;
        }
      }
      [line, spare] = [spare, line];
    }
    return found;
  }

  /** Two borders around a rank with few slopes between them; null where none are found. */
  function bordersAround(rank: number): [Border, Border] | null {
    const values = sampled();
    const step = (2 ** -30 * (highest + 1)) / widest;
    for (let reach = 3 * Math.sqrt(sampleSize); reach < sampleSize; reach *= 4) {
      const guess = (rank / total) * sampleSize;
      const [from, to] = [Math.floor(guess - reach), Math.ceil(guess + reach)];
      if (from < 0 || to >= sampleSize) return null;
      // Slopes of 0 are counted already, and stay outside.
      const low =
        rank >= notRising && at(values, from) <= 0
          ? { slope: 0, below: notRising }
          : borderNear(at(values, from), -step);
      const high = rank < falling && at(values, to) >= 0 ? flat : borderNear(at(values, to), step);
      if (!low || !high || high.below - low.below > mostBetween) return null;
      if (isBetween(low, rank, high)) return [low, high];
    }
    return null;
  }

  const isFlat = (rank: number) => rank >= falling && rank < notRising;
  // Ranks beside each other are asked one after the other.
  let last: { low: Border; high: Border; found: Float64Array } | null = null;
  return {
    total,
    at(rank) {
      if (isFlat(rank)) return 0;
      if (last === null || !isBetween(last.low, rank, last.high)) {
        const borders = all ? null : bordersAround(rank);
        if (!borders) return direct(rank);
        const [low, high] = borders;
        last = { low, high, found: between(low, high) };
      }
      const { low, found } = last;
      return ranked(found, rank - low.below, 0, found.length - 1);
    },
  };
}
