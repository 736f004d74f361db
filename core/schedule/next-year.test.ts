import fc from "fast-check";
import { expect, it } from "vitest";
import { dateOfDay, weekdayOf } from "../dates/day-number.ts";
import { draftOfNextYear, nameOfNextYear, nextGrade, sameWeekdayNextYear, withinYear } from "./next-year.ts";

const year = {
  ...{ name: "2026–27", fromOn: "2026-09-08", toOn: "2027-06-18" },
  closures: [{ name: "Winter break", fromOn: "2026-12-21", toOn: "2027-01-01" }],
  reportingPeriods: [
    { name: "Trimester 1", fromOn: "2026-09-08", toOn: "2026-11-25" },
    { name: "Trimester 2", fromOn: "2026-11-30", toOn: "2027-03-12" },
  ],
};

it("is drafted 52 weeks later, every day on its weekday, also over a leap day", () => {
  expect(draftOfNextYear(year)).toEqual({
    ...{ name: "2027–28", fromOn: "2027-09-07", toOn: "2028-06-16" },
    closures: [{ name: "Winter break", fromOn: "2027-12-20", toOn: "2027-12-31" }],
    reportingPeriods: [
      { name: "Trimester 1", fromOn: "2027-09-07", toOn: "2027-11-24" },
      { name: "Trimester 2", fromOn: "2027-11-29", toOn: "2028-03-10" },
    ],
  });
  fc.assert(
    fc.property(fc.integer({ min: 18_000, max: 30_000 }), (day) => {
      const date = dateOfDay(day);
      expect(weekdayOf(sameWeekdayNextYear(date))).toBe(weekdayOf(date));
    }),
  );
});

it("counts the years in a name on, and nothing else", () => {
  expect(nameOfNextYear("2026-27")).toBe("2027-28");
  expect(nameOfNextYear("2026/2027")).toBe("2027/2028");
  expect(nameOfNextYear("School year 2026")).toBe("School year 2027");
  expect(nameOfNextYear("2099–00")).toBe("2100–01");
  expect(nameOfNextYear("Trimester 2")).toBe("Trimester 2");
  expect(nameOfNextYear("Room 20261")).toBe("Room 20261");
});

it("counts a grade on where it is a number", () => {
  expect(["K", "4", "12", "PK", "", "4/5"].map(nextGrade)).toEqual(["1", "5", "12", "PK", "", "4/5"]);
});

it("leaves out what lies outside of dates that were changed", () => {
  const draft = draftOfNextYear(year);
  expect(withinYear(draft.reportingPeriods, { fromOn: "2027-09-07", toOn: "2027-12-31" })).toHaveLength(1);
});
