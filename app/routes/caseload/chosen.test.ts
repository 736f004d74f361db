import { describe, expect, it } from "vitest";
import { attentionOf, attentionRank } from "#core/progress/attention.ts";
import type { StandingKey } from "#core/progress/standing.ts";
import { filtered, readFilters } from "./filters.ts";

const calm = { key: "on" as StandingKey, quiet: false, dueToday: false };

describe("what asks for attention", () => {
  it.each([
    ["nothing where a goal goes its way", {}, null],
    ["behind before everything", { key: "behind" as const, quiet: true }, "behind the line"],
    [
      "a criterion that was reached",
      { key: "reached" as const, quiet: true },
      "criterion reached, not confirmed yet",
    ],
    ["not once it is confirmed", { key: "met" as const }, null],
    ["one that is no longer met", { key: "lost" as const, dueToday: true }, "no longer met"],
    ["a due date that is past", { key: "past-due" as const, quiet: true }, "due date passed"],
    ["two weeks without an entry", { quiet: true, dueToday: true }, "not measured for two school weeks"],
    ["not of a goal that is met", { key: "met" as const, quiet: true, dueToday: true }, null],
    ["data due today", { dueToday: true, key: "too-few" as const }, "due today"],
    ["too few points, last", { key: "too-few" as const }, "too few points"],
  ])("is %s", (_, more, reason) => {
    expect(attentionOf({ ...calm, ...more })).toBe(reason);
  });

  it("is ranked as it is listed", () => {
    expect(attentionRank("behind the line")).toBe(0);
    expect(attentionRank(null)).toBeGreaterThan(attentionRank("too few points"));
  });
});

describe("the chosen caseload", () => {
  const goal = (number: string, more: object = {}) => ({
    ...{
      number,
      area: "Reading",
      measuredBy: "noor",
      attention: null,
      standing: { key: "on" as StandingKey },
      quiet: false,
    },
    ...more,
  });
  const behind = { attention: "behind the line" as const, standing: { key: "behind" as const } };
  const students = [
    { studentId: "a", goals: [goal("1"), goal("2", { attention: "due today" as const, quiet: true })] },
    { studentId: "b", goals: [goal("1", { area: "Math" }), goal("2", behind)] },
    { studentId: "c", goals: [goal("1", behind), goal("2", { ...behind, measuredBy: "teo" })] },
    { studentId: "d", goals: [] },
  ];
  const chosen = (search: string, members: string[] | null = null) =>
    filtered(students, readFilters(new URLSearchParams(search)), members).map(
      ({ studentId, goals }) => `${studentId}: ${goals.map(({ number }) => number).join(" ")}`,
    );

  it("has the most pressing first, of students and of their goals, and everybody", () => {
    expect(chosen("")).toEqual(["c: 1 2", "b: 2 1", "a: 2 1", "d: "]);
    expect(chosen("order=name")).toEqual(["a: 1 2", "b: 1 2", "c: 1 2", "d: "]);
  });

  it("leaves out what is not chosen, and students who have none of it", () => {
    expect(chosen("standing=behind&order=name")).toEqual(["b: 2", "c: 1 2"]);
    expect(chosen("standing=quiet")).toEqual(["a: 2"]);
    expect(chosen("area=Math")).toEqual(["b: 1"]);
    expect(chosen("person=teo")).toEqual(["c: 2"]);
    expect(chosen("group=g", ["a", "d"])).toEqual(["a: 2 1", "d: "]);
    expect(chosen("group=g&standing=behind", ["a", "b"])).toEqual(["b: 2"]);
  });

  it("takes what does not fit for nothing", () => {
    expect(readFilters(new URLSearchParams("order=sideways&standing=nowhere"))).toMatchObject({
      order: "",
      standing: "",
    });
  });
});
