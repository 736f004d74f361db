import { describe, expect, it } from "vitest";
import { dateOfDay, dayNumber } from "../dates/day-number.ts";
import { fewestStudents } from "./fewest-students.ts";
import { schoolSpans } from "./school-spans.ts";

const on = (date: string, ...students: string[]) => students.map((studentId) => ({ on: date, studentId }));
const five = ["a", "b", "c", "d", "e"];

describe("the spans of a school's counts", () => {
  it("are whole months that are over, joined until five students had an incident", () => {
    const incidents = [
      ...on("2026-08-31", "a"),
      ...on("2026-09-14", "a", "b", "c"),
      ...on("2026-10-31", "d", "e"),
      ...on("2026-11-02", ...five),
    ];
    expect(schoolSpans(incidents, "2026-10-31")).toEqual([]);
    expect(schoolSpans(incidents, "2026-11-01")).toEqual([{ from: "2026-08-01", to: "2026-10-31" }]);
    expect(schoolSpans(incidents, "2026-11-30")).toEqual([{ from: "2026-08-01", to: "2026-10-31" }]);
    expect(schoolSpans(incidents, "2026-12-01")).toEqual([
      { from: "2026-08-01", to: "2026-10-31" },
      { from: "2026-11-01", to: "2026-11-30" },
    ]);
    expect(schoolSpans([], "2026-12-01")).toEqual([]);
    // Over the end of a leap year's February and of a year.
    expect(schoolSpans(on("2024-02-29", ...five), "2024-03-01")).toEqual([
      { from: "2024-02-01", to: "2024-02-29" },
    ]);
    expect(schoolSpans(on("2026-12-31", ...five), "2027-01-01")).toEqual([
      { from: "2026-12-01", to: "2026-12-31" },
    ]);
  });

  it("tell nothing of fewer than five students to who looks on 60 days and takes any two answers from each other", () => {
    // One incident a school day, of one student after the other, and a run of one alone.
    const first = dayNumber("2026-08-31");
    const all = Array.from({ length: 150 }, (_, day) => ({
      on: dateOfDay(first + day),
      studentId: day % 30 < 20 ? `s${day % 7}` : "alone",
    }));
    const answers = new Map<string, (typeof all)[number][]>();
    for (let day = 60; day < 120; day += 1) {
      const today = dateOfDay(first + day);
      const told = all.filter((one) => one.on <= today);
      for (const { from, to } of schoolSpans(told, today)) {
        const counted = told.filter((one) => from <= one.on && one.on <= to);
        const before = answers.get(`${from} ${to}`);
        // The same question has the same answer on every day.
        expect(before ?? counted).toEqual(counted);
        answers.set(`${from} ${to}`, counted);
      }
    }
    expect(answers.size).toBeGreaterThan(2);
    const students = (some: typeof all) => new Set(some.map(({ studentId }) => studentId)).size;
    const sets = [...answers.values()];
    for (const one of sets) {
      expect(students(one)).toBeGreaterThanOrEqual(fewestStudents);
      for (const other of sets)
        if (one !== other)
          expect(students(one.filter((incident) => !other.includes(incident)))).toBeGreaterThanOrEqual(
            fewestStudents,
          );
    }
  });
});
