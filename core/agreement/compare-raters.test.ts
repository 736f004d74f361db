import { describe, expect, it } from "vitest";
import { compareRaters, type Rating } from "./compare-raters.ts";

const rating = (id: string, on: string, level: number, more: Partial<Rating> = {}): Rating => ({
  ...{ rater: { id, name: id.toUpperCase() }, own: false, on, at: "10:00" },
  ...{ value: level, units: { level }, words: `level ${level}` },
  ...more,
});

describe("raters", () => {
  it("are compared only where there are two", () => {
    expect(compareRaters([rating("a", "2026-11-02", 1), rating("a", "2026-11-03", 2)])).toBeNull();
    expect(compareRaters([])).toBeNull();
  });

  it("have a column each, agree by pairs of levels, and a mean of days", () => {
    const compared = compareRaters([
      rating("a", "2026-11-02", 1),
      rating("b", "2026-11-02", 1),
      rating("a", "2026-11-03", 2),
      rating("b", "2026-11-03", 3),
      rating("c", "2026-11-03", 4),
      rating("a", "2026-11-04", 4),
    ]);
    expect(compared?.columns).toEqual([
      { id: "a", name: "A", own: false, n: 3, mean: 7 / 3 },
      { id: "b", name: "B", own: false, n: 2, mean: 2 },
      { id: "c", name: "C", own: false, n: 1, mean: 4 },
    ]);
    // Worked by hand: one pair on the first day is equal; of three on the second (2–3, 2–4, 3–4) none is, two are one apart.
    expect(compared?.agreement).toEqual({ days: 2, compared: 4, same: 1, near: 3 });
    expect(compared?.days).toEqual([
      { on: "2026-11-03", words: ["level 2", "level 3", "level 4"] },
      { on: "2026-11-02", words: ["level 1", "level 1", null] },
    ]);
    // The days' means are 1, 3 and 4.
    expect(compared?.mean).toBeCloseTo(8 / 3, 10);
  });

  it("count once a day, by the last rating", () => {
    const compared = compareRaters([
      rating("a", "2026-11-02", 4, { at: "14:00" }),
      rating("a", "2026-11-02", 1, { at: "09:00" }),
      rating("b", "2026-11-02", 4),
    ]);
    expect(compared?.agreement).toEqual({ days: 1, compared: 1, same: 1, near: 1 });
  });

  it("stand after the student's own rating, which is in no agreement and no mean", () => {
    const compared = compareRaters([
      rating("a", "2026-11-02", 2),
      rating("a", "2026-11-03", 2),
      rating("a", "2026-11-02", 4, { own: true }),
    ]);
    expect(compared?.columns.map(({ id, mean }) => [id, mean])).toEqual([
      ["own", 4],
      ["a", 2],
    ]);
    expect(compared?.agreement).toBeNull();
    expect(compared?.mean).toBe(2);
    expect(compared?.days).toEqual([{ on: "2026-11-02", words: ["level 4", "level 2"] }]);
  });

  it("are compared criterion by criterion of a rubric, as far as both scored it", () => {
    const scored = (id: string, units: Record<string, number>) =>
      rating(id, "2026-11-02", 0, { units, value: 50 });
    expect(
      compareRaters([scored("a", { ideas: 3, order: 2, spelling: 1 }), scored("b", { ideas: 3, order: 4 })])
        ?.agreement,
    ).toEqual({ days: 1, compared: 2, same: 1, near: 1 });
  });
});
