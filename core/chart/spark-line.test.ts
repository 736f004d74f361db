import { describe, expect, it } from "vitest";
import { pointSize } from "./chart.ts";
import { sparkLine } from "./spark-line.ts";

describe("sparkLine", () => {
  const percent = { criterion: 80, unit: "percent", width: 108, height: 26 };
  const at = (date: string, value: number, phase = "a") => ({ date, value, phase });

  it("has time to scale, percentages on a scale of their own, and no line across a change of phase", () => {
    const shape = sparkLine([at("2026-09-01", 0), at("2026-09-02", 50), at("2026-09-11", 100, "b")], percent);
    // 100 px of time over ten days from 2 px on; 20 px of height, 3 px from either edge.
    expect(shape.path).toBe("M2 23L12 13M102 3");
    expect(shape).toMatchObject({ last: [102, 3], criterion: 7 });
  });

  it("fills what other measures reach, the criterion within it", () => {
    const shape = sparkLine([at("2026-09-01", 11), at("2026-09-02", 22)], {
      ...percent,
      unit: "per minute",
      criterion: 44,
    });
    expect(shape.criterion).toBeCloseTo(23 - 20 / 1.1, 1);
    expect(shape.path).toMatch(/^M2 18/);
  });

  it("stands at the right where all was measured on one day, and is empty where nothing was", () => {
    expect(sparkLine([at("2026-09-01", 40), at("2026-09-01", 60)], percent).last?.[0]).toBe(102);
    expect(sparkLine([], percent)).toEqual({ width: 108, height: 26, path: "", last: null, criterion: null });
  });
});

describe("pointSize", () => {
  const chart = (points: number, toDay: number) => ({
    runs: [Array.from({ length: points }, (_, day) => ({ day }))] as never,
    fromDay: 0,
    toDay,
  });

  it("is full for as many as have room, smaller for more in view, and never too small to see", () => {
    expect(pointSize(chart(120, 119))).toBe(1);
    expect(pointSize(chart(480, 479))).toBe(0.5);
    expect(pointSize(chart(480, 60))).toBe(1);
    expect(pointSize(chart(5000, 4999))).toBe(0.4);
  });
});
