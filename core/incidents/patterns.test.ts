import { describe, expect, it } from "vitest";
import { observedDays } from "./observed-days.ts";
import { type PatternIncident, patternsOf } from "./patterns.ts";
import { starterBands } from "./lengths.ts";

const calendar = {
  schoolDays: [1, 2, 3, 4, 5],
  years: [],
  closures: [{ name: "holiday", fromOn: "2026-11-11", toOn: "2026-11-11" }],
  reportingPeriods: [],
};
const none = { absences: [], notObserved: [], none: [] };

describe("observed school days", () => {
  // Monday 9 to Sunday 22 November 2026.
  const span = { from: "2026-11-09", to: "2026-11-22" };
  it("are those in session, less absences and days that nobody observed", () => {
    expect(observedDays(calendar, span, none, new Set()).days).toHaveLength(9);
    const said = {
      absences: ["2026-11-10"],
      notObserved: ["2026-11-13"],
      none: ["2026-11-09", "2026-11-12"],
    };
    const { days, silent } = observedDays(calendar, span, said, new Set(["2026-11-16"]));
    expect(days).toHaveLength(7);
    // Two days said none, one had an incident: of four nobody wrote anything.
    expect(silent).toBe(4);
  });

  it("include a day with an incident, whatever else was said of it", () => {
    const { days } = observedDays(
      calendar,
      span,
      { ...none, absences: ["2026-11-10"] },
      new Set(["2026-11-10", "2026-11-11", "2026-11-25"]),
    );
    expect(days).toContain("2026-11-10");
    expect(days).toContain("2026-11-11");
    expect(days).not.toContain("2026-11-25");
  });
});

describe("the patterns of a span", () => {
  const incident = (incidentId: string, more: Partial<PatternIncident>): PatternIncident => ({
    incidentId,
    on: "2026-11-09",
    at: "10:20",
    period: null,
    setting: "room 4",
    antecedents: ["told no"],
    behaviors: ["shouting"],
    consequences: ["a break"],
    functions: [],
    minutes: null,
    intensity: null,
    length: null,
    ...more,
  });
  const long = starterBands[3];
  const incidents = [
    incident("a", { intensity: 3, length: { minutes: 4 } }),
    incident("b", { on: "2026-11-19", at: "14:40", length: long ? { band: long } : null }),
    incident("c", { on: "2026-11-16", at: null, period: "Math", behaviors: ["crying", "shouting"] }),
    incident("d", { on: "2026-11-16", at: null }),
  ];
  const span = { from: "2026-11-09", to: "2026-11-27" };
  const { days, silent } = observedDays(calendar, span, none, new Set(incidents.map(({ on }) => on)));
  const periods = [1, 4].map((weekday) => ({ weekday, name: "Math", startsAt: "10:15", endsAt: "11:00" }));
  const patterns = patternsOf({ ...span, incidents, days, silent, periods, bands: starterBands });

  it("has every week in its place, the empty one too", () => {
    expect(
      patterns.weeks.map(({ monday, days: observed, incidentIds }) => [monday, observed, incidentIds]),
    ).toEqual([
      ["2026-11-09", 4, ["a"]],
      ["2026-11-16", 5, ["b", "c", "d"]],
      ["2026-11-23", 5, []],
    ]);
    expect(patterns.rate).toMatchObject({ incidents: 4, days: 14 });
  });

  it("places each incident in its period, by its time or as it was said, and names those in none", () => {
    expect(patterns.weekdays).toEqual([1, 4]);
    expect(patterns.grid).toMatchObject([
      {
        name: "Math",
        cells: [
          { weekday: 1, watched: 3, incidentIds: ["a", "c"] },
          { weekday: 4, watched: 3, incidentIds: [] },
        ],
      },
    ]);
    expect(patterns.outside).toEqual(["b", "d"]);
  });

  it("ranks labels with the incidents behind them, and keeps bands as bands", () => {
    expect(patterns.labels.behavior).toEqual([
      { label: "shouting", incidentIds: ["a", "b", "c", "d"] },
      { label: "crying", incidentIds: ["c"] },
    ]);
    expect(patterns.lengths).toMatchObject({ known: 2, total: { low: 19, high: 34 } });
    expect(patterns.lengths.bands.filter(({ incidentIds }) => incidentIds.length > 0)).toEqual([
      { label: "2–5 min", incidentIds: ["a"] },
      { label: "15–30 min", incidentIds: ["b"] },
    ]);
    expect(patterns.strengths[2]).toEqual({ label: "3", incidentIds: ["a"] });
    expect(patterns.findings).toEqual([]);
  });

  it("counts hours where the school has no timetable", () => {
    const byHour = patternsOf({ ...span, incidents, days, silent, periods: [], bands: starterBands });
    expect(byHour.weekdays).toEqual([1, 2, 3, 4, 5]);
    expect(byHour.grid.find(({ startsAt }) => startsAt === "10:00")?.cells[0]?.incidentIds).toEqual(["a"]);
    expect(byHour.outside).toEqual(["c", "d"]);
  });
});
