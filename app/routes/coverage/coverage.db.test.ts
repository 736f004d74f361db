import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { lookAhead } from "#server/dispatch/hear.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { type Caller, caller, leadsTo, problemsOf, statusOf } from "#tests/route.ts";
import * as today from "../today/today.tsx";
import * as coverage from "./coverage.tsx";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
let teo: Caller;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  noor = await caller(db.app, "noor");
  teo = await caller(db.app, "teo");
});
afterAll(() => db.close());

const read = (search = "") => noor.load(coverage.loader, {}, search);
const goalOf = async (given: "Wren" | "Anselm", number: string, search = "") => {
  const student = (await read(search)).students.find(({ studentId }) => studentId === demo.student(given));
  return student?.goals.find((goal) => goal.number === number);
};

describe("coverage", () => {
  it("has for each week the days with data, as the entries have them", async () => {
    const { mondays } = await read();
    const goal = await goalOf("Wren", "2b");
    const { rows } = await db.owner.raw<{ rows: { monday: string; n: number; people: number }[] }>(
      `select date_trunc('week', observed_on)::date as monday, count(distinct observed_on)::int as n,
         count(distinct coalesce(observer_id, author_id))::int as people
       from entries where goal_id = ? and state = 'kept' and observed_on >= ? group by 1 order by 1`,
      [demo.goal("Wren", "2b"), mondays[0]?.monday ?? ""],
    );
    expect(rows.length).toBeGreaterThan(1);
    const taken = new Map(goal?.weeks.map((week) => [week.monday, week.taken]));
    for (const { monday, n } of rows) expect(taken.get(monday)).toBe(n);
    const days = rows.reduce((sum, { n }) => sum + n, 0);
    expect(goal?.by.reduce((sum, { n }) => sum + n, 0)).toBe(days);
    expect(goal?.purposes[0]?.[0]).toBe("probe");
  });

  it("counts for each person what they recorded, and lists people by name, without an order of amounts", async () => {
    const { people, mondays } = await read();
    const names = people.map(({ name }) => name);
    expect(names).toEqual(names.toSorted((a, b) => a.localeCompare(b)));
    const { rows } = await db.owner.raw<{ rows: { n: number }[] }>(
      `select count(distinct (e.goal_id, e.observed_on))::int as n from entries e join goals g on g.goal_id = e.goal_id
       where coalesce(e.observer_id, e.author_id) = ? and e.state = 'kept' and e.observed_on >= ? and g.ended is null`,
      [demo.person("teo").personId, mondays[0]?.monday ?? ""],
    );
    const found = people.find(({ name }) => name === "Teo Brandvold");
    expect(found?.weeks.reduce((sum, { recorded }) => sum + recorded, 0)).toBe(rows[0]?.n);
    expect(found?.weeks.every(({ taken, asked }) => taken <= asked)).toBe(true);
  });

  it("names goals without data and whose they are, and looks back as many weeks as are chosen", async () => {
    const { quiet } = await read();
    expect(quiet.find(({ name }) => name === "Anselm Birke")).toMatchObject({
      ...{ usually: "Teo Brandvold", leads: "Noor Halloran", number: "2" },
    });
    expect((await read("?weeks=8")).mondays).toHaveLength(8);
    expect((await read("?weeks=1000")).mondays).toHaveLength(4);
  });

  it("has how many days of each phase a second observer saw", async () => {
    const goalId = demo.goal("Wren", "2b");
    const before = await goalOf("Wren", "2b");
    const phase = before?.phases.at(-1);
    const entry: { observed_at: Date; observed_on: string } | undefined = await db
      .owner("entries")
      .where({ goal_id: goalId, state: "kept" })
      .orderBy("observed_at", "desc")
      .first();
    await db.owner("second_observations").insert({
      ...{
        school_id: demo.schoolId,
        observation_id: newId(),
        goal_id: goalId,
        student_id: demo.student("Wren"),
      },
      ...{ measure_version: 1, person_id: demo.person("ines").personId, made_hash: "x".repeat(64) },
      ...{ observed_at: entry?.observed_at, observed_on: entry?.observed_on, own: false },
      ...{ entry: JSON.stringify({}), score: JSON.stringify({}) },
    });
    const after = (await goalOf("Wren", "2b"))?.phases.at(-1);
    expect(after).toMatchObject({ days: phase?.days, seconded: (phase?.seconded ?? 0) + 1 });
  });

  it("shows to each person the students in whose circle they are", async () => {
    const mine = await teo.load(coverage.loader);
    const ids = mine.students.map(({ studentId }) => studentId);
    const own = await db
      .owner("circle")
      .where({ person_id: demo.person("teo").personId })
      .pluck("student_id");
    expect(new Set(ids)).toEqual(new Set(own));
    expect(mine.tomorrow.every(({ mayAsk }) => !mayAsk)).toBe(true);
    const gus = await caller(db.app, "gus");
    const ofGus = (await gus.load(coverage.loader)).students.map(({ studentId }) => studentId);
    expect(ofGus).not.toContain(demo.student("Wren"));
  });
});

