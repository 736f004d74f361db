import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { type Caller, caller, leadsTo, problemsOf, statusOf } from "#tests/route.ts";
import { keep, recordedItem } from "#tests/recorded.ts";
import { signedIn } from "#tests/session.ts";
import { startWebServer } from "#tests/web-server.ts";
import * as nextYear from "./next-year.tsx";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  noor = await caller(db.app, "noor");
});
afterAll(() => db.close());

const read = (who = noor) => who.load(nextYear.loader);
/** The fields as the page sends them where nothing is changed. */
async function fieldsOf(who = noor): Promise<Record<string, string>> {
  const { ids, draft, groups, students } = await read(who);
  return Object.fromEntries([
    ...[
      ["rollOverId", ids.rollOver],
      ["yearId", ids.year],
    ],
    ...(draft
      ? [
          ["yearName", draft.name],
          ["fromOn", draft.fromOn],
          ["toOn", draft.toOn],
        ]
      : []),
    ...groups.flatMap(({ groupId }) => [
      [`shownGroup.${groupId}`, "yes"],
      [`group.${groupId}`, "on"],
    ]),
    ...students.flatMap(({ studentId, grade, goals, people }) => [
      ...[
        [`shown.${studentId}`, "yes"],
        [`grade.${studentId}`, grade],
      ],
      ...goals.flatMap(({ goalId, newGoalId }) => [
        [`goal.${goalId}`, ""],
        [`new.${goalId}`, newGoalId],
      ]),
      ...people.map(({ personId }) => [`part.${studentId}.${personId}`, "on"]),
    ]),
  ]) as Record<string, string>;
}
const send = (intent: string, fields: Record<string, string>, who = noor) =>
  who.send(nextYear.action, { ...fields, intent });
const preview = async (fields: Record<string, string>) => {
  const answer = (await send("preview", fields)) as { data: { preview?: string[] } };
  return answer.data.preview;
};
/** Everything that is changed, as it is in the database. */
async function stateOf() {
  const [years, spans, groups, students, goals, parts] = await Promise.all([
    db.owner("school_years").orderBy("from_on").pluck("name"),
    db.owner("closures").count({ n: "*" }),
    db.owner("groups").orderBy("group_id").select("name", "retired_on"),
    db.owner("students").orderBy("student_id").select("given_name", "grade", "left_on"),
    db.owner("goals").orderBy("goal_id").select("goal_id", "met_on", "ended", "ended_on", "ended_reason"),
    db.owner("circle").orderBy(["student_id", "person_id"]).select("part", "from_on", "to_on"),
  ]);
  return { years, spans, groups, students, goals, parts };
}

