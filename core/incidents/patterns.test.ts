import { describe, expect, it } from "vitest";
import { observedDays } from "./observed-days.ts";
import { type PatternIncident, patternsOf, timeBins } from "./patterns.ts";
import { choosePatterns, type PatternMaterial, readChoice } from "./choose.ts";
import { starterBands } from "./lengths.ts";

const calendar = {
  schoolDays: [1, 2, 3, 4, 5],
  years: [],
  closures: [{ name: "holiday", fromOn: "2026-11-11", toOn: "2026-11-11" }],
  reportingPeriods: [],
};
const none = { absences: [], notObserved: [], none: [] };

describe("observed school days", () => {
  // Monday 9 to Sunday, November 22 2026.
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
    expect(silent).toEqual(["2026-11-17", "2026-11-18", "2026-11-19", "2026-11-20"]);
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
  const { days, silent: silentDays } = observedDays(
    calendar,
    span,
    none,
    new Set(incidents.map(({ on }) => on)),
  );
  const silent = silentDays.length;
  const periods = [1, 4].map((weekday) => ({ weekday, name: "Math", startsAt: "10:15", endsAt: "11:00" }));
  const patterns = patternsOf({ ...span, incidents, days, silent, periods, bands: starterBands });

  it("has every week in its place, the empty one too", () => {
    expect(
      patterns.bins.map(({ from, to, days: observed, incidentIds }) => [from, to, observed, incidentIds]),
    ).toEqual([
      ["2026-11-09", "2026-11-15", 4, ["a"]],
      ["2026-11-16", "2026-11-22", 5, ["b", "c", "d"]],
      ["2026-11-23", "2026-11-29", 5, []],
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

  it("cuts the time axis in days and in months as well, a short month included", () => {
    const byDay = timeBins(incidents, days, span, "day");
    expect(byDay).toHaveLength(19);
    expect(byDay[2]).toEqual({ from: "2026-11-11", to: "2026-11-11", days: 0, incidentIds: [] });
    const months = timeBins([], [], { from: "2027-01-30", to: "2027-03-01" }, "month");
    expect(months.map(({ from, to }) => `${from} ${to}`)).toEqual([
      "2027-01-01 2027-01-31",
      "2027-02-01 2027-02-28",
      "2027-03-01 2027-03-31",
    ]);
  });

  it("opens the incidents behind a pair and a chain", () => {
    // Each an episode of its own.
    const many = ["a", "b", "c", "d", "e", "f"].flatMap((id, at) => [
      incident(`${id}1`, { at: `0${at + 1}:00` }),
      incident(`${id}2`, { at: `1${at + 1}:30`, antecedents: ["asked to begin"], behaviors: ["crying"] }),
    ]);
    const { pairs, chains } = patternsOf({
      ...{ ...span, incidents: many, days, silent, periods, bands: starterBands },
    });
    const pair = pairs.find(({ a, b }) => a === "told no" && b === "shouting");
    expect(pair?.behind).toEqual({
      both: ["a", "b", "c", "d", "e", "f"].map((id) => `${id}1`),
      ...{ aOnly: [], bOnly: [], neither: ["a", "b", "c", "d", "e", "f"].map((id) => `${id}2`) },
    });
    for (const count of ["both", "aOnly", "bOnly", "neither"] as const)
      expect(pair?.behind[count]).toHaveLength(pair?.[count] ?? -1);
    expect(chains.map(({ count, incidentIds }) => [count, incidentIds.length])).toEqual([
      [6, 6],
      [6, 6],
    ]);
  });

  it("counts a period as watched on the days on which somebody watched it", () => {
    const { grid } = patternsOf({
      ...{ ...span, incidents, days, silent, periods, bands: starterBands },
      notWatched: new Set(["2026-11-09 Math", "2026-11-12 Art"]),
    });
    expect(grid[0]?.cells.map((cell) => cell?.watched)).toEqual([2, 3]);
  });
});

describe("what patterns are chosen from", () => {
  const days = [
    "2026-10-05",
    "2026-10-06",
    "2026-10-07",
    "2026-11-02",
    "2026-11-03",
    "2026-11-04",
    "2026-11-05",
  ];
  const incident = (
    incidentId: string,
    on: string,
    more: Partial<PatternIncident> = {},
  ): PatternIncident => ({
    ...{
      incidentId,
      on,
      at: null,
      period: null,
      setting: "room 4",
      functions: [],
      minutes: null,
      length: null,
    },
    ...{ antecedents: [], behaviors: ["shouting"], consequences: [], intensity: null, ...more },
  });
  const material: PatternMaterial = {
    incidents: [
      incident("a", "2026-10-05", { intensity: 4 }),
      incident("b", "2026-10-05"),
      incident("c", "2026-10-06", { setting: "hall", behaviors: ["crying"] }),
      incident("d", "2026-10-07", { setting: null }),
      incident("e", "2026-11-03", { intensity: 2, length: { minutes: 3 } }),
    ],
    days,
    silentDays: ["2026-11-04"],
    notWatched: [],
    periods: [],
    bands: starterBands,
    plans: [{ planId: "p1", name: "first, then", beginsOn: "2026-11-02", endsOn: null }],
    earliest: "2025-08-20",
    yearFrom: "2026-08-20",
    today: "2026-11-05",
  };
  const chosen = (search: string) => {
    const choice = readChoice(new URLSearchParams(search), material);
    return { choice, ...choosePatterns(material, choice) };
  };

  it("are the school year, and around the plan that began in it", () => {
    const { choice, patterns, comparison } = chosen("");
    expect(choice).toMatchObject({ from: "2026-08-20", to: "2026-11-05", compare: { planId: "p1" } });
    expect(patterns).toMatchObject({ n: 5, silent: 1, rate: { incidents: 5, days: 7 } });
    expect(comparison?.rates).toMatchObject({
      before: { incidents: 4, days: 3 },
      after: { incidents: 1, days: 4 },
      ratio: 1 / 4 / (4 / 3),
    });
    expect(comparison?.before).toMatchObject({ from: "2026-08-20", to: "2026-11-01", n: 4 });
    expect(comparison?.after.strengths[1]?.incidentIds).toEqual(["e"]);
    expect(comparison?.after.lengths.known).toBe(1);
  });

  it("are narrowed by behaviors and settings, each with an or inside", () => {
    expect(chosen("behavior=crying").patterns.n).toBe(1);
    expect(chosen("behavior=crying&behavior=shouting").patterns.n).toBe(5);
    expect(chosen("setting=hall&setting=room+4").patterns.n).toBe(4);
    expect(chosen("setting=hall&behavior=shouting").patterns).toMatchObject({ n: 0, rate: { days: 7 } });
  });

  it("compare with as many days before, or with nothing", () => {
    const { comparison } = chosen("span=28&compare=before");
    expect(comparison).toMatchObject({
      before: { from: "2026-09-11", to: "2026-10-08", n: 4 },
      after: { from: "2026-10-09", to: "2026-11-05", n: 1 },
    });
    expect(chosen("compare=none").comparison).toBeNull();
    // The plan began before these days: there is nothing to compare it with in them.
    expect(chosen("span=own&from=2026-11-03&to=2026-11-05").comparison).toBeNull();
  });

  it("take what an address says only where it fits", () => {
    const { choice } = chosen("span=9&by=year&behavior=biting&setting=moon&compare=p9&from=x");
    expect(choice).toMatchObject({ span: "", behaviors: [], settings: [], bins: "week" });
    expect(choice.compare).toMatchObject({ planId: "p1" });
    expect(chosen("span=own&from=2026-11-04&to=2026-10-06").choice).toMatchObject({
      from: "2026-10-06",
      to: "2026-11-04",
    });
    expect(chosen("span=own&from=2026-02-30&to=yesterday").choice).toMatchObject({
      from: "2026-08-20",
      to: "2026-11-05",
    });
  });
});
