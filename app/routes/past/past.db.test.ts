import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { type Caller, caller, leadsTo, problemsOf } from "#tests/route.ts";
import * as today from "../today/today.tsx";
import * as past from "./past.tsx";
import * as sheets from "./sheets.tsx";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
let gus: Caller;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  [noor, gus] = await Promise.all([caller(db.app, "noor"), caller(db.app, "gus")]);
});
afterAll(() => db.close());

/** Rows of the table as a browser sends them. */
const rows = (...list: Record<string, string>[]) =>
  Object.fromEntries(
    list.flatMap((row, index) =>
      Object.entries({
        entryId: newId(),
        on: "2026-11-20",
        at: "",
        goal: "",
        line: "",
        note: "",
        ...row,
      }).map(([field, value]) => [`row.${index}.${field}`, value]),
    ),
  );
const wren = (number: string) => demo.goal("Wren", number);

describe("past observations", () => {
  it("are kept row by row, at noon where no time is given, with purpose and setting of all", async () => {
    const fields: Record<string, string> = {
      purpose: "teaching",
      setting: "resource room",
      ...rows(
        { goal: wren("2b"), line: "7/10", note: " from Monday's sheet " },
        { goal: demo.goal("Otis", "1b"), line: "", note: "" },
        { goal: wren("4"), line: "12 s, 8, n", at: "1:20", on: "2026-11-19" },
      ),
    };
    expect(await leadsTo(noor.send(past.action, fields))).toBe("/past?saved=2");
    // The same table sent twice is the same entries.
    expect(await leadsTo(noor.send(past.action, fields))).toBe("/past?saved=2");
    const kept = await db
      .owner("entries")
      .where({ purpose: "teaching", setting: "resource room" })
      .whereIn("entry_id", [fields["row.0.entryId"] ?? "", fields["row.2.entryId"] ?? ""]);
    expect(kept).toHaveLength(2);
    expect(kept.find((one: { goal_id: string }) => one.goal_id === wren("2b"))).toMatchObject({
      value: 70,
      note: "from Monday's sheet",
      observed_on: "2026-11-20",
    });
    // "1:20" is in the afternoon at a school; Los Angeles is eight hours behind Greenwich then.
    expect(kept.find((one: { goal_id: string }) => one.goal_id === wren("4"))).toMatchObject({
      observed_at: new Date("2026-11-19T21:20:00Z"),
    });
    expect(
      (await problemsOf(noor.send(past.action, rows({ goal: wren("2b"), line: "7/10", at: "6:15" }))))
        .problems,
    ).toEqual({
      "row.0.at": "Write 6:15\u00a0AM or 6:15\u00a0PM.",
    });
  });

  it("with one wrong row are kept not at all, and every problem stands at its row and field", async () => {
    const before = await db.owner("entries").count({ n: "*" }).first();
    const { status, problems } = await problemsOf(
      noor.send(
        past.action,
        rows(
          { goal: wren("2b"), line: "7/10" },
          { goal: wren("2b"), line: "eleven", on: "2099-01-01", at: "noon" },
          { goal: "", line: "3/4" },
          { goal: wren("2b"), line: "9/4" },
          { goal: wren("2b"), note: "only a note" },
          { goal: wren("2b"), line: "7/10", on: "2199-01-01" },
        ),
      ),
    );
    expect(status).toBe(422);
    expect(problems).toEqual({
      "row.1.on": "This day is still to come.",
      "row.5.on": "Choose a date from 2000 to 2100.",
      "row.1.at": "Write a time, such as 1:20\u00a0PM.",
      "row.1.line": "Write 7/10, or each trial in order: 1101110101.",
      "row.2.goal": "Choose the goal.",
      "row.3.line": expect.stringMatching(/9 correct is more than the 4/) as string,
      "row.4.line": "There is a note and nothing observed.",
    });
    expect(await db.owner("entries").count({ n: "*" }).first()).toEqual(before);
    expect((await problemsOf(noor.send(past.action, rows({})))).problems).toEqual({
      form: "Nothing is written yet: fill at least one row.",
    });
  });

  it("of a student outside the circle are not to be chosen, whoever sends their goal", async () => {
    const { problems } = await problemsOf(gus.send(past.action, rows({ goal: wren("2b"), line: "7/10" })));
    expect(problems).toEqual({ "row.0.goal": "Choose the goal." });
    const shown = await gus.load(past.loader, {}, `?student=${demo.student("Wren")}`);
    expect(shown.students).toEqual([]);
  });
});

describe("blank data sheets", () => {
  it("are of one goal, one student, one group or all, and name no child", async () => {
    const count = async (search: string) =>
      (await noor.load(sheets.loader, {}, search)).students.flatMap(({ goals }) => goals).length;
    expect(await count(`?student=${demo.student("Wren")}&goal=${wren("2b")}`)).toBe(1);
    expect(await count(`?student=${demo.student("Wren")}`)).toBe(3);
    const group = await db
      .owner("groups")
      .where({ name: "Kitchen crew" })
      .first<{ group_id: string }>("group_id");
    expect((await noor.load(sheets.loader, {}, `?group=${group?.group_id}`)).students).toHaveLength(3);
    const all = JSON.stringify(
      (await noor.load(sheets.loader, {})).students.map(({ goals }) =>
        goals.map(({ title, wording }) => title + wording),
      ),
    );
    expect(all.length).toBeGreaterThan(1000);
    expect(all).not.toMatch(/Wren|Otis|Lumi|Priya/);
  });
});

describe("today", () => {
  it("says what is due, how often this week, who usually takes it, and asks nothing of whoever is absent", async () => {
    const shown = await noor.load(today.loader);
    const student = shown.students.find(({ name }) => name === "Wren Abara");
    expect(student).toMatchObject({ absent: false, mayRecord: true, mayMark: true });
    expect(student?.goals.map(({ number }) => number)).toEqual(["2b", "3", "4"]);
    expect(student?.goals.every(({ by }) => by === null || /^\w\. /.test(by))).toBe(true);
    await db.owner("absences").insert({
      school_id: demo.schoolId,
      student_id: demo.student("Wren"),
      absent_on: shown.today,
      person_id: demo.person("noor").personId,
    });
    const later = (await noor.load(today.loader)).students.find(({ name }) => name === "Wren Abara");
    expect(later?.absent).toBe(true);
    expect(later?.goals.filter(({ state }) => state === "today")).toEqual([]);
  });

  it("says why there is no school", async () => {
    const { today: day } = await noor.load(today.loader);
    await db.owner("closures").insert({
      school_id: demo.schoolId,
      closure_id: newId(),
      name: "Storm day",
      from_on: day,
      to_on: day,
    });
    const shown = await noor.load(today.loader);
    expect(shown.noSchool).not.toBeNull();
    expect(shown.students.flatMap(({ goals }) => goals).filter(({ state }) => state === "today")).toEqual([]);
  });
});