describe("the next school year", () => {
  it("proposes the year 52 weeks later, and does nothing of what is left as it is", async () => {
    const { draft, current, students } = await read();
    expect([current?.name, draft?.name]).toEqual(["2026–27", "2027–28"]);
    expect(students.map(({ name }) => name)).toContain("Wren Abara");
    expect(students.every(({ grade, nextGrade }) => grade === nextGrade)).toBe(true);
    const fields = await fieldsOf();
    expect(await preview(fields)).toEqual([]);
    const before = await stateOf();
    expect((await problemsOf(send("roll over", fields))).problems["form"]).toContain("Nothing is chosen");
    expect(await stateOf()).toEqual(before);
    expect(await db.owner("roll_overs")).toEqual([]);
  });

  it("says each thing before it is done, does it all, once, and undoes it all within a day", async () => {
    const before = await stateOf();
    const { groups, students } = await read();
    const fields = await fieldsOf();
    const of = (name: string) => students.find((one) => one.name === name);
    const [wren, rafi] = [of("Wren Abara"), of("Rafi Calder")];
    const [first, second] = wren?.goals ?? [];
    const paloma = wren?.people.find(({ name }) => name.startsWith("Paloma"));
    const crew = groups.find(({ name }) => name === "Kitchen crew");
    const chosen: Record<string, string> = {
      ...fields,
      ...{ withYear: "on", withSpans: "on" },
      [`leaves.${rafi?.studentId}`]: "on",
      [`leavesOn.${rafi?.studentId}`]: "2026-11-20",
      [`grade.${wren?.studentId}`]: "3",
      [`goal.${first?.goalId}`]: "continued",
      [`goal.${second?.goalId}`]: "met",
      [`part.${wren?.studentId}.${paloma?.personId}`]: "",
      [`group.${crew?.groupId}`]: "",
    };
    const sentences = (await preview(chosen))?.join("\n") ?? "";
    for (const part of [
      "2027–28 is put into the calendar",
      "Kitchen crew meets no longer.",
      "Rafi Calder leaves the school",
      "Wren Abara is in grade 3.",
      `Wren Abara: ${first?.name} is continued in a new goal`,
      `Wren Abara: ${second?.name} is marked as met`,
      "the part of Paloma Ruiz ends",
    ])
      expect(sentences).toContain(part);
    expect(await stateOf()).toEqual(before);

    expect(await leadsTo(send("roll over", chosen))).toBe("/school/next-year");
    expect(await leadsTo(send("roll over", chosen))).toBe("/school/next-year");
    const after = await stateOf();
    expect(after.years).toEqual([...before.years, "2027–28"]);
    expect(after.goals).toHaveLength(before.goals.length + 1);
    expect(after.students.find((one) => one.given_name === "Wren")?.grade).toBe("3");
    expect(after.students.find((one) => one.given_name === "Rafi")?.left_on).toBe("2026-11-20");
    expect(
      await db.owner("goals").where({ continues: first?.goalId }).first("start_on", "title"),
    ).toMatchObject({
      start_on: "2027-09-07",
      title: first?.name.replace(/^\S+ /, ""),
    });
    expect((await read()).done).toMatchObject({
      isOpen: true,
      steps: { year: 1, group: 1, leaving: 1, grade: 1, goal: 2, part: 1 },
    });
    expect(await db.owner("audit").where({ thing: "roll-over" })).toMatchObject([{ act: "done" }]);

    const { done } = await read();
    expect(await leadsTo(send("undo", { rollOverId: done?.rollOverId ?? "" }))).toBe("/school/next-year");
    expect(await stateOf()).toEqual(before);
    expect((await read()).done).toMatchObject({ isOpen: false, undone: { remained: 0 } });
    expect((await problemsOf(send("undo", { rollOverId: done?.rollOverId ?? "" }))).problems).toHaveProperty(
      "form",
    );
  });

  it("leaves what somebody changed since, and says how much: a new goal with an entry, a year that was looked through", async () => {
    const web = await startWebServer(db.appUrl);
    try {
      const { students } = await read();
      const wren = students.find((one) => one.name === "Wren Abara");
      const [goal, other] = wren?.goals ?? [];
      const fields = {
        ...(await fieldsOf()),
        ...{
          withYear: "on",
          [`goal.${goal?.goalId}`]: "continued",
          [`goal.${other?.goalId}`]: "discontinued",
        },
      };
      expect(await leadsTo(send("roll over", fields))).toBe("/school/next-year");
      const added = await db.owner("goals").where({ continues: goal?.goalId }).first("goal_id");
      const visitor = await signedIn(web.url, "noor");
      const entry = recordedItem(demo, { goalId: added?.goal_id ?? "" });
      expect(await keep(visitor, entry)).toEqual({ outcome: "saved" });
      await db.owner("school_years").where({ name: "2027–28" }).update({ name: "The next year" });
      const { done } = await read();
      expect(await leadsTo(send("undo", { rollOverId: done?.rollOverId ?? "" }))).toBe("/school/next-year");
      expect((await read()).done).toMatchObject({ undone: { remained: 2 } });
      expect(await db.owner("school_years").where({ name: "The next year" })).toHaveLength(1);
      expect(await db.owner("goals").where({ goal_id: goal?.goalId })).toMatchObject([
        { ended: "continued" },
      ]);
      expect(await db.owner("goals").where({ goal_id: other?.goalId })).toMatchObject([{ ended: null }]);
    } finally {
      await web.stop();
    }
  });

  it("takes a day to be undone, and no longer", async () => {
    const { students } = await read();
    const anselm = students.find((one) => one.name === "Anselm Birke");
    const fields = { ...(await fieldsOf()), [`grade.${anselm?.studentId}`]: "9" };
    expect(await leadsTo(send("roll over", fields))).toBe("/school/next-year");
    await db.owner.raw(
      "update roll_overs set made_at = made_at - interval '25 hours' where undone_at is null",
    );
    const { done } = await read();
    expect(done?.isOpen).toBe(false);
    expect((await problemsOf(send("undo", { rollOverId: done?.rollOverId ?? "" }))).problems).toHaveProperty(
      "form",
    );
    expect(await db.owner("students").where({ student_id: anselm?.studentId })).toMatchObject([
      { grade: "9" },
    ]);
  });

  it("asks for right dates, and of each student whether the person leads them: nothing is done otherwise", async () => {
    const fields = await fieldsOf();
    await db.owner("school_years").where({ name: "The next year" }).delete();
    const bad = { ...(await fieldsOf()), withYear: "on", toOn: "2027-09-01" };
    expect((await problemsOf(send("preview", bad))).problems).toHaveProperty("toOn");
    const early = { ...bad, fromOn: "2027-01-01" };
    expect((await problemsOf(send("preview", early))).problems).toHaveProperty("fromOn");
    const lin = await caller(db.app, "desmond");
    // What he does not lead is not read from his form at all.
    const wren = demo.student("Wren");
    const answer = await problemsOf(
      send(
        "roll over",
        { ...fields, ...(await fieldsOf(lin)), [`shown.${wren}`]: "yes", [`grade.${wren}`]: "8" },
        lin,
      ),
    );
    expect(answer.problems["form"]).toContain("Nothing is chosen");
    const teo = await caller(db.app, "teo");
    expect(await statusOf(read(teo))).toBe(403);
  });

  it("leaves no circle without a lead, and nothing half done", async () => {
    const { students } = await read();
    const wren = students.find((one) => one.name === "Wren Abara");
    const before = await stateOf();
    // The case manager's own part ends in summer, and a second lead's with it: nobody would lead.
    await db
      .owner("circle")
      .where({ student_id: wren?.studentId, person_id: demo.person("noor").personId })
      .update({ to_on: "2027-06-25" });
    await db
      .owner("circle")
      .where({ student_id: wren?.studentId, person_id: demo.person("ines").personId })
      .update({ part: "lead" });
    const fields = await fieldsOf();
    const ines = demo.person("ines").personId;
    const answer = await problemsOf(
      send("roll over", {
        ...fields,
        [`grade.${wren?.studentId}`]: "5",
        [`part.${wren?.studentId}.${ines}`]: "",
      }),
    );
    expect(answer.problems["form"]).toContain("only lead");
    expect((await stateOf()).students).toEqual(before.students);
    expect(
      await db
        .owner("roll_overs")
        .whereNull("undone_at")
        .where("made_at", ">", new Date(Date.now() - 3_600_000)),
    ).toEqual([]);
  });
});
