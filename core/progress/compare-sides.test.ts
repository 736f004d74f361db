import { describe, expect, it } from "vitest";
import { chosenPoints, sideRows, sidesSentence } from "./compare-sides.ts";
import { dateOfDay, dayNumber } from "../dates/day-number.ts";
import type { GoalPoint } from "./points.ts";

const run = (from: string, phase: string, values: readonly number[], setting = "classroom"): GoalPoint[] =>
  values.map((value, at) => {
    const date = dateOfDay(dayNumber(from) + 3 * at);
    const entry = {
      ...{ entryId: `${from} ${at}`, date, value, numerator: value / 10, denominator: 10, setting },
      purpose: "probe" as const,
    };
    return {
      ...{ date, value, phase, entry, entries: [entry], settings: [setting], people: [] },
      ...{ isShort: false, isOpen: false },
    };
  });
const before = run("2026-09-07", "first", [30, 40, 30]);
const after = run("2026-10-05", "second", [60, 50, 70], "hall");
const all = [...before, ...after];
const plain = (text: string) => text.replaceAll("\u00a0", " ");

describe("the points that are chosen", () => {
  it("are those of a phase, a setting, or so many days up to the last one", () => {
    expect(chosenPoints(all, { span: "all", setting: "" })).toEqual(all);
    expect(chosenPoints(all, { span: { phase: "first" }, setting: "" })).toEqual(before);
    expect(chosenPoints(all, { span: "all", setting: "hall" })).toEqual(after);
    expect(chosenPoints(all, { span: { days: 4 }, setting: "" }).map(({ value }) => value)).toEqual([50, 70]);
    expect(chosenPoints(all, { span: { days: 4 }, setting: "classroom" })).toEqual([]);
    expect(chosenPoints([], { span: { days: 4 }, setting: "" })).toEqual([]);
  });
});

describe("one side in rows", () => {
  it("pools counts and says the trend over what is chosen", () => {
    expect(sideRows(before, "percent").map(([what, said]) => plain(`${what}: ${said}`))).toEqual([
      "points: 3, 7 Sep 2026 to 13 Sep 2026",
      "median: 30 %",
      "lowest to highest: 30 to 40 %",
      "all together: 33 % (10 of 30)",
      "trend: Level",
      "last: 30 %",
    ]);
    expect(sideRows([], "percent")).toEqual([["points", "none"]]);
    expect(sideRows(before.slice(0, 1), "percent")).toContainEqual(["trend", "none: one day only"]);
    expect(sideRows(all, "percent")).toContainEqual(["trend", "none: they are of more than one phase"]);
  });
});

describe("two sides in a sentence", () => {
  const side = (points: readonly GoalPoint[], unit = "percent") => ({ points, unit });
  const increase = { direction: "increase" as const };

  it("says medians, and pairs where a later stretch of one goal follows", () => {
    expect(plain(sidesSentence(side(before), side(after), increase))).toBe(
      "Median 30 % of 3 points on the left, 60 % of 3 on the right: +30 points; in 100 % of the 9 pairs of a point before and one after, the one after was better (95 % interval 50–100).",
    );
    expect(plain(sidesSentence(side(after), side(before), increase))).toMatch(/: −30 points\.$/);
    expect(plain(sidesSentence(side(before), side(after), null))).toMatch(/: \+30 points\.$/);
    expect(plain(sidesSentence(side(before.slice(1)), side(after), increase))).toMatch(/points\.$/);
  });

  it("compares no number of different units, and nothing with nothing", () => {
    expect(sidesSentence(side(before), side(after, "seconds"), null)).toContain("different units");
    expect(sidesSentence(side([]), side(after), null)).toContain("nothing to compare");
  });
});
