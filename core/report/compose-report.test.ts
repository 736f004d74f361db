import { describe, expect, it } from "vitest";
import { goalSummary, type SummarisedGoal } from "../progress/goal-figures.ts";
import { es } from "../words/es.ts";
import { composeLog } from "./compose-log.ts";
import { composeReport, type ReportMaterial } from "./compose-report.ts";
import { linesOf, type ReportBlock } from "./document.ts";

const trials = { kind: "trials", planned: 10 } as const;
const goal = (goalId: string, number: string, title: string): SummarisedGoal => ({
  ...{ goalId, number, title, studentId: "s", area: "Math", wording: `${title} at 80%.` },
  ...{
    measure: trials,
    measureVersion: 1,
    figuresFromVersion: 1,
    parentId: null,
    startOn: null,
    setUpOn: null,
  },
  ...{ annualReviewOn: null, schedule: null, strategy: "", measuredBy: null, ended: null, continues: null },
  ...{ revision: 1, summary: null },
  setup: {
    ...{ measure: trials, criterion: null, dueOn: "2027-03-14", metOn: null, enteredBaseline: null },
    phases: [],
  },
});
const [coins, sums] = [goal("g1", "1", "Counts coins"), goal("g2", "2", "Adds")];
const entry = (entryId: string, goalId: string, on: string) => ({
  ...{ entryId, goalId, on, time: "10:00", author: "N. Halloran", note: null, revision: 1, measure: trials },
  entry: { kind: "trials" as const, correct: 7, attempted: 10 },
  score: {
    ...{ value: 70, unit: "percent", numerator: 7, denominator: 10 },
    ...{ interval95: null, detail: {} },
  },
});
const nobody = { injury: false, restraint: false, seclusion: false, facts: [] };
const incident = {
  ...{ incidentId: "i", on: "2026-11-23", at: "09:10", period: null, author: "T. Brandvold" },
  ...{ revision: 1, corrected: false, ongoing: false, note: null },
  names: {
    ...{ setting: [], antecedent: [], behavior: ["shouting"], consequence: [] },
    "setting event": [],
  },
  details: {
    ...{ functions: [], length: null, intensity: null, resolved: null, resolvedMinutes: null },
    ...{ adults: [], peers: 0, harm: nobody },
  },
};
const material: ReportMaterial = {
  student: { name: "Wren Abara", grade: "4", iepTo: "2027-03-14" },
  schoolName: "Harbor Street School",
  calendar: { schoolDays: [1, 2, 3, 4, 5], years: [], closures: [], reportingPeriods: [] },
  goals: [coins, sums],
  record: {
    entries: [entry("a", "g1", "2026-11-24"), entry("b", "g2", "2026-11-23"), entry("c", "g1", "2026-11-20")],
    ...{ notMeasured: [], incidents: [incident], patterns: [] },
    decisions: [
      {
        ...{ decisionId: "d", goalId: "g2", on: "2026-11-24", author: "N. Halloran" },
        ...{ kind: "raise", reason: "It is easy now.", phaseName: null, revision: 1 },
      },
    ],
  },
  order: ["d", "a", "i", "b", "c"],
  today: "2026-11-24",
};

/** Measured twice, and then not for seven weeks. */
const points = ["2026-10-05", "2026-10-06"].map((date, at) => ({
  ...{ entryId: `e${at}`, date, value: 50, numerator: 5, denominator: 10 },
  purpose: "probe" as const,
}));
const measured = { ...coins, summary: goalSummary(coins.setup, points) };

const told = (blocks: readonly ReportBlock[]) =>
  blocks.map((block) =>
    block.kind === "line" ? block.line.entryId : block.kind === "heading" ? block.text : block.kind,
  );

