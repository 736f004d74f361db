import { linesOf } from "#core/report/document.ts";
import { v7 as newId } from "uuid";
import { parse } from "csv-parse/sync";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { type Caller, caller, leadsTo, problemsOf } from "#tests/route.ts";
import { localDay } from "#core/dates/school-time.ts";
import { school } from "#demo/school.ts";
import * as report from "../report/report.tsx";
import * as decision from "./decision.tsx";
import * as goalCsv from "./goal-csv.ts";
import * as goalSvg from "./goal-svg.tsx";
import * as goals from "./goals.tsx";
import { testNow } from "#tests/clock.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
let teo: Caller;
let gus: Caller;
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

const notThere = { init: { status: 404 } };
const flat = () => ({ studentId: demo.student("Wren"), goalId: demo.goal("Wren", "4") });
const open = async () => (await noor.load(goals.loader, flat())).open;
/** A day of the school, whose clock is hours behind that of most servers. */
const day = (back: number) => localDay(school.timeZone, testNow() - back * 86_400_000);
const filled = (more: Record<string, string> = {}) => ({
  ...{ decisionId: newId(), phaseId: newId(), kind: "keep going", on: day(1), phaseName: "" },
  ...{ reason: "it is too early to tell", ...more },
});

describe("the question before something is changed", () => {
  it("is asked of the flat goal, and answered for as long as nothing newer lies behind", async () => {
    const advice = async () => (await noor.load(goals.loader, flat())).open?.says.advice;
    expect(await advice()).toMatchObject({ key: "change", asksTaught: true });
    await leadsTo(noor.send(goals.action, filled({ kind: "taught as planned", on: day(0) }), flat()));
    expect(await advice()).toMatchObject({
      asksTaught: false,
      words: expect.stringContaining("Change something.") as string,
    });
  });
});

describe("a decision on a goal", () => {
  it("stands at the chart and in the report, once however often it is sent", async () => {
    const typed = filled();
    for (let time = 0; time < 2; time += 1)
      expect(await leadsTo(noor.send(goals.action, typed, flat()))).toMatch(/\/goals\/[-\w]+$/);
    const said = {
      sentence: "Moves to the next activity: decided to keep going.",
      note: "It is too early to tell",
    };
    expect(
      (await open())?.says.decisions.filter(({ decisionId }) => decisionId === typed.decisionId),
    ).toMatchObject([{ said, author: "N. Halloran" }]);
    const read = await noor.load(report.loader, { studentId: demo.student("Wren") });
    expect(linesOf(read.report).filter(({ entryId }) => entryId === typed.decisionId)).toMatchObject([
      { ...said, page: `decisions/${typed.decisionId}` },
    ]);
  });

  it("begins a phase with a change of instruction: a line in the chart, from its day on", async () => {
    const typed = filled({ kind: "change instruction", phaseName: "number line", on: day(0) });
    await leadsTo(noor.send(goals.action, typed, flat()));
    const page = await open();
    expect(page?.chart?.phases.at(-1)).toMatchObject({ label: "number line", line: true });
    expect(page?.standing.why).toContain("No points since the new phase began on");
    expect(page?.says.decisions[0]?.said.sentence).toContain("“number line” begins");
  });

  it("says beside each field what is missing, and keeps what was typed", async () => {
    const wrong = filled({ kind: "new phase", reason: " ", on: day(-200) });
    const answer = await problemsOf(noor.send(goals.action, wrong, flat()));
    expect(answer).toEqual({
      status: 422,
      problems: {
        on: "A phase can begin at most two months from now.",
        reason: "Give a reason: it appears in the report.",
        phaseName: "Name the phase.",
      },
    });
    expect((await problemsOf(noor.send(goals.action, filled({ on: day(-2) }), flat()))).problems).toEqual({
      on: "This day is yet to come.",
    });
    expect((await problemsOf(noor.send(goals.action, filled({ kind: "" }), flat()))).problems).toHaveProperty(
      "kind",
    );
  });

  it("is for the lead; that it was taught as planned can be said by whoever records", async () => {
    await expect(teo.send(goals.action, filled(), flat())).rejects.toMatchObject({ init: { status: 403 } });
    await expect(gus.send(goals.action, filled(), flat())).rejects.toMatchObject(notThere);
    const otherGoal = { studentId: demo.student("Wren"), goalId: demo.goal("Otis", "1a") };
    await expect(noor.send(goals.action, filled(), otherGoal)).rejects.toMatchObject(notThere);
    await leadsTo(teo.send(goals.action, filled({ kind: "taught as planned", reason: "" }), flat()));
    expect((await open())?.says.decisions.map(({ said }) => said)).toContainEqual({
      sentence: "Moves to the next activity: taught as planned.",
      note: null,
    });
  });

  it("is corrected with what stood before kept, and not over what somebody else changed meanwhile", async () => {
    const typed = filled({ kind: "raise" });
    await leadsTo(noor.send(goals.action, typed, flat()));
    const page = { studentId: demo.student("Wren"), decisionId: typed.decisionId };
    const corrected = {
      intent: "correct",
      seen: "1",
      on: day(3),
      reason: "three of four met",
      why: "a slip",
    };
    await expect(teo.send(decision.action, corrected, page)).rejects.toMatchObject({ init: { status: 403 } });
    await expect(gus.send(decision.action, corrected, page)).rejects.toMatchObject(notThere);
    const wrong = { ...corrected, on: day(-2), reason: " " };
    expect(await problemsOf(noor.send(decision.action, wrong, page))).toEqual({
      status: 422,
      problems: { on: "This day is yet to come.", reason: "Give a reason: it appears in the report." },
    });
    await leadsTo(noor.send(decision.action, corrected, page));
    const loaded = await noor.load(decision.loader, page);
    expect(loaded).toMatchObject({
      on: day(3),
      said: { note: "Three of four met" },
      history: [
        { act: "made", by: "N. Halloran", note: "It is too early to tell" },
        { act: "corrected", by: "N. Halloran", reason: "a slip", note: "Three of four met" },
      ],
    });
    expect(
      (await open())?.says.decisions.find(({ decisionId }) => decisionId === typed.decisionId)?.said.note,
    ).toBe("Three of four met");
    // A form that was opened before, and one sent twice.
    const late = await problemsOf(noor.send(decision.action, { ...corrected, reason: "another" }, page));
    expect([late.status, late.problems["form"]]).toEqual([
      409,
      expect.stringContaining("changed in the meantime"),
    ]);
    // The same again changes nothing and leaves no history.
    await leadsTo(noor.send(decision.action, { ...corrected, seen: "2" }, page));
    expect((await noor.load(decision.loader, page)).history).toHaveLength(2);
  });

  it("is taken out of the report and put back, by its author or the lead", async () => {
    const typed = filled({ kind: "more data" });
    await leadsTo(noor.send(goals.action, typed, flat()));
    const page = { studentId: demo.student("Wren"), decisionId: typed.decisionId };
    await expect(teo.send(decision.action, { intent: "remove" }, page)).rejects.toMatchObject({
      init: { status: 403 },
    });
    const stands = async () =>
      (await open())?.says.decisions.some(({ decisionId }) => decisionId === typed.decisionId);
    await leadsTo(noor.send(decision.action, { intent: "remove" }, page));
    expect(await stands()).toBe(false);
    expect((await noor.load(decision.loader, page)).removed?.by).toBe("N. Halloran");
    await leadsTo(noor.send(decision.action, { intent: "restore" }, page));
    expect(await stands()).toBe(true);
  });
});

