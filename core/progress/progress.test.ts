import { describe, expect, it } from "vitest";
import { aimAt, aimLine } from "./aim-line.ts";
import { dateOfDay, dayNumber } from "../dates/day-number.ts";
import { fourPoint } from "./four-point.ts";
import { type Observation, progress, type Target } from "./progress.ts";

const target: Target = { direction: "increase", criterion: 80, window: { k: 3, n: 4 }, due: "2026-12-11" };
const at = (date: string, value: number, phase = "practice"): Observation => ({ date, value, phase });

describe("dayNumber", () => {
  it("counts calendar days, over a change of clocks and a leap day too", () => {
    expect(dayNumber("1970-01-01")).toBe(0);
    expect(dayNumber("2026-11-02") - dayNumber("2026-10-31")).toBe(2);
    expect(dayNumber("2028-03-01") - dayNumber("2028-02-28")).toBe(2);
    expect(dateOfDay(dayNumber("2026-11-24"))).toBe("2026-11-24");
  });

  it.each(["2026-02-30", "2026-1-1", "26-01-01", "", "2026-13-01"])("knows that %o is no date", (text) => {
    expect(() => dayNumber(text)).toThrow(RangeError);
  });
});

describe("aimLine", () => {
  const baseline = [at("2026-09-14", 20), at("2026-09-21", 30), at("2026-09-18", 40)];

  it("runs from the last baseline date at the median baseline value to the due date at the criterion", () => {
    expect(aimLine(baseline, 80, "2026-11-30")).toEqual({
      from: "2026-09-21",
      fromValue: 30,
      to: "2026-11-30",
      toValue: 80,
      slopePerWeek: 5,
    });
  });

  it("stays at the criterion after the due date", () => {
    const aim = aimLine(baseline, 80, "2026-11-30");
    expect(aim && aimAt(aim, "2026-10-26")).toBe(55);
    expect(aim && aimAt(aim, "2027-03-01")).toBe(80);
  });

  it("is not there without a baseline, a criterion, or a due date after the baseline", () => {
    expect(aimLine([], 80, "2026-11-30")).toBeNull();
    expect(aimLine(baseline, null, "2026-11-30")).toBeNull();
    expect(aimLine(baseline, 80, null)).toBeNull();
    expect(aimLine(baseline, 80, "2026-09-21")).toBeNull();
  });
});

describe("fourPoint", () => {
  const aim = { from: "2026-09-01", fromValue: 50, to: "2026-12-01", toValue: 50, slopePerWeek: 0 };
  const values = (...list: number[]) =>
    list.map((value, index) => ({ date: dateOfDay(dayNumber("2026-10-01") + index), value }));

  it("speaks only when all of the last four lie strictly on one side", () => {
    expect(fourPoint(values(10, 60, 60, 60, 60), aim, "increase")).toBe("ahead");
    expect(fourPoint(values(90, 40, 40, 40, 40), aim, "increase")).toBe("behind");
    expect(fourPoint(values(60, 60, 60, 50), aim, "increase")).toBe("mixed");
    expect(fourPoint(values(60, 60, 60), aim, "increase")).toBe("too-few");
  });

  it("turns round where less is better", () => {
    expect(fourPoint(values(60, 60, 60, 60), aim, "decrease")).toBe("behind");
    expect(fourPoint(values(40, 40, 40, 40), aim, "decrease")).toBe("ahead");
  });
});

describe("progress", () => {
  it("draws the trend over the latest phase that is not the baseline, on days since the series began", () => {
    const figures = progress(
      [
        at("2026-10-08", 50, "second"),
        at("2026-09-14", 20, "baseline"),
        at("2026-10-01", 40, "second"),
        at("2026-09-21", 90, "first"),
        at("2026-09-22", 10, "first"),
      ],
      target,
    );
    expect(figures).toMatchObject({
      n: 5,
      from: "2026-09-14",
      to: "2026-10-08",
      currentPhase: "second",
      nInPhase: 2,
    });
    expect(figures.theilSen?.slope).toBeCloseTo(10 / 7, 12);
    expect(figures.theilSen?.intercept).toBeCloseTo(45 - (10 / 7) * 20.5, 9);
  });

  it("takes the baseline for the phase when there is no other, and keeps it out of mastery", () => {
    const figures = progress(
      [at("2026-09-14", 90, "baseline"), at("2026-09-15", 90, "baseline"), at("2026-09-16", 90, "baseline")],
      target,
    );
    expect(figures).toMatchObject({
      currentPhase: "baseline",
      nInPhase: 3,
      mastery: { met: false, inWindow: 0, needed: 3 },
    });
  });

  it("says nothing of an empty series", () => {
    expect(progress([], target)).toMatchObject({
      n: 0,
      from: null,
      to: null,
      currentPhase: null,
      theilSen: null,
      aim: null,
      fourPoint: null,
    });
  });
});
