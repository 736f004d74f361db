import fc from "fast-check";
import { expect, it } from "vitest";
import { localMoment, momentOfLocal } from "./school-time.ts";

const zone = "America/Los_Angeles";

it("finds the moment of a local time, in winter, in summer, and where the clocks are moved", () => {
  const at = (local: string) => new Date(momentOfLocal(zone, local)).toISOString();
  expect(at("2026-11-24T10:20")).toBe("2026-11-24T18:20:00.000Z");
  expect(at("2026-09-24T10:20:05")).toBe("2026-09-24T17:20:05.000Z");
  // Half past one comes twice on the day the clocks go back, and half past two not at all in spring.
  expect(at("2026-11-01T01:30")).toBe("2026-11-01T08:30:00.000Z");
  expect(at("2027-03-14T02:30")).toBe("2027-03-14T10:30:00.000Z");
});

it("is the other way round of what the school's clock shows, anywhere", () => {
  const zones = fc.constantFrom(zone, "Europe/London", "Australia/Lord_Howe", "Asia/Kathmandu", "UTC");
  const moments = fc
    .integer({ min: Date.UTC(2020, 0), max: Date.UTC(2035, 0) })
    .map((at) => at - (at % 1000));
  fc.assert(
    fc.property(zones, moments, (timeZone, at) => {
      const local = localMoment(timeZone, at);
      expect(localMoment(timeZone, momentOfLocal(timeZone, local))).toBe(local);
      expect(momentOfLocal(timeZone, local)).toBeLessThanOrEqual(at);
    }),
    { numRuns: 300 },
  );
});
