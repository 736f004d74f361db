import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { type Caller, caller, leadsTo, problemsOf } from "#tests/route.ts";
import * as details from "./edit-student.tsx";
import * as goals from "./goals.tsx";
import * as order from "./order.tsx";
import * as setUp from "./set-up.tsx";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  noor = await caller(db.app, "noor");
});
afterAll(() => db.close());

const fields = {
  intent: "save",
  number: "9",
  title: "Counts coins",
  wording: "By May 14, 2027, Rafi will count coins in 4 of 5 trials in 3 of 4 sessions.",
  kind: "trials",
  planned: "5",
  value: "80",
  direction: "increase",
  k: "3",
  n: "4",
  windowUnit: "day",
  "purpose.probe": "yes",
  startOn: "2026-11-02",
  dueOn: "2027-05-14",
  perWeek: "2",
};
const rafi = () => ({ studentId: demo.student("Rafi") });
const save = (part: Record<string, string> = {}, params: object = rafi()) =>
  noor.send(setUp.action, { ...fields, goalId: newId(), ...part }, params);

describe("setting a goal up", () => {
  it.each([
    [{ wording: "" }, "wording", "Paste or type the goal as the IEP has it."],
    [{ title: "x".repeat(201) }, "title", "At most 200 characters."],
    [{ number: "" }, "number", "Which number has it on the IEP page?"],
    [{ kind: "" }, "kind", "Choose how the goal is measured."],
    [{ kind: "latency", report: "within", within: "soon" }, "within", /./],
    [{ kind: "steps", parts: "" }, "parts", /./],
    [{ kind: "supports", levels: "alone\nalone" }, "levels", "Two of the prompt levels have the same name."],
    [{ value: "" }, "value", "What is to be reached?"],
    [{ value: "eighty" }, "value", "Give a number."],
    [{ value: "180" }, "value", "A percentage is from 0 to 100."],
    [{ k: "5" }, "window", /first not above the second/],
    [{ k: "" }, "window", /If once is enough, 1 of 1/],
    [{ settings: "1" }, "settings", "A whole number from 2 on, or nothing."],
    [{ "joined.figure": "accuracy", "joined.value": "95" }, "joined", "This measure has no such figure."],
    [{ dueOn: "2026-11-02" }, "dueOn", "The due date lies before the start."],
    [{ annualReviewOn: "2027-02-30" }, "annualReviewOn", "This annual review date does not exist."],
    [{ baseline: "entered" }, "baselineValue", "What was the baseline?"],
    [{ baseline: "entries", baselineEntries: "0" }, "baselineEntries", /first entries, 1 to 20/],
    [{ perWeek: "0" }, "perWeek", "How many times a week, from 1 to 20?"],
    [{ wording: "{student} will count {things}." }, "blank.things", /What replaces \{things\}/],
    [{ measuredBy: newId() }, "measuredBy", "This person is not in the circle."],
  ])("refuses %o beside its field, and gives back what was typed", async (part, field, message) => {
    const answer = await problemsOf(save({ "blank.student": "Rafi", ...part }));
    expect(answer.status).toBe(422);
    expect(answer.problems).toMatchObject({ [field]: expect.stringMatching(message) as string });
  });

  it("shows the goal on the student's page as it was set up", async () => {
    const goalId = newId();
    expect(await leadsTo(save({ goalId }))).toBe(`/students/${rafi().studentId}/goals/${goalId}`);
    const { open } = await noor.load(goals.loader, { ...rafi(), goalId });
    expect(open).toMatchObject({
      number: "9",
      wording: fields.wording,
      due: "May 14, 2027",
      chart: null,
      rows: [],
      standing: { key: "too-few" },
    });
    expect(open?.criterion).toMatch(/80% on 3 of 4 days/);
    // Sent again, by a double tap or the back button, it is the same goal.
    await leadsTo(save({ goalId }));
    expect((await noor.load(goals.loader, rafi())).goals.filter(({ number }) => number === "9")).toHaveLength(
      1,
    );
  });

  it("reads a wording into the fields where scripts cannot", async () => {
    const wording =
      "By June 2027, Rafi will read 90 words per minute with 95% accuracy on 3 consecutive probes.";
    const answer = await save({ intent: "read", wording, kind: "", value: "" });
    expect((answer as { data: { typed: object } }).data.typed).toMatchObject({
      kind: "fluency",
      value: "90",
      "joined.value": "95",
      k: "3",
      n: "3",
      dueOn: "2027-06-30",
    });
  });

  it("begins from a template with what the student is called, or from the student's own page", async () => {
    const template = await db
      .owner("goal_templates")
      .where({ title: "Reads a passage aloud" })
      .first<{ template_id: string }>();
    const { start } = await noor.load(
      setUp.loader,
      { studentId: demo.student("Tobias") },
      `?template=${template.template_id}`,
    );
    expect(start.values).toMatchObject({
      "blank.student": "Toby",
      kind: "fluency",
      number: "6",
      area: "Reading",
    });
    const plain = await noor.load(setUp.loader, rafi(), "?template=nonsense");
    expect(plain).toMatchObject({ template: null, start: { known: {} } });
    await expect(noor.load(setUp.loader, rafi(), `?template=${newId()}`)).rejects.toMatchObject({
      init: { status: 404 },
    });
  });
});

