import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { composeReport } from "#core/report/compose-report.ts";
import { audienceDefaults } from "#core/report/audience.ts";
import { writtenTexts } from "#core/report/edition.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { readReportMaterial } from "#server/db/report-material.ts";
import { findGoal } from "#server/db/students.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import { type Caller, caller, leadsTo, problemsOf } from "#tests/route.ts";
import * as reportPage from "../report/report.tsx";
import * as meeting from "./meeting.tsx";
import * as ownNotes from "./own-notes.tsx";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
let teo: Caller;
let gus: Caller;
const today = "2026-11-24";
const wren = () => ({ studentId: demo.student("Wren") });
const goal = (number: string) => demo.goal("Wren", number);
const asNoor = <T>(work: Parameters<typeof inScope<T>>[3]) =>
  inScope(db.app, demo.person("noor"), wren().studentId, work);
const show = (search = "") => noor.load(meeting.loader, wren(), search);
const write = (fields: Record<string, string>) => noor.send(meeting.action, fields, wren());
const noteOf = (part: Record<string, string> = {}) => ({
  ...{ intent: "agreed", noteId: newId(), newMeetingId: newId(), goalId: "" },
  ...{ words: "Wren counts coins at home.", ...part },
});

beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  [noor, teo, gus] = await Promise.all([
    caller(db.app, "noor"),
    caller(db.app, "teo"),
    caller(db.app, "gus"),
  ]);
});
afterAll(() => db.close());

describe("the wall", () => {
  it("has the goals that need a decision first, each with a sentence, its chart, from where to where and what changed", async () => {
    const { goals, audience, language } = await show();
    expect([audience, language]).toEqual(["family", "en"]);
    expect(goals.map(({ number, reason }) => `${number} ${reason}`)).toEqual([
      "4 behind",
      "2b other",
      "3 other",
    ]);
    const { block, changed } = goals[1] ?? { block: null, changed: [] };
    expect(block?.figures.map(({ label }) => label)).toEqual(["At first", "Now"]);
    expect(block?.sentences[0]).toMatch(/^Wren is ahead/);
    // Said without statistics: from the one to the other.
    expect(changed[0]).toMatch(/^Since the start: from \d+% to \d+%\.$/);
    // Each line of the chart has its name beside it.
    expect(block?.chart?.chart.words.map(({ of }) => of)).toEqual(
      expect.arrayContaining(["last", "criterion", "aim", "trend"]),
    );
  });

  it("reads as its readers do, and what is for the team only is on it for nobody", async () => {
    const team = await show("?for=team");
    expect(team.goals[1]?.block.figures.map(({ label }) => label)).toEqual(["Baseline", "Latest"]);
    expect(team.goals[1]?.block.standing?.word).toBe("Ahead of the line");
    await db
      .owner("jots")
      .where({ student_id: wren().studentId })
      .update({ note: "zebra of the team only", team_only: true });
    // The report of the team has it.
    const report = await noor.load(reportPage.loader, wren(), "?span=all");
    expect(JSON.stringify(report)).toContain("zebra of the team only");
    for (const audience of ["team", "file", "family", "own"]) {
      const shown = JSON.stringify(await show(`?for=${audience}`));
      expect(shown).not.toContain("zebra of the team only");
    }
  });

  it("is its lead's alone; an address that is none, or a day to come, shows today", async () => {
    for (const [who, status] of [
      [teo, 403],
      [gus, 404],
    ] as const) {
      await expect(who.load(meeting.loader, wren())).rejects.toMatchObject({ init: { status } });
      await expect(who.load(ownNotes.loader, wren())).rejects.toMatchObject({ init: { status } });
      await expect(who.send(meeting.action, noteOf(), wren())).rejects.toMatchObject({ init: { status } });
    }
    for (const search of ["?for=nobody", "?on=2027-01-01", "?on=soon"])
      expect(await show(search)).toMatchObject({ audience: "family", on: today });
  });
});

