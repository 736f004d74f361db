import { describe, expect, it } from "vitest";
import { goalSummary, type SummarisedGoal } from "../progress/goal-figures.ts";
import { es } from "../words/es.ts";
import { composeLog } from "./compose-log.ts";
import { composeReport, type ReportMaterial } from "./compose-report.ts";
import { daysInSession } from "../schedule/calendar.ts";
import { figuresOf } from "../progress/figures-of.ts";
import { isOfSpan } from "./compose-goal.ts";
import {
  type GoalBlock,
  linesOf,
  type ReportBlock,
  type ReportDocument,
  type ReportSection,
} from "./document.ts";
import { audienceDefaults } from "./audience.ts";
import { writtenTexts } from "./edition.ts";
import { reportText } from "./report-text.ts";
import { readReportSpan, reportSpans } from "./report-spans.ts";

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
const points = (goalId: string, values: readonly [on: string, correct: number][]) =>
  values.map(([on, correct], at) => ({
    ...entry(`${goalId}-${at}`, goalId, on),
    ...{ studentId: "s", authorId: "p", observerId: at % 2 ? "p" : "q", purpose: "probe" as const },
    ...{ observer: at % 2 ? "T. Brandvold" : "N. Halloran", setting: null, sittingId: null },
    ...{ totalSoFar: null, measureVersion: 1, circumstances: {}, state: "kept" as const },
    entry: { kind: "trials" as const, correct, attempted: 10 },
    score: {
      ...{ value: 10 * correct, unit: "percent", numerator: correct, denominator: 10 },
      ...{ interval95: null, detail: {} },
    },
  }));

/** Subtraction rises from 20% to 70% after a phase line; coins were measured twice, long ago. */
const sumsEntries = points("g2", [
  ["2026-09-14", 2],
  ["2026-09-16", 2],
  ["2026-09-21", 3],
  ["2026-10-05", 5],
  ["2026-10-12", 6],
  ["2026-10-19", 6],
  ["2026-11-02", 7],
  ["2026-11-16", 7],
]);
const coinsEntries = points("g1", [
  ["2026-09-15", 5],
  ["2026-09-17", 5],
]);
const rising: SummarisedGoal = {
  ...sums,
  setup: {
    ...sums.setup,
    criterion: {
      ...{ value: 80, direction: "increase", window: { k: 3, n: 4 }, windowUnit: "session" },
      purposes: ["probe"],
    },
    phases: [
      { phaseId: "b", name: "baseline", isBaseline: true, startsOn: "2026-09-14" },
      { phaseId: "p", name: "place-value mat", isBaseline: false, startsOn: "2026-10-01" },
    ],
  },
};
const decision = {
  ...{ decisionId: "d", goalId: "g2", on: "2026-11-24", author: "N. Halloran", authorId: "p" },
  ...{ kind: "raise" as const, reason: "It is easy now.", phaseName: null, revision: 1, removed: null },
};
const calendar = {
  ...{ schoolDays: [1, 2, 3, 4, 5], closures: [] },
  years: [{ name: "2026–27", fromOn: "2026-09-08", toOn: "2027-06-18" }],
  reportingPeriods: [
    { name: "Trimester 1", fromOn: "2026-09-08", toOn: "2026-10-30" },
    { name: "Trimester 2", fromOn: "2026-11-02", toOn: "2027-03-05" },
  ],
};
const plan = {
  ...{ planId: "plan", authorId: "p", author: "N. Halloran", state: "kept" as const, revision: 1 },
  ...{
    name: "Two-task choice",
    thinking: "Subtraction comes after drawing.",
    trying: "Wren picks the order.",
  },
  ...{ beginsOn: "2026-11-09", endsOn: null },
};
const days = daysInSession(calendar, "2026-09-08", "2026-11-24");
const outburst = (on: string, at: string) => ({
  ...{ incidentId: `${on} ${at}`, on, at, period: null, setting: null, intensity: null, length: null },
  ...{ antecedents: ["told no"], behaviors: ["shouting"], consequences: [], functions: [], minutes: null },
});
const finding = {
  ...{ noteId: "n", words: "shouting came after “told no”", strength: "strong" as const, time: "" },
  ...{ on: "2026-11-20", author: "N. Halloran", from: "2026-09-08", to: "2026-11-20" },
};
const material: ReportMaterial = {
  student: {
    ...{ studentId: "student-1a2b", initials: "W.A." },
    ...{ name: "Wren Abara", screenName: "W.A.", grade: "4" },
    ...{ iepFrom: "2026-03-15", iepTo: "2027-03-14" },
  },
  schoolName: "Harbor Street School",
  circle: [
    { name: "Noor Halloran", position: "case manager" },
    { name: "Teo Brandvold", position: "" },
  ],
  calendar,
  goals: [coins, rising],
  entriesOf: (goalId) => (goalId === "g1" ? coinsEntries : goalId === "g2" ? sumsEntries : []),
  renamedOf: () => new Map(),
  decisions: [decision],
  ...{ notMeasured: [], absences: [], ratings: [], calledName: "Wren" },
  jots: { jots: [], categories: [] },
  meetingNotes: [],
  statements: [],
  parentStatements: [],
  behavior: {
    calendar,
    patterns: {
      incidents: [...days.slice(0, 12), ...days.slice(-2)].map((on) => outburst(on, "10:30")),
      ...{ days, silentDays: [] },
    },
    plans: [plan],
    findings: [finding],
  },
  record: {
    entries: [entry("a", "g1", "2026-11-24"), entry("b", "g2", "2026-11-23"), entry("c", "g1", "2026-11-20")],
    ...{ notMeasured: [], incidents: [incident], patterns: [], jots: [] },
    decisions: [decision],
  },
  order: ["d", "a", "i", "b", "c"],
  today: "2026-11-24",
};
const year = { from: "2026-09-08", to: "2026-11-24" };
const sectionOf = (report: ReportDocument, name: ReportSection["name"]) =>
  report.sections.find((section) => section.name === name)?.blocks ?? [];
