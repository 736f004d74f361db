import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { slopeRanks } from "./slope-ranks.ts";

/** All slopes, sorted. */
function sortedSlopes(xs: readonly number[], ys: readonly number[]): Float64Array {
  const slopes: number[] = [];
  xs.forEach((x, one) => {
    for (let other = one + 1; other < xs.length; other += 1)
      if (xs[other] !== x) slopes.push(((ys[other] ?? 0) - (ys[one] ?? 0)) / ((xs[other] ?? 0) - x));
  });
  return Float64Array.from(slopes).sort();
}

const places = (total: number) =>
  [0, 0.001, 0.025, 0.3, 0.5, 0.7, 0.975, 1].map((part) => Math.round(part * (total - 1)));

function expectSame(xs: readonly number[], ys: readonly number[]): void {
  const wanted = sortedSlopes(xs, ys);
  const found = slopeRanks(Float64Array.from(xs), Float64Array.from(ys));
  expect(found.total).toBe(wanted.length);
  for (const rank of places(wanted.length)) expect(found.at(rank) + 0).toBe((wanted[rank] ?? 0) + 0);
}

const days = fc.array(fc.integer({ min: 0, max: 180 }), { minLength: 701, maxLength: 900 });
const valuesOf = {
  "percentages with many ties": (random: () => number) => 20 * Math.floor(6 * random()),
  "thirds, which no binary number is": (random: () => number) => (100 / 3) * Math.floor(4 * random()),
  "rates with decimals": (random: () => number) => Math.round(1000 * random()) / 10,
  "mostly one value": (random: () => number) => (random() < 0.9 ? 100 : 80),
  "seconds of any length": (random: () => number) => 1e4 * random(),
};

describe("the slopes of pairs by rank", () => {
  it.each(Object.entries(valuesOf))("are those of all slopes sorted: %s", (_, value) => {
    fc.assert(
      fc.property(
        days,
        fc.infiniteStream(fc.double({ min: 0, max: 0.999_999, noNaN: true })),
        (xs, stream) => {
          const random = () => Number(stream.next().value);
          const ys = xs.map(() => value(random));
          expectSame(xs, ys);
          expectSame(
            xs,
            ys.map((y, place) => y + (xs[place] ?? 0) / 7),
          );
        },
      ),
      { numRuns: 5 },
    );
  });

  it("are right where all points are on one line, or at two days", () => {
    const xs = Array.from({ length: 800 }, (_, place) => place);
    expectSame(
      xs,
      xs.map((x) => 3 * x),
    );
    expectSame(
      xs,
      xs.map(() => 50),
    );
    expectSame(
      xs.map((x) => x % 2),
      xs.map((x) => x % 7),
    );
  });

  it("are found without all of them where there are many points", () => {
    let compared = 0;
    const xs = Float64Array.from({ length: 3000 }, (_, place) => Math.floor(place / 12));
    const ys = Float64Array.from(xs, (_, place) => 10 * Math.floor((Math.sin(place * place) + 1) * 4));
    const watched = new Proxy(ys, {
      get(list, key) {
        compared += 1;
        const value: unknown = Reflect.get(list, key, list);
        return typeof value === "function" ? (value.bind(list) as unknown) : value;
      },
    });
    const { total, at } = slopeRanks(xs, watched);
    const before = compared;
    for (const part of [0.03, 0.5, 0.97]) at(Math.floor(part * total));
    // The list that was given is read by no search: only where all slopes are computed.
    expect(compared).toBe(before);
  });
});
