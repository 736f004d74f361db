import { describe, expect, it } from "vitest";
import { nextInSession, type SchoolCalendar } from "./calendar.ts";
import { mondaysUpTo, secondObserved, sums, weeksCovered, weeksOfPeople } from "./coverage.ts";

const calendar: SchoolCalendar = {
  schoolDays: [1, 2, 3, 4, 5],
  years: [{ name: "2026–27", fromOn: "2026-08-24", toOn: "2027-06-11" }],
  reportingPeriods: [],
  // A week without school.
  closures: [{ name: "Thanksgiving", fromOn: "2026-11-23", toOn: "2026-11-27" }],
};
const of = (more: Partial<Parameters<typeof weeksCovered>[0]>) => ({
  ...{ schedule: { perWeek: 2 }, calendar, absences: [], measuredOn: [], startOn: null },
  ...{ today: "2026-12-02", ...more },
});
const weeks = mondaysUpTo("2026-12-02", 4);

describe("the weeks of a goal", () => {
  it("end with the one of today", () => {
    expect(weeks).toEqual(["2026-11-09", "2026-11-16", "2026-11-23", "2026-11-30"]);
  });

  it("have what was asked and what came; a week without school asks for nothing, and the week of today is open", () => {
    const measuredOn = ["2026-11-10", "2026-11-12", "2026-11-12", "2026-11-18"];
    expect(weeksCovered(of({ measuredOn }), weeks)).toEqual([
      { monday: "2026-11-09", asked: 2, taken: 2, state: "all" },
      { monday: "2026-11-16", asked: 2, taken: 1, state: "some" },
      { monday: "2026-11-23", asked: 0, taken: 0, state: "nothing" },
      { monday: "2026-11-30", asked: 2, taken: 0, state: "open" },
    ]);
  });

  it("count weekdays by their days, absences as nothing asked, and the days before the goal not at all", () => {
    const question = of({ schedule: { weekdays: [1, 3] }, absences: ["2026-11-09"], startOn: "2026-11-04" });
    expect(weeksCovered(question, ["2026-11-02", "2026-11-09"])).toEqual([
      { monday: "2026-11-02", asked: 1, taken: 0, state: "none" },
      { monday: "2026-11-09", asked: 1, taken: 0, state: "none" },
    ]);
    // The last planned day of the running week has gone by.
    expect(weeksCovered(of({ schedule: { weekdays: [1] } }), weeks).at(-1)).toMatchObject({ state: "none" });
  });

  it("without a plan have what came, and nothing that is missing", () => {
    const measuredOn = ["2026-11-18"];
    expect(weeksCovered(of({ schedule: null, measuredOn }), weeks).map(({ state }) => state)).toEqual([
      ...["nothing", "all", "nothing", "nothing"],
    ]);
  });
});

describe("a second observer", () => {
  const days = (from: number, to: number, seconded: readonly number[] = []) =>
    Array.from({ length: to - from + 1 }, (_, index) => ({
      on: `2026-11-${String(from + index).padStart(2, "0")}`,
      isSeconded: seconded.includes(from + index),
    }));

  // What Works Clearinghouse, Procedures and Standards Handbook 5.0: at least 20 % of the data points in each phase (from memory).
  it("is wanted on a fifth of the days of each phase", () => {
    const phases = [
      { name: "Strip", startsOn: "2026-11-11" },
      { name: "Baseline", startsOn: "2026-11-03" },
    ];
    expect(secondObserved(phases, days(1, 20, [4, 12]))).toEqual([
      { name: "", days: 2, seconded: 0, missing: 1 },
      { name: "Baseline", days: 8, seconded: 1, missing: 1 },
      { name: "Strip", days: 10, seconded: 1, missing: 1 },
    ]);
    expect(secondObserved(phases, days(11, 15, [12]))[1]).toMatchObject({ days: 5, seconded: 1, missing: 0 });
  });

  it("is wanted of a goal without phases as a whole, and not where nothing was measured", () => {
    expect(secondObserved([], days(1, 6))).toEqual([{ name: "", days: 6, seconded: 0, missing: 2 }]);
    expect(secondObserved([{ name: "Baseline", startsOn: "2026-11-01" }], [])).toEqual([
      { name: "Baseline", days: 0, seconded: 0, missing: 0 },
    ]);
  });
});

describe("the weeks of people", () => {
  const week = (monday: string, asked: number, taken: number) => ({
    ...{ monday, asked, taken, state: "some" as const },
  });
  const mondays = ["2026-11-09", "2026-11-16"];

  it("count each goal and day once, and hold more than was asked for as what was asked for", () => {
    const goals = [
      {
        measuredBy: "teo",
        weeks: [week("2026-11-09", 2, 3), week("2026-11-16", 2, 0)],
        days: ["2026-11-10", "2026-11-10", "2026-11-11", "2026-11-12"].map((on) => ({ personId: "teo", on })),
        seconds: ["ines"],
      },
      {
        measuredBy: "teo",
        weeks: [week("2026-11-09", 1, 0), week("2026-11-16", 1, 1)],
        days: [{ personId: "ines", on: "2026-11-17" }],
        seconds: [],
      },
    ];
    const people = weeksOfPeople(goals, mondays);
    expect(people.get("teo")).toEqual({
      weeks: [
        { recorded: 3, asked: 3, taken: 2 },
        { recorded: 0, asked: 3, taken: 1 },
      ],
      ...{ usual: 2, seconds: 0 },
    });
    expect(people.get("ines")).toMatchObject({
      seconds: 1,
      usual: 0,
      weeks: [{ recorded: 0 }, { recorded: 1 }],
    });
    expect(weeksOfPeople([], mondays).size).toBe(0);
  });

  it("are beside what was recorded for which purpose, in sums", () => {
    expect(
      sums([
        ["probe", 2],
        ["teaching", 1],
        ["probe", 3],
      ]),
    ).toEqual([
      ["probe", 5],
      ["teaching", 1],
    ]);
  });
});

it("the next day in session is after the weekend and the break, and is none where four weeks have none", () => {
  expect(nextInSession(calendar, "2026-11-20")).toBe("2026-11-30");
  expect(nextInSession(calendar, "2026-12-01")).toBe("2026-12-02");
  expect(nextInSession(calendar, "2027-06-11")).toBeNull();
});
