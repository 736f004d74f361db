import { describe, expect, it } from "vitest";
import { begunPeriods, periodToWrite, reportWeek } from "./report-week.ts";

const reportingPeriods = [
  { name: "Trimester 1", fromOn: "2026-09-08", toOn: "2026-12-04" },
  { name: "Trimester 2", fromOn: "2026-12-07", toOn: "2027-03-12" },
];

describe("the reporting period whose statements are written", () => {
  it.each([
    ["the one that runs", "2026-11-24", "Trimester 1"],
    ["on its last day still", "2026-12-04", "Trimester 1"],
    ["the one that just ended, when the next has begun", "2026-12-08", "Trimester 1"],
    ["for three weeks", "2026-12-25", "Trimester 1"],
    ["then the one that runs", "2026-12-26", "Trimester 2"],
    ["the last one when none runs", "2027-07-01", "Trimester 2"],
    ["none before the first", "2026-09-01", undefined],
  ])("is %s", (_, today, name) => {
    expect(periodToWrite({ reportingPeriods }, today)?.name).toBe(name);
  });

  it.each([
    ["not three weeks before its end", "2026-11-13", null],
    ["from two weeks before", "2026-11-20", "Trimester 1"],
    ["to three weeks after", "2026-12-25", "Trimester 1"],
    ["and not longer", "2026-12-26", null],
  ])("are reminded of %s", (_, today, name) => {
    expect(reportWeek({ reportingPeriods }, today)?.name ?? null).toBe(name);
  });

  it("can be any that has begun, the newest first", () => {
    expect(begunPeriods({ reportingPeriods }, "2027-01-10").map(({ name }) => name)).toEqual([
      "Trimester 2",
      "Trimester 1",
    ]);
  });
});