describe("changing a goal", () => {
  it("needs the set-up that one has seen, a real date, and says what was decided", async () => {
    const goalId = newId();
    await leadsTo(save({ goalId }));
    const there = { ...rafi(), goalId };
    const again = { goalId, revision: "1" };
    expect((await problemsOf(save({ ...again, fromOn: "2026-13-01" }, there))).problems).toHaveProperty(
      "fromOn",
    );
    await leadsTo(save({ ...again, value: "90", reason: "team meeting" }, there));
    expect((await problemsOf(save({ ...again, value: "95" }, there))).status).toBe(409);
    const phase = { intent: "phase", phaseId: newId(), name: "", startsOn: "2026-11-09" };
    expect((await problemsOf(save(phase, there))).problems).toEqual({ name: "Give the phase a name." });
    await leadsTo(save({ ...phase, name: "number line" }, there));
    const decide = { intent: "decide", act: "met", on: "2026-11-20", revision: "1" };
    expect((await problemsOf(save(decide, there))).status).toBe(409);
    await leadsTo(save({ ...decide, revision: "2" }, there));
    const { goal } = await noor.load(setUp.loader, there);
    expect(goal).toMatchObject({
      metOn: "2026-11-20",
      revision: 3,
      phases: [{ name: "number line" }],
      entries: 0,
    });
    expect(goal?.history.map(({ said }) => said).join(" ")).toMatch(/90%.*before: 80%/);
    await leadsTo(save({ intent: "phase-remove", phaseId: phase.phaseId }, there));
    expect((await noor.load(setUp.loader, there)).goal?.phases).toEqual([]);
  });

  it("removes what was set up by mistake, and never what has an entry", async () => {
    const there = { ...rafi(), goalId: demo.goal("Rafi", "1") };
    const answer = await problemsOf(save({ intent: "remove" }, there));
    expect(answer).toMatchObject({
      status: 409,
      problems: { remove: expect.stringMatching(/discontinued/) as string },
    });
    const goalId = newId();
    await leadsTo(save({ goalId }));
    expect(await leadsTo(save({ intent: "remove" }, { ...rafi(), goalId }))).toBe(
      `/students/${rafi().studentId}`,
    );
    await expect(noor.load(goals.loader, { ...rafi(), goalId })).rejects.toMatchObject({
      init: { status: 404 },
    });
  });

  it("is for the lead; the circle reads, and goals that ended stand last", async () => {
    const teo = await caller(db.app, "teo");
    const wren = { studentId: demo.student("Wren") };
    await expect(teo.load(setUp.loader, wren)).rejects.toMatchObject({ init: { status: 403 } });
    const first = { ...wren, goalId: demo.goal("Wren", "2b") };
    await leadsTo(save({ intent: "decide", act: "discontinued", on: "2026-11-20", revision: "1" }, first));
    const seen = await teo.load(goals.loader, wren);
    expect(seen.mayEdit).toBe(false);
    expect(seen.open?.number).toBe("3");
    expect(seen.goals.map(({ number, ended }) => [number, ended])).toEqual([
      ["3", null],
      ["4", null],
      ["2b", "discontinued"],
    ]);
  });

  it("keeps the order and numbers that are sent, and refuses a number that is none", async () => {
    const caspian = { studentId: demo.student("Caspian") };
    const ids = ["3", "1", "2"].map((number) => demo.goal("Caspian", number));
    const put = (list: string[]) => {
      const rows = ids.flatMap((goalId, place) => [
        [`goal.${place}.goalId`, goalId],
        [`goal.${place}.number`, list[place] ?? ""],
      ]);
      return noor.send(order.action, Object.fromEntries(rows) as Record<string, string>, caspian);
    };
    expect((await problemsOf(put(["1", "", "x".repeat(13)]))).problems).toEqual({
      "goal.1.number": "Give it a number: 1, 2b.",
      "goal.2.number": "At most 12 characters.",
    });
    await leadsTo(put(["1", "2a", "2b"]));
    const { goals: list } = await noor.load(goals.loader, caspian);
    expect(list.map(({ goalId, number }) => [goalId, number])).toEqual(
      ids.map((goalId, index) => [goalId, ["1", "2a", "2b"][index]]),
    );
  });
});

