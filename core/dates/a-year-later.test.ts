import fc from "fast-check";
import { expect, it } from "vitest";
import { dateOfDay, dayNumber } from "./day-number.ts";
import { aYearLater } from "./a-year-later.ts";

it("is the same date of the next year, in any time zone; 29 February becomes the 28th", () => {
  expect(aYearLater("2027-03-14")).toBe("2028-03-14");
  expect(aYearLater("2028-02-29")).toBe("2029-02-28");
  expect(aYearLater("2027-12-31")).toBe("2028-12-31");
  fc.assert(
    fc.property(fc.integer({ min: 10_000, max: 30_000 }), (day) => {
      const days = dayNumber(aYearLater(dateOfDay(day))) - day;
      expect([365, 366]).toContain(days);
    }),
  );
});