describe("what is written there", () => {
  it("a note is one however often it is sent, begins the meeting, stands on the wall, and can be taken out and put back", async () => {
    const first = noteOf();
    await write(first);
    await write(first);
    const question = noteOf({ intent: "question", goalId: goal("4"), words: "Who signals at home?" });
    await write(question);
    expect((await show()).notes).toEqual([
      { noteId: first.noteId, goalId: null, kind: "agreed", words: "Wren counts coins at home." },
      { noteId: question.noteId, goalId: goal("4"), kind: "question", words: "Who signals at home?" },
    ]);
    expect(await db.owner("meetings")).toEqual([
      expect.objectContaining({ meeting_id: first.newMeetingId, held_on: today, ended_at: null }),
    ]);
    expect(await write({ intent: "take out", noteId: first.noteId })).toMatchObject({
      data: { removed: first.noteId },
    });
    expect((await show()).notes.map(({ noteId }) => noteId)).toEqual([question.noteId]);
    await write({ intent: "put back", noteId: first.noteId });
    expect((await show()).notes).toHaveLength(2);
    const acts = await db
      .owner("audit")
      .whereIn("thing", ["meeting", "meeting note"])
      .whereNull("hour")
      .orderBy("at");
    expect(acts.map(({ thing, act }) => `${thing} ${act}`).sort()).toEqual([
      ...["meeting begun", "meeting note made", "meeting note made"],
      ...["meeting note removed", "meeting note restored"],
    ]);
  });

  it("nothing written, another student's goal, or a note that is not there is said or not found", async () => {
    expect(await problemsOf(write(noteOf({ words: "  " })))).toEqual({
      status: 422,
      problems: { words: "Write what was agreed." },
    });
    expect(await problemsOf(write(noteOf({ intent: "question", words: "" })))).toMatchObject({
      problems: { words: "Write the question." },
    });
    const notThere: Record<string, string>[] = [
      noteOf({ goalId: demo.goal("Yara", "1") }),
      { intent: "take out", noteId: newId() },
      { intent: "dance" },
    ];
    for (const sent of notThere) await expect(write(sent)).rejects.toMatchObject({ init: { status: 404 } });
  });

  it("a decision is made of the goal on the wall, as at its chart", async () => {
    const sent = {
      ...{ intent: "decide", goalId: goal("4"), decisionId: newId(), phaseId: newId() },
      ...{ kind: "change instruction", on: today, phaseName: "", reason: "" },
    };
    expect((await problemsOf(write(sent))).problems).toEqual({
      phaseName: "Name the phase.",
      reason: "Give a reason: it appears in the report.",
    });
    await write({ ...sent, phaseName: "song as signal", reason: "The family sings it already." });
    const { decided } = await show("?for=team");
    // The family does not read why something was decided, unless it reads decisions.
    expect((await show()).decided[0]?.words).toMatch(/“song as signal” begins\.$/);
    expect(decided).toEqual([expect.objectContaining({ id: sent.decisionId, goalId: goal("4") })]);
    expect(decided[0]?.words).toMatch(/song as signal.*The family sings it already\.$/);
    const { setup } = await asNoor((scope) => findGoal(scope, wren().studentId, goal("4")));
    expect(setup.phases.at(-1)).toMatchObject({ name: "song as signal", startsOn: today });
  });

  it("a criterion is changed with its wording and due date, all else of the goal stays, and its history says why", async () => {
    const before = (await show()).goals.find(({ number }) => number === "2b");
    const { wording = "", value, k, n, dueOn = "" } = before?.values ?? {};
    expect({ value, k, n, dueOn }).toEqual({ value: "80", k: "3", n: "4", dueOn: before?.values["dueOn"] });
    const sent = {
      ...{ intent: "criterion", goalId: goal("2b"), revision: String(before?.revision) },
      ...{ wording: wording.replace("80%", "90%"), value: "90", k: "4", n: "5", dueOn: "2027-03-12" },
      reason: "Wren asked for more.",
    };
    for (const [change, problems] of [
      [{ reason: "" }, { reason: "Give a reason: it appears in the goal’s history." }],
      [{ value: "190" }, { value: "A percentage is from 0 to 100." }],
      [{ value: "ninety" }, { value: "Give a number." }],
      [{ k: "6" }, { window: "Give two whole numbers, the first not above the second: 3 of 4." }],
      [{ wording: "" }, { wording: expect.any(String) as string }],
    ] as const)
      expect(await problemsOf(write({ ...sent, ...change }))).toEqual({ status: 422, problems });
    const old = await asNoor((scope) => findGoal(scope, wren().studentId, goal("2b")));
    await write(sent);
    const is = await asNoor((scope) => findGoal(scope, wren().studentId, goal("2b")));
    expect(is.setup.criterion).toEqual({ ...old.setup.criterion, value: 90, window: { k: 4, n: 5 } });
    expect([is.setup.dueOn, is.wording]).toEqual(["2027-03-12", sent.wording]);
    expect([is.measure, is.strategy, is.startOn, is.schedule, is.title]).toEqual([
      ...[old.measure, old.strategy, old.startOn, old.schedule, old.title],
    ]);
    const [step] = await db
      .owner("revisions")
      .where({ thing_id: goal("2b") })
      .orderBy("revision", "desc");
    expect(step).toMatchObject({ reason: "Wren asked for more.", revision: old.revision + 1 });
    // What was changed is among what was decided that day.
    expect((await show("?for=team")).decided.at(-1)).toMatchObject({
      goalId: goal("2b"),
      words: expect.stringMatching(
        /90% in 4 of 5 sessions; before: 80% in 3 of 4.*Wren asked for more\.$/,
      ) as string,
    });
    // Sent by a page that has not seen this change, it is not written over.
    expect((await problemsOf(write({ ...sent, value: "85" }))).problems["form"]).toMatch(/^Another person/);
  });

  it("stands in the report of those who read notes, and is looked through for names before it leaves", async () => {
    const { material } = await asNoor(async (scope) => {
      const calendar = await readCalendar(scope);
      const span = { from: null, to: scope.today };
      return readReportMaterial(scope, wren().studentId, { span, order: "time", limit: 5, calendar });
    });
    const asked = { span: { from: null, to: today }, order: "time" as const, audienceName: null };
    const family = composeReport(material, {
      ...{ ...asked, audience: "family" as const, settings: audienceDefaults.family },
    });
    expect(JSON.stringify(family)).toContain("Wren counts coins at home.");
    expect(writtenTexts(family)).toContainEqual({
      page: `meeting?at=agreed&on=${today}`,
      text: "Wren counts coins at home.",
    });
    const others = composeReport(material, {
      ...{ ...asked, audience: "own" as const, settings: audienceDefaults.own },
    });
    expect(JSON.stringify(others)).not.toContain("coins at home");
  });

  it("ends once, leads to the edition for those it was shown to, and one without notes was held too", async () => {
    const end = { intent: "end", newMeetingId: newId(), for: "team" };
    expect(await leadsTo(write(end))).toBe(`/students/${wren().studentId}/editions/new?for=team`);
    // The meeting that went on is over; what is written next begins another one.
    expect(await db.owner("meetings").whereNull("ended_at")).toEqual([]);
    await write(end);
    await write(end);
    expect(await db.owner("meetings")).toHaveLength(2);
    const ends = await db.owner("audit").where({ thing: "meeting", act: "ended" });
    expect(ends).toHaveLength(2);
    await db.owner("meetings").update({ held_on: "2026-11-23" });
    expect((await show("?at=agreed&on=2026-11-23")).notes).toHaveLength(2);
    expect(await show()).toMatchObject({ notes: [], decided: { length: 2 } });
  });
});