describe("the points of a goal as a file", () => {
  it("hold one student's goal by initials, or by the full name where that is asked for, each point with its phase, value and counts", async () => {
    const wanted = { studentId: demo.student("Wren"), goalId: demo.goal("Wren", "2b") };
    const answer = await noor.load(goalCsv.loader, wanted);
    expect(answer.headers.get("Content-Disposition")).toMatch(
      /^attachment; filename="WA-[0-9a-f]{4}-goal-2b\.csv"$/,
    );
    const text = await answer.text();
    expect(text).not.toMatch(/Wren|Abara/);
    expect(await (await noor.load(goalCsv.loader, wanted, "?name=full")).text()).toContain("Wren Abara");
    const rows: Record<string, string>[] = parse(text, { columns: true, bom: true });
    const page = (await noor.load(goals.loader, wanted)).open;
    expect(rows).toHaveLength(page?.chart?.runs.flat().length ?? -1);
    expect(rows[0]).toMatchObject({
      ...{ student: "W.A.", goal: "2b Two-digit subtraction", "value is": "Percent correct" },
      ...{ phase: "baseline", direction: "increase", criterion: "80", window: "3 of 4" },
      of: "10",
    });
    expect(new Set(rows.map(({ phase }) => phase))).toEqual(
      new Set(["baseline", "counting blocks", "place-value mat"]),
    );
    await expect(gus.load(goalCsv.loader, wanted)).rejects.toMatchObject(notThere);
  });
});

describe("the chart of a goal as a file", () => {
  it("is a drawing that stands by itself: its colors are in it, and no name", async () => {
    const wanted = { studentId: demo.student("Wren"), goalId: demo.goal("Wren", "2b") };
    const answer = await noor.load(goalSvg.loader, wanted);
    expect(answer.headers.get("Content-Type")).toContain("image/svg+xml");
    const text = await answer.text();
    expect(text).toMatch(/^<svg xmlns="http:\/\/www.w3.org\/2000\/svg" width="800" height="\d+"/);
    expect(text).not.toMatch(/Wren|Abara/);
    expect(text).toContain("W.A. · 2b Two-digit subtraction · Nov ");
    expect(text).toContain("dashed line: aim line");
    const named = await (await noor.load(goalSvg.loader, wanted, "?name=full")).text();
    expect(named).toContain("Wren Abara · 2b ");
    // Every class that is drawn with has a color in the file.
    const styles = /<style>([^<]*)<\/style>/.exec(text)?.[1] ?? "";
    const used = [...text.matchAll(/class="([^"]*)"/g)].flatMap(([, names = ""]) => names.split(" "));
    const colored = used
      .filter((name) => /^(fill|stroke)-/.test(name))
      .map((name) => name.replace("!", "\\!"));
    expect([...new Set(colored)].filter((name) => !styles.includes(`.${name}{`))).toEqual([]);
    await expect(gus.load(goalSvg.loader, wanted)).rejects.toMatchObject(notThere);
  });

  it("shows a rate by factors where that is asked for", async () => {
    const rate = { studentId: demo.student("Anselm"), goalId: demo.goal("Anselm", "3") };
    const page = (await noor.load(goals.loader, rate, "?axis=log")).open;
    expect([page?.mayBeLog, page?.scale]).toEqual([true, "log"]);
    expect(page?.chart?.others.map(({ label }) => label)).toEqual(["errors"]);
    expect((await noor.load(goals.loader, rate)).open?.scale).toBe("linear");
  });
});
