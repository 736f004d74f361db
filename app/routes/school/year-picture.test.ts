import { describe, expect, it } from "vitest";
import { daysInSession, type SchoolCalendar } from "#core/schedule/calendar.ts";
import { yearPicture } from "./year-picture.tsx";

const year = { name: "2026–27", fromOn: "2026-09-08", toOn: "2027-06-18" };
const calendar: SchoolCalendar = {
  schoolDays: [1, 2, 3, 4, 5],
  years: [year],
  closures: [{ name: "Harbor day", fromOn: "2026-11-11", toOn: "2026-11-11" }],
  reportingPeriods: [
    { name: "Trimester 1", fromOn: "2026-09-08", toOn: "2026-12-04" },
    { name: "Trimester 2", fromOn: "2026-12-07", toOn: "2027-03-12" },
    { name: "another year's", fromOn: "2028-01-01", toOn: "2028-02-01" },
  ],
};
const picture = yearPicture(calendar, year, "2026-11-24");
const november = picture.months[2];
const day = (number: number) => november?.days.find((one) => one.day === number);

describe("the picture of a school year", () => {
  it("has one line a month, each with its own days", () => {
    expect(picture.months.map(({ name }) => name).join(" ")).toBe("Sep Oct Nov Dec Jan Feb Mar Apr May Jun");
    expect(picture.months[0]?.days[0]).toMatchObject({ day: 8, kind: "session" });
    expect(november?.days).toHaveLength(30);
  });

  it("tells days in session from closures and free weekdays, and says why in words", () => {
    expect(day(11)).toMatchObject({
      kind: "closed",
      said: "Wednesday, November 11, Harbor day, Trimester 1",
    });
    expect(day(14)).toMatchObject({ kind: "free" });
    expect(day(24)).toMatchObject({ kind: "session", today: true, period: 0 });
    expect(day(23)).toMatchObject({ today: false, monday: true });
  });

  it("counts as many days as the calendar, and only this year's periods", () => {
    const shown = picture.months.flatMap(({ days }) => days).filter(({ kind }) => kind === "session");
    expect(shown).toHaveLength(daysInSession(calendar, year.fromOn, year.toOn).length);
    expect(picture.periods.map(({ name }) => name)).toEqual(["Trimester 1", "Trimester 2"]);
    expect(picture.periods[0]?.days).toBe(daysInSession(calendar, "2026-09-08", "2026-12-04").length);
  });
});
