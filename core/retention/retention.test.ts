import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { dateOfDay, dayNumber } from "../dates/day-number.ts";
import { againstErasing } from "./against-erasing.ts";
import { daysUntil, inspectBy } from "./inspect-by.ts";
import { keptUntil } from "./kept-until.ts";

describe("the days of a request to inspect", () => {
  // 34 CFR 99.10(b): "in no case more than 45 days after it has received the request".
  it("end 45 days after it was received, weekends and the change of clocks included", () => {
    expect(inspectBy("2026-10-01")).toBe("2026-11-15");
    expect(inspectBy("2027-02-20")).toBe("2027-04-06");
    expect(daysUntil("2026-11-10", inspectBy("2026-10-01"))).toBe(5);
    expect(daysUntil("2026-11-20", inspectBy("2026-10-01"))).toBe(-5);
  });
});

describe("for how long a record is kept", () => {
  const rule = (years: number) => ({ years, source: "Rule of the state" });

  it("is counted from the day the student left; a kind without a rule has no day", () => {
    expect(keptUntil("2027-06-11", { jots: rule(1), record: rule(5) })).toEqual({
      jots: "2028-06-11",
      record: "2032-06-11",
    });
    expect(keptUntil("2028-02-29", { record: rule(3) })).toEqual({ record: "2031-02-28" });
    expect(keptUntil("2028-02-29", { record: rule(4) })).toEqual({ record: "2032-02-29" });
    expect(keptUntil("2027-06-11", {})).toEqual({});
  });

  it("is, for the whole record, as long as its longest part", () => {
    expect(keptUntil("2027-06-11", { incidents: rule(7), record: rule(5) })).toEqual({
      incidents: "2034-06-11",
      record: "2034-06-11",
    });
  });
});

describe("erasing", () => {
  const free = { leftOn: "2026-06-12", holds: 0, openRequests: 0, isPlanned: false };

  it("is free only of a student who left, without a hold, a request or another plan", () => {
    expect(againstErasing(free, "2026-12-02")).toEqual([]);
    expect(againstErasing({ ...free, leftOn: null }, "2026-12-02")).toEqual(["still at the school"]);
    expect(againstErasing({ ...free, leftOn: "2026-12-03" }, "2026-12-02")).toEqual(["still at the school"]);
    expect(againstErasing({ ...free, holds: 1, openRequests: 2, isPlanned: true }, "2026-12-02")).toEqual([
      "on hold",
      "request open",
      "planned already",
    ]);
  });

  it("of 45 days none is lost, whatever the day", () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 60_000 }), (day) => {
        expect(daysUntil(dateOfDay(day), inspectBy(dateOfDay(day)))).toBe(45);
        expect(dayNumber(inspectBy(dateOfDay(day)))).toBe(day + 45);
      }),
    );
  });
});
