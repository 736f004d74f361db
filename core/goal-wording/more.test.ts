import { readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { describe, expect, it } from "vitest";
import { type MoreRead, readMore } from "./more.ts";
import { propose } from "./propose.ts";
import { type GoalReading, readGoal } from "./read-goal.ts";
import { titleFrom } from "./title.ts";

interface Labelled {
  text: string;
  more: MoreRead;
  /** The fields that this wording is about. */
  reading: Partial<GoalReading>;
  title?: string;
}
const lines = (name: string) =>
  readFileSync(fileURLToPath(new URL(`../../tests/samples/${name}`, import.meta.url)), "utf8")
    .trim()
    .split("\n");
// Written by us, in many styles.
const labelled = lines("goal-wordings-further.jsonl").map((line) => JSON.parse(line) as Labelled);

describe("what a wording says beyond the seven fields", () => {
  it("has sixty labelled wordings", () => expect(labelled.length).toBeGreaterThanOrEqual(60));

  it.each(labelled)("of “$text”", ({ text, more, reading, title }) => {
    const read = readGoal(text);
    expect(readMore(text, read.reading)).toEqual(more);
    expect(read.reading).toMatchObject(reading);
    if (title !== undefined) expect(titleFrom(text)).toBe(title);
  });
});

describe("a short name", () => {
  it("is never a verb of change, a bare “Be”, or empty, in any of the wordings", () => {
    const wordings = ["goal-wordings.jsonl", "goal-wordings-more.jsonl"]
      .flatMap(lines)
      .map((line) => (JSON.parse(line) as { text: string }).text);
    for (const text of [...wordings, ...labelled.map((one) => one.text)]) {
      const title = titleFrom(text);
      expect(title, text).not.toBe("");
      expect(title, text).not.toMatch(
        /^(?:Be|Decrease|Reduce|Increase|Improve|Lower|Demonstrate|Will|To|Than|At least|No more)\b/,
      );
      expect(title, text).not.toMatch(/\s(?:to|in|on|for|from|with|of|the|a|and)$/);
    }
  });
});

describe("a proposal from it", () => {
  it("never credits the help of a condition as a prompt", () => {
    expect(propose("Given a visual cue, Wren will transition with 80% accuracy.").support).toBeUndefined();
    expect(propose("Wren will transition with 80% accuracy given one verbal prompt.").support).toBeDefined();
  });

  it("takes fewer than 2 of 10 as at most 1 of 10", () => {
    expect(propose("Wren will refuse a task in fewer than 2 of 10 opportunities.").threshold?.value).toEqual({
      ...{ value: 10, direction: "decrease" },
    });
  });

  it("has method, baseline, settings, people and the rubric's levels; each criterion is for a person to confirm", () => {
    expect(
      propose("Wren will talk out in less than 20% of partial intervals (baseline 45%) in 2 settings."),
    ).toMatchObject({ method: { value: "partial" }, baseline: { value: 45 }, settings: { value: 2 } });
    expect(propose("Wren will score 3 or higher in all criteria of a 4-point rubric.")).toMatchObject({
      threshold: { value: { value: 75 } },
      highest: { value: 4 },
      confirm: ["each criterion at 3 or higher"],
    });
  });

  it("says over what a number is added up, and that a date is the end of the IEP year", () => {
    expect(propose("Wren will hit no more than 3 times per day on 4 of 5 days.").pooling?.value).toBe("day");
    expect(propose("Wren will practice a total of 300 minutes each month.").pooling?.value).toBe("month");
    expect(propose("By the end of the IEP year, Wren will count with 90% accuracy.").atIepEnd).toBe(true);
    expect(propose("By June 2027, Wren will count with 90% accuracy.").atIepEnd).toBeUndefined();
  });
});