describe("own notes", () => {
  const own = (fields: Record<string, string>) =>
    noor.send(ownNotes.action, { goalId: "", before: "", ...fields }, wren());
  const pages = async () => (await noor.load(ownNotes.loader, wren())).pages;

  it("are of the whole meeting and of each goal, of their person alone, and on no wall and in no report", async () => {
    await own({ words: "Praise first. zebra" });
    await own({ goalId: goal("3"), words: "Show the card itself. zebra" });
    expect((await pages()).map(({ name, words }) => `${name}: ${words}`)).toEqual([
      ...["For the whole meeting: Praise first. zebra", "2b Two-digit subtraction: "],
      ...["3 Asks for a break with a card: Show the card itself. zebra", "4 Moves to the next activity: "],
    ]);
    for (const audience of ["team", "file", "family", "own"])
      expect(JSON.stringify(await show(`?for=${audience}`))).not.toContain("zebra");
    // Who reads the student's record reads none of them.
    const read = ({ trx }: PersonScope) => trx("meeting_preparations").select("words");
    expect(await asNoor(read)).toHaveLength(2);
    expect(await inScope(db.app, demo.person("teo"), wren().studentId, read)).toEqual([]);
  });

  it("what another device wrote meanwhile is not written over; the same sent twice is saved", async () => {
    expect(await own({ words: "mine", before: "an older text" }).then(problemsOf)).toEqual({
      status: 422,
      problems: {
        words:
          "Not saved: these notes were changed on another device. Copy what you typed, then reload the page.",
      },
    });
    const change = { words: "Praise second.", before: "Praise first. zebra" };
    await own(change);
    expect(await own(change)).toMatchObject({ data: { saved: "Praise second." } });
    await own({ words: "", before: "Praise second." });
    expect((await pages())[0]?.words).toBe("");
    expect(await db.owner("meeting_preparations")).toHaveLength(1);
  });
});
