import { weekdayOf } from "../dates/day-number.ts";
import fc from "fast-check";
import { differenceInCalendarDays, eachDayOfInterval, getISODay, parseISO } from "date-fns";
import { describe, expect, it } from "vitest";
import {
  daysInSession,
  isInSession,
  reportingPeriodOn,
  type SchoolCalendar,
  whyNoSchool,
} from "./calendar.ts";
import { type DueData, dueData, dueWords, isQuiet, nextDueWords } from "./due-data.ts";
import { scheduleWords } from "./schedule.ts";
import { meetingWords, periodAt, slotsOf, weeklyRows } from "./timetable.ts";

const calendar: SchoolCalendar = {
  schoolDays: [1, 2, 3, 4, 5],
  years: [{ name: "2026–27", fromOn: "2026-09-08", toOn: "2027-06-18" }],
  closures: [
    { name: "Harbor day", fromOn: "2026-11-11", toOn: "2026-11-11" },
    { name: "Winter break", fromOn: "2026-12-21", toOn: "2027-01-01" },
  ],
  reportingPeriods: [
    { name: "Trimester 1", fromOn: "2026-09-08", toOn: "2026-12-04" },
    { name: "Trimester 2", fromOn: "2026-12-07", toOn: "2027-03-12" },
  ],
};
const date = fc
  .integer({ min: 18_000, max: 22_000 })
  .map((day) => new Date(day * 86_400_000).toISOString().slice(0, 10));

describe("the school's calendar", () => {
  it("has the weekdays of ISO 8601, as date-fns has them", () => {
    fc.assert(fc.property(date, (one) => weekdayOf(one) === getISODay(parseISO(one))));
  });

  it("says why there is no school", () => {
    expect(whyNoSchool(calendar, "2026-11-10")).toBeNull();
    expect(whyNoSchool(calendar, "2026-11-11")).toBe("Harbor day");
    expect(whyNoSchool(calendar, "2026-11-14")).toBe("Saturday");
    expect(whyNoSchool(calendar, "2026-09-07")).toBe("outside the school year");
    expect(whyNoSchool(calendar, "2027-06-18")).toBeNull();
    expect(whyNoSchool(calendar, "2027-06-21")).toBe("outside the school year");
  });

  it("takes every school day of the week until a year has been entered", () => {
    const bare = { ...calendar, years: [] };
    expect(isInSession(bare, "2026-07-15")).toBe(true);
    expect(isInSession(bare, "2026-07-18")).toBe(false);
  });

  it("counts days in session as a reference counts weekdays, less the closures", () => {
    const open: SchoolCalendar = { ...calendar, years: [], closures: [] };
    fc.assert(
      fc.property(date, fc.integer({ min: 0, max: 120 }), (from, length) => {
        const start = parseISO(from);
        const end = new Date(start.getTime());
        end.setDate(end.getDate() + length);
        const weekdays = eachDayOfInterval({ start, end }).filter((day) => getISODay(day) <= 5).length;
        const to = new Date(Date.parse(`${from}T00:00:00Z`) + length * 86_400_000).toISOString().slice(0, 10);
        expect(differenceInCalendarDays(parseISO(to), start)).toBe(length);
        expect(daysInSession(open, from, to)).toHaveLength(weekdays);
      }),
    );
    // 21 December to 1 January: ten weekdays of winter break.
    expect(daysInSession(calendar, "2026-12-14", "2027-01-08")).toHaveLength(10);
    expect(daysInSession(calendar, "2026-12-14", "2026-12-13")).toEqual([]);
  });

  it("finds the reporting period of a date, and none between two", () => {
    expect(reportingPeriodOn(calendar, "2026-12-04")?.name).toBe("Trimester 1");
    expect(reportingPeriodOn(calendar, "2026-12-05")).toBeNull();
    expect(reportingPeriodOn(calendar, "2026-12-07")?.name).toBe("Trimester 2");
  });
});

it("the timetable names the period of a time; an end is no longer in it, and the later of two that overlap wins", () => {
  const slots = [
    { weekday: 2, name: "Math", startsAt: "10:15", endsAt: "11:00" },
    { weekday: 2, name: "Recess", startsAt: "11:00", endsAt: "11:15" },
    { weekday: 2, name: "Small group", startsAt: "10:40", endsAt: "11:00" },
    { weekday: 3, name: "Music", startsAt: "10:15", endsAt: "11:00" },
  ];
  expect(periodAt(slots, "2026-11-24", "10:15")).toBe("Math");
  expect(periodAt(slots, "2026-11-24", "10:50")).toBe("Small group");
  expect(periodAt(slots, "2026-11-24", "11:00")).toBe("Recess");
  expect(periodAt(slots, "2026-11-25", "10:30")).toBe("Music");
  expect(periodAt(slots, "2026-11-25", "14:00")).toBeNull();
});

it("the week is written down in rows, and the rows make the same week again", () => {
  const music = { name: "Music", weekdays: [3], startsAt: "10:15", endsAt: "11:00" };
  const rows = [{ name: "Arrival", weekdays: [1, 2, 3, 4, 5], startsAt: "08:30", endsAt: "08:50" }, music];
  expect(weeklyRows(slotsOf(rows).reverse())).toEqual(rows);
  expect(meetingWords(slotsOf([music, { ...music, weekdays: [1, 5] }]))).toBe(
    "Mon, Wed, Fri 10:15–11:00\u00a0AM",
  );
});