describe("a student's details", () => {
  const student = { givenName: "Aino", familyName: "Ek", iepFrom: "2026-09-01", iepTo: "2027-08-31" };

  it.each([
    [{ givenName: " " }, "givenName"],
    [{ familyName: "x".repeat(101) }, "familyName"],
    [{ alias: "x".repeat(25) }, "alias"],
    [{ initials: "thirteen long" }, "initials"],
    [{ grade: "thirteen long" }, "grade"],
    [{ iepTo: "2027-02-29" }, "iepTo"],
    [{ iepTo: "2026-09-01" }, "iepTo"],
  ])("are refused with %o", async (part, field) => {
    const sent = { ...student, studentId: newId(), ...part } as Record<string, string>;
    const answer = await problemsOf(noor.send(details.action, sent));
    expect(answer.status).toBe(422);
    expect(Object.keys(answer.problems)).toEqual([field]);
  });

  it("are kept, with groups and absences; an administrator says whose caseload it is", async () => {
    const studentId = newId();
    await leadsTo(noor.send(details.action, { ...student, studentId }));
    const group = await db.owner("groups").where({ name: "Kitchen crew" }).first<{ group_id: string }>();
    const changed = { ...student, studentId, preferredName: "Nono", [`group.${group.group_id}`]: "on" };
    await leadsTo(noor.send(details.action, changed, { studentId }));
    await leadsTo(noor.send(details.action, { on: "2026-11-20", intent: "absent" }, { studentId }));
    const loaded = await noor.load(details.loader, { studentId });
    expect(loaded.student).toMatchObject({ calledName: "Nono", initials: "A.E.", iepTo: "2027-08-31" });
    expect(loaded.groups.filter(({ member }) => member).map(({ name }) => name)).toEqual(["Kitchen crew"]);
    expect(loaded.absences.map(({ on }) => on)).toEqual(["2026-11-20"]);
    await leadsTo(noor.send(details.action, { on: "2026-11-20", intent: "present" }, { studentId }));
    expect((await noor.load(details.loader, { studentId })).absences).toEqual([]);

    const desmond = await caller(db.app, "desmond");
    const another = { ...student, givenName: "Olle", studentId: newId() };
    expect((await problemsOf(desmond.send(details.action, another))).problems).toEqual({
      lead: "Whose caseload is it?",
    });
    const lead = demo.person("noor").personId;
    expect(await leadsTo(desmond.send(details.action, { ...another, lead }))).toBe("/caseload");
    await expect(desmond.load(details.loader, { studentId: another.studentId })).rejects.toMatchObject({
      init: { status: 404 },
    });
  });
});
