import { describe, expect, it } from "vitest";
import type { Measure } from "../measures/measure.ts";
import type { Mark } from "../marks/mark.ts";
import { markSaid } from "./mark-said.ts";

/** What is heard after each of these marks: `on value`, a second apart; `undo` takes the last one back. */
function heard(measure: Measure, acts: readonly string[], planned: number | null = null): string[] {
  let marks: Mark[] = [];
  return acts.map((act, index) => {
    const before = marks;
    const [on = "", value = ""] = act.split("=");
    marks = act === "undo" ? marks.slice(0, -1) : [...marks, { at: index * 1000, on, value }];
    return markSaid(measure, marks, before, planned).replaceAll("\u00a0", " ");
  });
}

const ladder = { levels: ["independent", "verbal", "model"], misses: ["refused"], credited: "verbal" };

describe("what is heard of a mark", () => {
  it("is the trial and how many are correct so far", () => {
    expect(heard({ kind: "trials" }, ["trial=1", "trial=1", "trial=0", "undo"])).toEqual([
      "correct, 1 of 1",
      "correct, 2 of 2",
      "not yet, 2 of 3",
      "undone: not yet, 2 of 2",
    ]);
  });

  it("is the level, and what is left of what was planned", () => {
    const measure = { kind: "supports", ...ladder } as Measure;
    expect(heard(measure, ["level=1", "level=3"], 2)).toEqual([
      "verbal, 1 of 2 left",
      "refused, 0 of 2 left",
    ]);
    expect(heard(measure, ["level=0"])).toEqual(["independent, 1 so far"]);
  });

  it("is the step, its mark and how many steps are left; a mark taken back leaves none", () => {
    const measure = { kind: "steps", steps: ["a", "b", "c"], ...ladder } as unknown as Measure;
    expect(heard(measure, ["row.2=1", "row.0=0", "row.1=3", "row.1=", "undo"])).toEqual([
      "step 3, verbal, 2 of 3 left",
      "step 1, independent, 1 of 3 left",
      "step 2, refused, all marked",
      "step 2, no mark, 1 of 3 left",
      "undone: step 2, no mark, all marked",
    ]);
  });

  it("is the row by its name", () => {
    const rows = (measure: object, acts: string[]) => heard(measure as Measure, acts);
    expect(rows({ kind: "skills", skills: ["adds", "carries"], ...ladder }, ["row.1=0"])).toEqual([
      "carries, independent, 1 of 2 left",
    ]);
    expect(rows({ kind: "checklist", items: ["the", "and"] }, ["row.0=0", "row.1=1"])).toEqual([
      "the, not yet, 1 of 2 left",
      "and, known, all marked",
    ]);
    expect(
      rows({ kind: "rubric", criteria: [{ id: "ideas", label: "Ideas", max: 4 }] }, ["row.0=3"]),
    ).toEqual(["Ideas, 3, all marked"]);
    const outcomes = [{ id: "calm", label: "walked on", credit: 100 }];
    expect(rows({ kind: "outcomes", outcomes }, ["row.0=0", "row.0=other"])).toEqual([
      "outcome, walked on, all marked",
      "outcome, something else, all marked",
    ]);
  });

  it("is the count, the clock, the bout, the response and the interval; what is typed is heard by itself", () => {
    const of = (kind: string, acts: string[]) => heard({ kind } as Measure, acts);
    expect(of("count", ["clock=start", "press", "press", "clock=stop"])).toEqual([
      "clock running",
      "1 so far",
      "2 so far",
      "clock stopped",
    ]);
    expect(of("duration", ["bout=start", "bout=stop", "bout=start"])).toEqual([
      "a bout runs, 1 bout",
      "stopped, 1 bout",
      "a bout runs, 2 bouts",
    ]);
    expect(of("latency", ["signal", "response", "no response"])).toEqual([
      "signal given",
      "response after 1 s",
      "no response",
    ]);
    expect(of("fluency", ["error", "last=42"])).toEqual(["1 error", ""]);
    expect(of("intervals", ["interval.4=1", "interval.5=0"])).toEqual([
      "interval 5, seen",
      "interval 6, not seen",
    ]);
    expect(of("trials", ["undo"])).toEqual([""]);
  });
});