describe("due data", () => {
  const question = {
    schedule: { weekdays: [1, 3] },
    calendar,
    absences: [],
    measuredOn: [],
    startOn: "2026-09-08",
    today: "2026-11-18",
  };
  const due = (part: Partial<Parameters<typeof dueData>[0]>) => dueData({ ...question, ...part });

  it("are due on the weekdays asked for, until they are taken", () => {
    expect(due({})).toEqual({ asked: 2, taken: 0, state: "today" });
    expect(due({ measuredOn: ["2026-11-18"] })).toEqual({ asked: 2, taken: 1, state: "late" });
    expect(due({ measuredOn: ["2026-11-16", "2026-11-18"] })).toEqual({ asked: 2, taken: 2, state: "done" });
    expect(due({ today: "2026-11-17" })).toEqual({ asked: 2, taken: 0, state: "this week" });
    expect(due({ today: "2026-11-20" })).toEqual({ asked: 2, taken: 0, state: "late" });
  });

  it("may be taken on another day of the week", () => {
    expect(due({ measuredOn: ["2026-11-17", "2026-11-18"] }).state).toBe("done");
  });

  it("ask nothing of a closure, an absence, a holiday week, a goal that has not begun or has no schedule", () => {
    expect(due({ today: "2026-11-11" })).toEqual({ asked: 1, taken: 0, state: "late" });
    expect(due({ today: "2026-11-18", absences: ["2026-11-18"] })).toEqual({
      asked: 1,
      taken: 0,
      state: "late",
    });
    expect(due({ today: "2026-12-23" }).state).toBe("nothing");
    expect(due({ startOn: "2026-11-19" }).state).toBe("nothing");
    expect(due({ startOn: "2026-11-18" })).toMatchObject({ asked: 1, state: "today" });
    expect(due({ schedule: null }).state).toBe("nothing");
  });

  it("so many times a week are due today once there is no day to spare", () => {
    const twice = { schedule: { perWeek: 2 } };
    expect(due({ ...twice, today: "2026-11-17" }).state).toBe("this week");
    expect(due({ ...twice, today: "2026-11-19" }).state).toBe("today");
    expect(due({ ...twice, today: "2026-11-19", measuredOn: ["2026-11-16"] }).state).toBe("this week");
    expect(due({ ...twice, today: "2026-11-20", measuredOn: ["2026-11-16"] }).state).toBe("today");
    expect(due({ ...twice, today: "2026-11-21", measuredOn: ["2026-11-16"] }).state).toBe("late");
    // A week of four days cannot ask for five.
    expect(due({ schedule: { perWeek: 5 }, today: "2026-11-10" })).toMatchObject({ asked: 4 });
  });

  it("never ask for more than there are days present, and measuring every day always does", () => {
    const schedule = fc.oneof(
      fc.record({ perWeek: fc.integer({ min: 1, max: 20 }) }),
      fc.record({ weekdays: fc.uniqueArray(fc.integer({ min: 1, max: 7 }), { minLength: 1 }) }),
    );
    fc.assert(
      fc.property(schedule, date, fc.array(date, { maxLength: 5 }), (asked, today, absences) => {
        const measuredOn = daysInSession(calendar, today, today);
        const found = dueData({ ...question, schedule: asked, today, absences, measuredOn });
        expect(found.asked).toBeLessThanOrEqual(5);
        expect(found.state).not.toBe(measuredOn.length > 0 ? "today" : undefined);
      }),
    );
  });

  it("are said with their count", () => {
    const said = (part: DueData) => dueWords(part);
    expect(said({ asked: 2, taken: 1, state: "today" })).toBe("due today, 1 of 2 this week");
    expect(said({ asked: 2, taken: 1, state: "late" })).toBe("1 of 2 this week, and no planned day is left");
    expect(said({ asked: 2, taken: 2, state: "done" })).toBe("two days of data this week, as planned");
    expect(said({ asked: 2, taken: 0, state: "this week" })).toBe("0 of 2 this week");
    expect(said({ asked: 0, taken: 0, state: "nothing" })).toBeNull();
    expect(scheduleWords({ weekdays: [3, 1] })).toBe("on Mondays and Wednesdays");
  });
});

it("a goal is quiet after more than ten days of school; breaks and absences do not count", () => {
  expect(isQuiet("2026-11-10", "2026-11-24", calendar)).toBe(false);
  expect(isQuiet("2026-11-09", "2026-11-25", calendar)).toBe(true);
  expect(isQuiet("2026-12-18", "2027-01-08", calendar)).toBe(false);
  expect(isQuiet("2026-11-09", "2026-11-25", calendar, ["2026-11-23"])).toBe(false);
  expect(isQuiet(null, "2026-11-24", calendar)).toBe(true);
});

describe("when data are due next", () => {
  const at = (state: DueData["state"], schedule: Parameters<typeof nextDueWords>[1], today = "2026-11-24") =>
    nextDueWords({ asked: 2, taken: 0, state }, schedule, calendar, today);

  it("is today, the next planned weekday of school, or the week", () => {
    expect(at("today", { weekdays: [2, 4] })).toBe("due today");
    expect(at("done", { weekdays: [2, 4] })).toBe("due Thu");
    expect(at("done", { perWeek: 2 })).toBe("due next week");
    expect(at("this week", { perWeek: 2 })).toBe("due this week");
    expect(at("nothing", { perWeek: 2 })).toBeNull();
    expect(at("nothing", null)).toBeNull();
  });

  it("is by its date beyond a week, over closures and breaks", () => {
    expect(at("done", { weekdays: [3] }, "2026-11-04")).toBe("due Nov 18");
    expect(at("done", { weekdays: [1] }, "2026-12-15")).toBe("due Jan 4");
    // After the school year nothing is.
    expect(at("nothing", { weekdays: [1] }, "2027-06-20")).toBeNull();
  });
});