function goalOf(report: ReportDocument, goalId: string): GoalBlock {
  const found = sectionOf(report, "goals").find((block) => block.kind === "goal" && block.goalId === goalId);
  if (found?.kind !== "goal") throw new Error(`no goal ${goalId}`);
  return found;
}
const plainText = (text: string) => text.replaceAll("\u00a0", " ");

const told = (blocks: readonly ReportBlock[]) =>
  blocks.map((block) =>
    block.kind === "line" ? block.line.entryId : block.kind === "heading" ? block.text : block.kind,
  );

describe("a report as data", () => {
  it("begins with who it is about, the support team and the days it covers", () => {
    const report = composeReport(material, { span: year });
    expect([report.title, report.called]).toEqual(["Wren Abara", "Running report"]);
    expect(report.head).toBe("W.A. · Sep 8, 2026 to Nov 24, 2026");
    expect(report.facts).toEqual([
      { label: "Grade", value: "4" },
      { label: "School", value: "Harbor Street School" },
      { label: "IEP", value: "Mar 15, 2026 to Mar 14, 2027" },
      { label: "Support team", value: "Noor Halloran, case manager; Teo Brandvold" },
      { label: "Covers", value: "Sep 8, 2026 to Nov 24, 2026" },
      { label: "Prepared", value: "Nov 24, 2026" },
    ]);
    expect(report.sections.map(({ name }) => name)).toEqual(["glance", "goals", "behavior", "log"]);
  });

  it("says each goal in a phrase at once: what goes well, what needs a decision, and the behavior", () => {
    const [block] = sectionOf(composeReport(material, { span: year }), "glance");
    expect(
      block?.kind === "glance" &&
        block.columns.map(({ label, items }) => [label, plainText(items[0]?.text ?? "")]),
    ).toEqual([
      ["Going well", "Adds: 20% → 70%. Ahead of the line. Pace: not clear yet."],
      ["Needs a decision", "Counts coins: 50%. Too few points. Last measured 68 days ago."],
      ["Behavior", "14 incidents in 56 observed school days."],
    ]);
  });

  it("tells of a goal its figures, standing, pace, changes, decisions and what the result is made of", () => {
    const goal = goalOf(composeReport(material, { span: year }), "g2");
    expect(goal.figures).toEqual([
      { label: "Baseline", value: "20%", about: "median of 3 points" },
      { label: "Latest", value: "70%", about: "7\u00a0of\u00a010, Nov 16, 2026" },
    ]);
    expect(goal.standing).toMatchObject({
      word: "Ahead of the line",
      why: "All of the last four points are above the aim line. No recent session reached 80%; three of four are needed.",
    });
    expect(goal.sentences[0]).toBe(
      "No clear trend (95% interval 0 to 10 points a week). The goal needs ½ point a week from here. It is not clear yet whether the pace is enough.",
    );
    expect(goal.facts.map(({ value }) => value)).toEqual(["80% in 3 of 4 sessions", "Mar 14, 2027"]);
    const lists = Object.fromEntries(goal.lists.map(({ label, items }) => [label, items]));
    expect(lists["What changed"]?.map(({ text }) => plainText(text))).toEqual([
      "Since baseline: 20% → 60%, +40 points (median of 3 baseline points, of 5 now); points since the change beat baseline points in 100% of 15 comparisons (95% interval 57–100).",
      "Since Trimester 1 ended on Fri, Oct 30: 60% → 70%, +10 points (medians of the last 3 then, 2 since).",
    ]);
    expect(lists["Decisions"]).toEqual([
      {
        id: "d",
        text: "Decided to raise the criterion. It is easy now.",
        aside: "Nov 24, 2026 · N. Halloran",
      },
    ]);
    expect(lists["What the result is made of"]?.map(({ text }) => plainText(text))).toEqual([
      "By person: N. Halloran 65% (13 of 20) and T. Brandvold 60% (18 of 30).",
    ]);
    expect(goal.chart?.chart.runs.flat()).toHaveLength(8);
    expect(goal.chart?.description).toContain("8 points from");
  });

  it("tells of an earlier span how it was on its last day", () => {
    const report = composeReport(material, { span: { from: "2026-09-08", to: "2026-10-30" } });
    const goal = goalOf(report, "g2");
    expect(goal.figures[1]).toEqual({
      label: "Latest",
      value: "60%",
      about: "6\u00a0of\u00a010, Oct 19, 2026",
    });
    expect(goal.standing?.word).toBe("Too few points");
    expect(goal.lists.map(({ label }) => label)).toEqual(["What changed", "What the result is made of"]);
    expect(goal.chart?.chart.runs.flat()).toHaveLength(6);
  });

  it("leaves out goals that had not begun, or were closed before and not measured since", () => {
    const span = { from: "2026-11-01", to: "2026-11-24" };
    const on = (more: Partial<SummarisedGoal>) => isOfSpan({ ...coins, ...more }, span);
    const ended = { how: "discontinued" as const, on: "2026-10-30", reason: "" };
    expect(on({})).toBe(true);
    expect(on({ startOn: "2026-11-25" })).toBe(false);
    expect(on({ ended })).toBe(false);
    expect(on({ ended: { ...ended, on: "2026-11-01" } })).toBe(true);
    expect(on({ setup: { ...coins.setup, metOn: "2026-10-01" } })).toBe(false);
    const summary = goalSummary(coins.setup, figuresOf(coins, points("g1", [["2026-11-03", 5]])));
    expect(on({ ended, summary })).toBe(true);
    expect(isOfSpan({ ...coins, ended }, { from: null, to: "2026-11-24" })).toBe(true);
  });

  it("counts the behavior, compares it with the period before, and has findings and plans in their own section", () => {
    const blocks = sectionOf(composeReport(material, { span: year }), "behavior");
    expect(blocks.map(({ kind }) => kind)).toEqual([
      ...["sentence", "sentence", "sentence", "weeks", "heading", "line", "plan"],
    ]);
    const [rate, change, often] = blocks.flatMap((block) => (block.kind === "sentence" ? block.text : []));
    expect(rate).toMatch(/^14 incidents in 56 observed school days: 0\.25 a day \(95% interval/);
    expect(change).toMatch(
      /^Trimester 1 compared with Trimester 2 so far\. Before: 12 in 39 observed days, 0\.31 a day\. Since: 2 in 17, 0\.12 a day\./,
    );
    expect(often).toBe("Recorded most often: shouting (14). Just before: told no (14).");
    const weeks = blocks.find((block) => block.kind === "weeks");
    expect(weeks?.weeks.reduce((sum, { n }) => sum + n, 0)).toBe(14);
    expect(weeks?.plans).toEqual([{ on: "2026-11-09", name: "Two-task choice" }]);
    const shown = blocks.find((block) => block.kind === "plan");
    expect(shown).toMatchObject({ days: "since Nov 9, 2026" });
    expect(shown?.facts.map(({ value }) => value)).toEqual([plan.thinking, plan.trying]);
    expect(shown?.changed).toMatch(/^Before: 12 in 44 observed days.* Since: 2 in 12/);
  });

  it("has no section on behavior where there is none", () => {
    const calm = { ...material.behavior, patterns: { incidents: [], days, silentDays: days } };
    const behavior = { ...calm, plans: [], findings: [] };
    const report = composeReport({ ...material, behavior }, { span: year });
    expect(report.sections.map(({ name }) => name)).toEqual(["glance", "goals", "log"]);
  });

  it("has the lines under their days, newest first", () => {
    const report = composeReport(material, { span: year });
    expect(told(sectionOf(report, "log"))).toEqual([
      "Tue, Nov 24, 2026",
      ...["d", "a"],
      "Mon, Nov 23, 2026",
      ...["i", "b"],
      "Fri, Nov 20, 2026",
      "c",
    ]);
    const log = report.sections.filter(({ name }) => name === "log");
    expect(linesOf({ sections: log }).map(({ entryId }) => entryId)).toEqual(material.order);
  });

  it("by goal has each line under its goal with its day, and without the goal's title", () => {
    const { blocks } = composeLog(material, { order: "goal" });
    expect(told(blocks)).toEqual([
      "1 Counts coins",
      ...["a", "c"],
      "2 Adds",
      ...["d", "b"],
      "Incidents",
      "i",
    ]);
    const [line] = blocks.flatMap((block) => (block.kind === "line" ? block.line : []));
    expect([line?.sentence, line?.by].map((text) => plainText(text ?? ""))).toEqual([
      "7 of 10 correct (70%).",
      "Tue, Nov 24, 2026 · 10:00 AM · N. Halloran",
    ]);
  });

  it("holds the days of its span and no other", () => {
    const { blocks } = composeLog(material, { span: { from: "2026-11-21", to: "2026-11-23" } });
    expect(blocks.flatMap((block) => (block.kind === "line" ? block.line.entryId : []))).toEqual(["i", "b"]);
  });

  it("for a family holds no incident, in no section", () => {
    const report = composeReport(material, { audience: "family" });
    expect(linesOf(report).map(({ entryId }) => entryId)).toEqual(["a", "b", "c"]);
    expect(report.sections.map(({ name }) => name)).toEqual(["glance", "goals", "log"]);
    const text = JSON.stringify({ ...report, sections: report.sections.map(({ blocks }) => blocks) });
    expect(text).not.toMatch(/incident|houting|Two-task/);
  });

  it("is written in Spanish by the Spanish catalogue, but for names and notes", () => {
    const report = composeReport(material, { span: year }, es);
    expect(report.language).toBe("es");
    expect(report.facts.slice(0, 3).map(({ label, value }) => `${label} ${value}`)).toEqual([
      "Grado 4",
      "Escuela Harbor Street School",
      "IEP del 15 de marzo de 2026 al 14 de marzo de 2027",
    ]);
    const goal = goalOf(report, "g2");
    expect(goal.standing?.word).toBe("Por delante de lo esperado");
    expect(told(sectionOf(report, "log"))[0]).toBe("Mar, 24 de nov de 2026");
    const { blocks } = composeLog(material, {}, es);
    expect(blocks.flatMap((block) => (block.kind === "line" ? plainText(block.line.sentence) : []))).toEqual([
      "Adds: se decidió elevar el criterio.",
      "Counts coins: 7 de 10 correctas (70%).",
      "Shouting.",
      "Adds: 7 de 10 correctas (70%).",
      "Counts coins: 7 de 10 correctas (70%).",
    ]);
  });

  it("says so where nothing has been recorded, or no goal was open", () => {
    expect(told(composeLog({ ...material, order: [] }).blocks)).toEqual(["sentence"]);
    const before = composeReport({ ...material, goals: [] }, { audience: "family" });
    expect(sectionOf(before, "glance")).toEqual([
      { kind: "sentence", text: "No goal was open in this span." },
    ]);
  });

  it("is the same each time, and nothing but data", () => {
    const report = composeReport(material);
    expect(JSON.parse(JSON.stringify(report))).toEqual(report);
    expect(composeReport(material)).toEqual(report);
  });
});

describe("the spans of a report", () => {
  const spans = reportSpans(calendar, "2026-11-24");
  const read = (address: string) => readReportSpan(new URLSearchParams(address), spans, "2026-11-24");

  it("are this school year, its reporting periods, and everything", () => {
    expect(spans.map(({ key, words, from, to }) => [key, words, from, to])).toEqual([
      ["", "This school year", "2026-09-08", "2026-11-24"],
      ["period-2026-11-02", "Trimester 2 so far", "2026-11-02", "2026-11-24"],
      ["period-2026-09-08", "Trimester 1", "2026-09-08", "2026-10-30"],
      ["all", "Everything through Nov 24, 2026", null, "2026-11-24"],
    ]);
  });

  it("have earlier school years, and in the summer the last one first", () => {
    const years = [{ name: "2025–26", fromOn: "2025-09-02", toOn: "2026-06-12" }, ...calendar.years];
    expect(reportSpans({ ...calendar, years }, "2026-11-24").map(({ words }) => words)).toContain(
      "School year 2025–26",
    );
    const [summer] = reportSpans({ ...calendar, years }, "2026-07-15");
    expect(summer).toMatchObject({ words: "School year 2025–26", to: "2026-06-12" });
    const [none] = reportSpans({ ...calendar, years: [] }, "2026-11-24");
    expect(none).toMatchObject({ words: "The last 12 months", from: "2025-11-25" });
  });

  it("are read from an address; what does not fit is the usual one", () => {
    expect(read("span=period-2026-09-08").to).toBe("2026-10-30");
    expect(read("span=zip").key).toBe("");
    expect(read("span=own&from=2026-10-09&to=2026-10-01")).toMatchObject({
      ...{ from: "2026-10-01", to: "2026-10-09" },
    });
    expect(read("span=own&from=2030-01-01&to=zip")).toMatchObject({ from: "2026-09-08", to: "2026-11-24" });
  });
});

describe("what parents stated", () => {
  const stated = (part: "record" | "goal" | "incidents", goalId: string | null = null) => ({
    ...{ statementId: `${part} ${goalId}`, part, goalId, byWhom: "Father", receivedOn: "2026-11-03" },
    words: "We see it otherwise.\n\nHe counts at home.",
  });
  const all = {
    ...material,
    parentStatements: [stated("record"), stated("goal", "g1"), stated("goal", "gone"), stated("incidents")],
  };
  const labels = (report: ReportDocument) =>
    sectionOf(report, "parents").flatMap((block) =>
      block.kind === "meeting" ? block.lists.map(({ label }) => plainText(label)) : [],
    );

  // 34 CFR 99.21(c)(2): disclosed whenever the portion of the record is to which the statement relates.
  it("is in every report that holds the part it is about, in their own words, whatever the audience leaves out", () => {
    const report = composeReport(all, { span: year });
    expect(labels(report)).toEqual([
      "Father, Nov 3, 2026",
      "Father, Nov 3, 2026, about: Goal 1 Counts coins",
      "Father, Nov 3, 2026, about: incidents",
    ]);
    expect(report.sections.map(({ name }) => name)).toEqual([
      "glance",
      "goals",
      "behavior",
      "parents",
      "log",
    ]);
    expect(reportText(report)).toContain("He counts at home.");
    expect(writtenTexts(report)).toContainEqual({ page: "rights#statements", text: "He counts at home." });
    const bare = { ...audienceDefaults.own, sections: ["glance"] as const, fields: [] };
    expect(labels(composeReport(all, { audience: "own", span: year, settings: bare }))).toHaveLength(2);
  });

  it("is not where its part is not: incidents not with a family’s report, a goal not outside its span", () => {
    expect(labels(composeReport(all, { audience: "family", span: year }))).toHaveLength(2);
    const later = { ...coins, startOn: "2026-11-20" };
    const before = composeReport(
      { ...all, goals: [later] },
      { span: { from: "2026-09-08", to: "2026-11-01" } },
    );
    expect(labels(before)).not.toContain("Father, Nov 3, 2026, about: Goal 1 Counts coins");
    expect(sectionOf(composeReport(material, { span: year }), "parents")).toEqual([]);
  });
});
