import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { valueAxis } from "./value-axis.ts";

const labels = (values: number[], unit: string) =>
  valueAxis(values, unit).ticks.map(({ label }) => label.replaceAll("\u00a0", " "));

describe("the upright axis", () => {
  it("is 0 to 100 for percentages, whatever the values", () => {
    expect(labels([3], "percent")).toEqual(["0", "20", "40", "60", "80", "100"]);
  });

  it("has round steps in the unit of the measure", () => {
    expect(labels([9], "count")).toEqual(["0", "2", "4", "6", "8", "10"]);
    expect(labels([600, 180], "seconds")).toEqual(["0", "2 min", "4 min", "6 min", "8 min", "10 min"]);
    expect(labels([], "count")).toEqual(["0", "1"]);
  });

  it("holds every value, with few ticks", () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0, max: 1e6, noNaN: true }), { minLength: 1 }),
        fc.constantFrom("count", "per minute", "seconds", "minutes"),
        (values, unit) => {
          const axis = valueAxis(values, unit);
          expect(axis.high).toBeGreaterThanOrEqual(Math.max(...values));
          expect(axis.ticks.length).toBeLessThanOrEqual(8);
        },
      ),
    );
  });
});
