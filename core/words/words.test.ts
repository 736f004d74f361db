import { describe, expect, it } from "vitest";
import { slopeWords } from "../progress/standing.ts";
import { entryLine } from "../report/entry-line.ts";
import { dateWithYear, daysAgo, longDate, shortDate } from "./dates.ts";
import { percentWithCounts, points } from "./numbers.ts";

describe("dates in words", () => {
  it("are the same on every machine", () => {
    expect([shortDate("2026-11-24"), longDate("2026-11-24"), dateWithYear("2027-02-12")]).toEqual([
      "Tue 24 Nov",
      "Tuesday 24 November",
      "12 Feb 2027",
    ]);
    expect(shortDate("1969-12-31")).toBe("Wed 31 Dec");
  });

  it("say how long ago", () => {
    const from = (date: string) => daysAgo(date, "2026-11-24");
    expect(["2026-11-24", "2026-11-23", "2026-11-04", "2026-11-25", "2026-12-01"].map(from)).toEqual([
      "today",
      "yesterday",
      "20 days ago",
      "tomorrow",
      "in 7 days",
    ]);
  });
});

describe("figures in words", () => {
  it("never give a percentage without the counts it came from", () => {
    expect(percentWithCounts({ value: 70, numerator: 7, denominator: 10 })).toBe(
      "70\u00a0% (7\u00a0of\u00a010)",
    );
    expect(percentWithCounts({ value: 200 / 3, numerator: 2, denominator: 3 })).toBe(
      "67\u00a0% (2\u00a0of\u00a03)",
    );
    expect(percentWithCounts({ value: null, numerator: null, denominator: null })).toBe("not scored");
  });

  it("round a slope to the half point while it is small", () => {
    expect([0.2, 0.5, 1, 5.4, 5.6, -2.3, 31.2].map(points)).toEqual(["0", "½", "1", "5½", "5½", "2½", "31"]);
    expect([5.5, -1, 0.1, -0.5, null].map(slopeWords)).toEqual([
      "Rising 5½ points a week",
      "Falling 1 point a week",
      "Level",
      "Falling ½ point a week",
      null,
    ]);
  });

  it("make the line of the report, with the note as it was written", () => {
    expect(
      entryLine(
        "Two-digit subtraction",
        { value: 70, numerator: 7, denominator: 10 },
        " Checked two answers. ",
      ),
    ).toEqual({
      sentence: "Two-digit subtraction: 7\u00a0of\u00a010 correct (70\u00a0%).",
      note: "Checked two answers.",
    });
    expect(
      entryLine("Letter names", { value: null, numerator: null, denominator: null }, null).sentence,
    ).toBe("Letter names: not measured.");
  });
});