describe("a report as data", () => {
  it("has the student, each goal, and the lines under their days, newest first", () => {
    const report = composeReport(material);
    expect(report.title).toBe("Wren Abara");
    expect(report.about).toEqual([
      "Running report",
      "Harbor Street School",
      "grade 4",
      "IEP to Mar 14, 2027",
    ]);
    const [goals, log] = report.sections;
    expect(goals?.blocks.map((block) => block.kind === "goal" && block.facts)).toEqual([
      ["not measured yet", "due Mar 14, 2027"],
      ["not measured yet", "due Mar 14, 2027"],
    ]);
    expect(told(log?.blocks ?? [])).toEqual([
      "Tuesday, November 24",
      ...["d", "a"],
      "Monday, November 23",
      ...["i", "b"],
      "Friday, November 20",
      "c",
    ]);
    expect(linesOf(report).map(({ entryId }) => entryId)).toEqual(material.order);
  });

  it("says where a goal stands, and that its last point is old", () => {
    const [block] = composeReport({ ...material, goals: [measured] }).sections[0]?.blocks ?? [];
    expect(block?.kind === "goal" && block.standing).toMatchObject({
      key: "too-few",
      word: "Too few points",
      why: "Two points in this phase; four are needed. Last measured 49 days ago.",
    });
  });

  it("stands by goal where that is asked, what is of no goal last", () => {
    expect(told(composeLog(material, { order: "goal" }).blocks)).toEqual([
      "1 Counts coins",
      ...["a", "c"],
      "2 Adds",
      ...["d", "b"],
      "Incidents",
      "i",
    ]);
  });

  it("holds the days of its span and no other", () => {
    const span = { from: "2026-11-21", to: "2026-11-23" };
    const report = composeReport(material, { span });
    expect(linesOf(report).map(({ entryId }) => entryId)).toEqual(["i", "b"]);
    expect(report.span).toEqual(span);
  });

  it("for a family holds no incident", () => {
    const ids = linesOf(composeReport(material, { audience: "family" })).map(({ entryId }) => entryId);
    expect(ids).toEqual(["d", "a", "b", "c"]);
    expect(linesOf(composeReport(material, { audience: "file" }))).toHaveLength(5);
  });

  it("is written in Spanish by the Spanish catalogue, but for names and notes", () => {
    const report = composeReport({ ...material, goals: [measured, sums] }, {}, es);
    expect(report.language).toBe("es");
    expect(report.about).toEqual([
      "Informe continuo",
      "Harbor Street School",
      "grado 4",
      "IEP hasta el 14 de marzo de 2027",
    ]);
    const [goals, log] = report.sections;
    const [block] = goals?.blocks ?? [];
    if (block?.kind !== "goal") throw new Error("the first block is a goal");
    expect(
      [block.standing?.word, block.standing?.why, ...block.facts].join(" ").replaceAll("\u00a0", " "),
    ).toBe(
      "Pocas mediciones todavía Dos mediciones en esta fase; se necesitan cuatro. La última medición fue hace 49 días. 50% (5 de 10) el martes, 6 de octubre fecha límite: 14 de marzo de 2027",
    );
    expect(log?.label).toBe("Registros");
    expect(told(log?.blocks ?? [])[0]).toBe("Martes, 24 de noviembre");
    expect(linesOf(report).map(({ sentence }) => sentence.replaceAll("\u00a0", " "))).toEqual([
      "Adds: se decidió elevar el criterio.",
      "Counts coins: 7 de 10 correctas (70%).",
      "Shouting.",
      "Adds: 7 de 10 correctas (70%).",
      "Counts coins: 7 de 10 correctas (70%).",
    ]);
  });

  it("says so where nothing has been recorded", () => {
    const empty = composeLog({ ...material, order: [] });
    expect(told(empty.blocks)).toEqual(["sentence"]);
  });

  it("is the same each time, and nothing but data", () => {
    const report = composeReport(material);
    expect(JSON.parse(JSON.stringify(report))).toEqual(report);
    expect(composeReport(material)).toEqual(report);
  });
});
