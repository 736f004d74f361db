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
      "points: 3, Sep 7, 2026 to Sep 13, 2026",
      "median: 30%",
      "lowest to highest: 30 to 40%",
      "all together: 33% (10 of 30)",
      "trend: Level",
      "last: 30%",
    ]);
    expect(sideRows([], "percent")).toEqual([["points", "none"]]);
    expect(sideRows(before.slice(0, 1), "percent")).toContainEqual(["trend", "none: one day only"]);
    const rows = sideRows(all, "percent", (phase) => `“${phase}”`).map(([what, said]) =>
      plain(`${what}: ${said}`),
    );
    expect(rows).toContain("trend: none: the points are from more than one phase");
    expect(rows).toEqual(expect.arrayContaining(["median, “first”: 30%", "median, “second”: 60%"]));
    expect(rows.join()).not.toContain("all together");
  });
});

describe("two sides in sentences", () => {
  const side = (points: readonly GoalPoint[], title = "Coins", unit = "percent") => ({ points, unit, title });
  const increase = { direction: "increase" as const };

  it("say medians, and comparisons where a later stretch of one goal follows", () => {
    expect(plain(sidesSentence(side(before), side(after), increase))).toBe(
      "Median 30% of 3 points on the left, 60% of 3 on the right: +30 points; later points beat earlier points in 100% of 9 comparisons (95% interval 50–100).",
    );
    expect(plain(sidesSentence(side(after), side(before), increase))).toMatch(/: −30 points\.$/);
  });

  it("never put a baseline and a phase together", () => {
    expect(sidesSentence(side(all), side(after), increase)).toBe(
      "A side spans more than one phase. Choose one phase on each side to compare them.",
    );
  });

  it("say of two goals how each changed by itself, in its own unit", () => {
    const words = run("2026-09-07", "first", [40, 42, 44, 50, 52, 54]);
    expect(plain(sidesSentence(side(all), side(words, "Reading", "per minute"), null))).toBe(
      "“Coins”: 30% → 60%, +30 points (median of the first phase to the last). “Reading”: 42 a minute → 52 a minute, +10 (median of the first 3 points to the last 3).",
    );
    expect(plain(sidesSentence(side(before), side(words, "Reading", "per minute"), null))).toContain(
      "“Coins”: 3 points, too few to tell a change.",
    );
    expect(sidesSentence(side([]), side(words), null)).toBe(
      "One side has no points, so there is nothing to compare.",
    );
  });
});
