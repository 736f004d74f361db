import { describe, expect, it } from "vitest";
import type { Entry } from "../model/entry.ts";
import { audienceDefaults, type Audience } from "./audience.ts";
import { composeAssessment } from "./compose-assessment.ts";
import { writtenTexts } from "./edition.ts";
import { reportText } from "./report-text.ts";

const measure: Entry["measure"] = {
  kind: "rubric",
  criteria: [
    {
      id: "topic",
      label: "Topic sentence",
      max: 3,
      levels: ["missing", "names it", "says what comes", "invites"],
    },
    { id: "slips", max: 2, levels: ["many", "few"] },
    { id: "tone", label: "Tone", max: 4 },
  ],
};
const entry: Entry = {
  ...{ entryId: "e", goalId: "g", studentId: "s", authorId: "n", observerId: "n" },
  ...{ observer: "N. Halloran", author: "N. Halloran", on: "2026-11-24", time: "10:00" },
  ...{ purpose: "probe", setting: null, sittingId: null, totalSoFar: null, measureVersion: 1, measure },
  entry: { kind: "rubric", levels: { topic: 0, slips: 2, tone: 3 } },
  score: { value: 55.6, unit: "percent", numerator: 5, denominator: 9 } as unknown as Entry["score"],
  ...{ note: "Read it aloud once more.", circumstances: {}, state: "kept", revision: 1 },
};
const material = (change: Partial<Entry> = {}) => ({
  student: {
    ...{ studentId: "s", initials: "W.A.", name: "Wren Abara", screenName: "W.A.", grade: "4" },
    ...{ iepFrom: null, iepTo: null },
  },
  ...{ schoolName: "Larkspur Bay School", circle: [], today: "2026-11-24" },
  goals: [{ goalId: "g", number: "5", title: "Writes a paragraph" }],
  entries: [{ ...entry, ...change }],
});
const page = (change: Partial<Entry> = {}, audience: Audience = "family", language: "en" | "es" = "en") =>
  composeAssessment(material(change), {
    ...{ audience, settings: { ...audienceDefaults[audience], language }, on: "2026-11-24" },
  });
const block = (...args: Parameters<typeof page>) => {
  const [first] = page(...args).sections[0]?.blocks ?? [];
  if (first?.kind !== "assessment") throw new Error("no assessment");
  return first;
};

describe("the page of an assessment", () => {
  it("gives each criterion with the wording of the level reached: described from 0, from 1, or not at all", () => {
    // Levels and points counted by hand.
    expect(block().rows).toEqual([
      { criterion: "Topic sentence", level: "0 of 3", meaning: "missing" },
      { criterion: "slips", level: "2 of 2", meaning: "few" },
      { criterion: "Tone", level: "3 of 4", meaning: "" },
    ]);
    expect(block()).toMatchObject({ title: "5 Writes a paragraph", comment: "Read it aloud once more." });
    expect(block().about).toBe("Tue, Nov 24, 2026, 5 of 9 points");
    const text = reportText(page(), "Assessment");
    expect(text.indexOf("Read it aloud")).toBeGreaterThan(0);
    expect(text.indexOf("Read it aloud")).toBeLessThan(text.indexOf("Topic sentence: 0 of 3: missing"));
  });

  it("leaves out a comment for the team where the family reads, and marks it where the team does", () => {
    const forTeam = { circumstances: { noteForTeam: true } };
    expect(block(forTeam).comment).toBeNull();
    expect(block(forTeam).by).toBe("Assessed by N. Halloran");
    expect(block(forTeam, "team")).toMatchObject({ comment: "Read it aloud once more." });
    expect(block(forTeam, "team").by).toMatch(/note for the team only/);
    expect(JSON.stringify(page(forTeam))).not.toContain("Read it aloud");
  });

  it("is in Spanish for a family that reads it, without a comment in another language", () => {
    expect(block({}, "family", "es")).toMatchObject({
      ...{ comment: null, columns: { criterion: "Aspecto", level: "Alcanzado", meaning: "Qué significa" } },
      by: "Evaluado por N. Halloran",
    });
  });

  it("has its comment looked through for names, and says nothing of other kinds of measures", () => {
    expect(writtenTexts(page())).toContainEqual({ page: "entries/e", text: "Read it aloud once more." });
    const trials = { entry: { kind: "trials", correct: 2, attempted: 3 } as Entry["entry"] };
    expect(page(trials).sections[0]?.blocks).toEqual([]);
  });
});