describe("what is due", () => {
  const askFor = (person: "teo" | "ines" | "gus", on: string, askId = newId()) => ({
    ...{ intent: "ask", askId, studentId: demo.student("Wren"), goalId: demo.goal("Wren", "2b"), on },
    personId: demo.person(person).personId,
  });

  it("is given to a person, who finds it under Today, and is given to another or taken back", async () => {
    const { today: day } = await noor.load(today.loader);
    const goalOfToday = async (who: Caller) =>
      (await who.load(today.loader)).students
        .flatMap(({ goals }) => goals)
        .find(({ goalId }) => goalId === demo.goal("Wren", "2b"));
    const ask = askFor("teo", day);
    expect(await leadsTo(noor.send(coverage.action, ask, {}, "?weeks=8"))).toBe("/coverage?weeks=8");
    await leadsTo(noor.send(coverage.action, ask));
    const open = () => db.owner("data_asks").whereNull("taken_back_at");
    expect(await open()).toHaveLength(1);
    expect(await goalOfToday(teo)).toMatchObject({ mine: true, ask: "asked by Noor Halloran" });
    expect(await goalOfToday(noor)).toMatchObject({ mine: false, by: "Teo Brandvold" });
    await leadsTo(noor.send(coverage.action, askFor("ines", day)));
    expect(await open()).toMatchObject([{ person_id: demo.person("ines").personId }]);
    await leadsTo(noor.send(coverage.action, { ...ask, intent: "take back" }));
    expect(await open()).toEqual([]);
    expect(await goalOfToday(teo)).toMatchObject({ ask: null });
    const events = await db.owner("audit").where({ thing: "data ask" }).orderBy("audit_id").pluck("act");
    expect(events).toEqual(["made", "taken back", "made", "taken back"]);
  });

  it("is given by a lead only, and to somebody who records for the student", async () => {
    const { today: day } = await noor.load(today.loader);
    expect(await statusOf(teo.send(coverage.action, askFor("ines", day)))).toBe(403);
    const outside = await problemsOf(noor.send(coverage.action, askFor("gus", day)));
    expect(outside.problems).toEqual({ personId: "This person does not record for this student now." });
    expect(
      await problemsOf(noor.send(coverage.action, { ...askFor("teo", day), personId: "" })),
    ).toMatchObject({ status: 422, problems: { personId: "Choose a person." } });
    const other = { ...askFor("teo", day), goalId: demo.goal("Caspian", "2") };
    expect(await statusOf(noor.send(coverage.action, other))).toBe(404);
  });

  it("is in the morning's message of who is asked by name", async () => {
    const { today: day } = await noor.load(today.loader);
    await leadsTo(noor.send(coverage.action, askFor("ines", day)));
    await lookAhead(db.app, demo.schoolId, true);
    const due = await db.owner("messages").where({ kind: "due" }).pluck("person_id");
    expect(due).toContain(demo.person("ines").personId);
  });
});
