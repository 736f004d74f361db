import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { GoalBlock, ReportDocument } from "#core/report/document.ts";
import { saveEntry } from "#server/db/entries.ts";
import { removeUnusedGoal } from "#server/db/goals.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, draft, inScope } from "#tests/demo-school.ts";
import { type Caller, caller, leadsTo, problemsOf, statementsOf } from "#tests/route.ts";
import * as making from "../editions/new-edition.tsx";
import * as edition from "../editions/edition.tsx";
import * as report from "../report/report.tsx";
import * as ratingsPage from "../school/ratings.tsx";
import * as page from "./progress-reports.tsx";
import * as start from "./start.tsx";
import * as one from "./statement.tsx";
import { nextToWrite, shownOf, type WeekGoal } from "./week-goal.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
let gus: Caller;
let teo: Caller;
let from: string;

beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  [noor, gus, teo] = await Promise.all([
    caller(db.app, "noor"),
    caller(db.app, "gus"),
    caller(db.app, "teo"),
  ]);
  from = String(await leadsTo(noor.load(start.loader).catch((led: unknown) => led))).replace(
    "/progress-reports/",
    "",
  );
});
afterAll(() => db.close());

const at = (given: string, number: string) => ({
  from,
  studentId: demo.student(given),
  goalId: demo.goal(given, number),
});
const open = (given: string, number: string, who = noor) => who.load(one.loader, at(given, number));
const week = async (who = noor) => (await who.load(page.loader, { from })).students;
const goalIn = async (given: string, number: string, who = noor): Promise<WeekGoal | undefined> =>
  (await week(who))
    .find(({ studentId }) => studentId === demo.student(given))
    ?.goals.find((goal) => goal.number === number);

type Fields = Partial<
  Record<"words" | "translation" | "withNumbers" | "ratingId" | "seen" | "revision", string>
>;
/** Sends the form of a statement as the page has it, with these fields changed. */
async function send(
  intent: "draft" | "ready",
  [given, number]: readonly [string, string],
  fields: Fields = {},
  who = noor,
) {
  const { seen, statement, ratings } = await open(given, number, who);
  return who.send(
    one.action,
    {
      ...{ intent, seen, revision: String(statement?.revision ?? 0), withNumbers: "yes", words: "" },
      ...{ ratingId: ratings[0]?.ratingId ?? "", ...fields },
    },
    at(given, number),
  );
}
const statementsOfGoal = (document: ReportDocument, goalId: string) =>
  document.sections
    .flatMap(({ blocks }) => blocks)
    .find((block): block is GoalBlock => block.kind === "goal" && block.goalId === goalId)?.statements ?? [];

describe("the page of a reporting period", () => {
  it("has every goal that was open, with its state and what the numbers ask", async () => {
    expect(from).toMatch(/^\d{4}-\d\d-\d\d$/);
    expect(await goalIn("Wren", "2b")).toMatchObject({ state: "ready", isMine: true, with: null });
    expect(await goalIn("Wren", "3")).toMatchObject({ state: "drafted" });
    expect(await goalIn("Wren", "4")).toMatchObject({ state: "to write", behind: true, noData: false });
    expect(await goalIn("Yara", "3")).toMatchObject({ state: "to write", noData: true });
    expect((await week()).flatMap(({ goals }) => goals).some(({ reached }) => reached)).toBe(true);
    expect(await goalIn("Malik", "2")).toMatchObject({ isMine: false, mayWrite: true, with: "G. Lindqvist" });
    const shown = shownOf(await week(), "behind").flatMap(({ goals }) => goals);
    expect(shown.length).toBeGreaterThan(2);
    expect(shown.every(({ behind }) => behind)).toBe(true);
  });

  it("agrees with the report of every student about which goals are behind or reached", async () => {
    const states = new Map(
      (await week()).flatMap(({ goals }) =>
        goals.map(({ goalId, behind, reached }) => [goalId, { behind, reached }] as const),
      ),
    );
    let compared = 0;
    for (const { studentId } of await week()) {
      const { report: document } = await noor.load(report.loader, { studentId }, `?span=period-${from}`);
      for (const block of document.sections.flatMap(({ blocks }) => blocks)) {
        if (block.kind !== "goal") continue;
        const { key } = block.standing ?? {};
        expect(states.get(block.goalId)).toEqual({ behind: key === "behind", reached: key === "reached" });
        compared += 1;
      }
    }
    expect(compared).toBe(states.size);
  });

  it("is for a related-service person the goals they write, and empty for those who write none", async () => {
    const own = (await week(gus)).flatMap(({ goals }) => goals.map(({ title, isMine }) => [title, isMine]));
    expect(own).toEqual([["Catches a rolled ball", true]]);
    expect(await week(teo)).toEqual([]);
  });

  it("is read in a number of statements that does not grow with students or goals", async () => {
    const asked = async (who: Caller) =>
      (await statementsOf(db.app, () => who.load(page.loader, { from }))).length;
    expect(await asked(noor)).toBe(11);
    expect(await asked(gus)).toBe(11);
  });

  it("leads from one to the next that is the viewer's to write, and from the last to the first", async () => {
    const students = await week();
    const path: string[] = [];
    for (let goalId = demo.goal("Wren", "4"); path.length < 60;) {
      const next = nextToWrite(students, goalId);
      if (!next || path.includes(next.goalId)) break;
      path.push(next.goalId);
      goalId = next.goalId;
    }
    const mine = students.flatMap(({ goals }) =>
      goals.filter(({ state, isMine }) => state !== "ready" && isMine),
    );
    expect(new Set(path)).toEqual(new Set(mine.map(({ goalId }) => goalId)));
    expect(path[0]).toBe(demo.goal("Yara", "2"));
  });

  it("of a period that is not there is not found", async () => {
    await expect(noor.load(page.loader, { from: "2001-01-01" })).rejects.toMatchObject({
      init: { status: 404 },
    });
  });
});

describe("a statement", () => {
  it("is a draft until it is marked ready, and only then stands in the report", async () => {
    const goal = ["Wren", "4"] as const;
    const { goalId, studentId } = at(...goal);
    const inReport = async () =>
      statementsOfGoal((await noor.load(report.loader, { studentId })).report, goalId);
    await leadsTo(send("draft", goal, { words: "A picture strip goes along from Monday." }));
    expect((await goalIn(...goal))?.state).toBe("drafted");
    expect(await inReport()).toEqual([]);
    await leadsTo(send("ready", goal, { words: "A picture strip goes along from Monday." }));
    expect((await goalIn(...goal))?.state).toBe("ready");
    const { drafted } = await open(...goal);
    expect(await inReport()).toEqual([
      expect.objectContaining({
        label: "Progress report, Trimester 1",
        rating: "Rating: on track.",
        drafted: drafted.join(" "),
        words: "A picture strip goes along from Monday.",
        by: expect.stringMatching(/N\. Halloran$/),
      }),
    ]);
    // Changed words are a draft again.
    await leadsTo(send("draft", goal, { words: "Other words." }));
    expect((await goalIn(...goal))?.state).toBe("drafted");
    expect(await inReport()).toEqual([]);
  });

  it("is not ready with numbers that its writer did not read", async () => {
    const goal = ["Wren", "3"] as const;
    const { seen } = await open(...goal);
    const { studentId, goalId } = at(...goal);
    await inScope(db.app, demo.person("noor"), studentId, (scope) =>
      saveEntry(scope, draft({ studentId, goalId }, 9, 10, { observedLocal: `${scope.today}T08:05` }), {
        studentId,
        goalId,
      }),
    );
    const { status, problems } = await problemsOf(send("ready", goal, { words: "Read before.", seen }));
    expect([status, problems["form"]]).toEqual([409, expect.stringContaining("The numbers changed")]);
    // A draft holds no numbers and is saved.
    expect(await leadsTo(send("draft", goal, { words: "Read before.", seen }))).toContain(goalId);
  });

  it("keeps the numbers as they were read, and says that entries came since", async () => {
    const goal = ["Caspian", "1"] as const;
    const { studentId, goalId } = at(...goal);
    await leadsTo(send("ready", goal));
    const before = await open(...goal);
    expect(before.isChanged).toBe(false);
    await inScope(db.app, demo.person("noor"), studentId, (scope) =>
      saveEntry(scope, draft({ studentId, goalId }, 10, 10, { observedLocal: `${scope.today}T08:10` }), {
        studentId,
        goalId,
      }),
    );
    expect(await goalIn(...goal)).toMatchObject({ state: "ready", isNewer: true });
    const after = await open(...goal);
    expect(after.isChanged).toBe(true);
    expect(after.drafted).not.toEqual(before.drafted);
    const { report: document } = await noor.load(report.loader, { studentId });
    expect(statementsOfGoal(document, goalId)[0]?.drafted).toBe(before.drafted.join(" "));
    // Read again and marked ready, it has the new numbers.
    await leadsTo(send("ready", goal));
    expect(await goalIn(...goal)).toMatchObject({ isNewer: false });
  });

  it("asks for a rating from the school's list, and for words where the numbers are left out", async () => {
    const goal = ["Tobias", "5"] as const;
    expect((await problemsOf(send("ready", goal, { ratingId: "" }))).problems).toEqual({
      ratingId: "Choose a rating.",
    });
    expect((await problemsOf(send("ready", goal, { withNumbers: "" }))).problems["words"]).toContain(
      "Write something",
    );
    await leadsTo(send("ready", goal, { withNumbers: "", words: "In words alone." }));
    const { goalId, studentId } = at(...goal);
    const { report: document } = await noor.load(report.loader, { studentId });
    expect(statementsOfGoal(document, goalId)[0]).toMatchObject({ drafted: "", words: "In words alone." });
  });

  it("saved by two is a conflict, and both are in its history", async () => {
    const goal = ["Rafi", "1"] as const;
    const revision = String((await open(...goal)).statement?.revision ?? 0);
    await leadsTo(send("draft", goal, { words: "First.", revision }));
    const { status, problems } = await problemsOf(send("draft", goal, { words: "Second.", revision }));
    expect([status, problems["form"]]).toEqual([409, expect.stringContaining("Another person saved")]);
    await leadsTo(send("draft", goal, { words: "Second." }));
    const { steps } = await open(...goal);
    expect(steps.slice(-2).map(({ words, by }) => [words, by])).toEqual([
      ["First.", "N. Halloran"],
      ["Second.", "N. Halloran"],
    ]);
    // The same once more is no step.
    await leadsTo(send("draft", goal, { words: "Second." }));
    expect((await open(...goal)).steps).toHaveLength(steps.length);
  });

  it("has the words of the period before at hand, of the goal it continues too", async () => {
    const { goalId, studentId } = at("Otis", "2");
    const { statement } = await open("Otis", "2");
    const { earlier: none } = await open("Otis", "2");
    expect(none).toBeNull();
    await db.owner("progress_statements").insert({
      ...{ school_id: demo.schoolId, statement_id: newId(), student_id: studentId, goal_id: goalId },
      ...{ period_name: "Trimester 3", from_on: "2026-03-16", to_on: "2026-06-12", words: "In June." },
      ...{ author_id: demo.person("noor").personId, rating_id: statement?.content.ratingId ?? null },
    });
    expect((await open("Otis", "2")).earlier).toEqual({
      ...{ period: "Trimester 3", words: "In June.", rating: "on track" },
    });
  });

  it("stays with its period when the school moves the period's days", async () => {
    const move = (on: string) =>
      db.owner("reporting_periods").where({ from_on: from }).update({ from_on: on });
    const earlier = new Date(Date.parse(from) - 3 * 86_400_000).toISOString().slice(0, 10);
    await move(earlier);
    const { students } = await noor.load(page.loader, { from: earlier });
    const wren = students.find(({ studentId }) => studentId === demo.student("Wren"));
    expect(wren?.goals.find(({ number }) => number === "2b")?.state).toBe("ready");
    await db.owner("reporting_periods").where({ from_on: earlier }).update({ from_on: from });
  });

  it("makes its goal one that is not removed", async () => {
    const { goalId, studentId } = at("Yara", "3");
    await leadsTo(send("draft", ["Yara", "3"], { words: "Games begin after the break." }));
    const outcome = await inScope(db.app, demo.person("noor"), studentId, (scope) =>
      removeUnusedGoal(scope, { studentId, goalId }),
    );
    expect(outcome).toBe("in use");
  });
});

describe("who writes", () => {
  const ball = ["Malik", "2"] as const;

  it("is the person who was chosen for the goal, and no other goal", async () => {
    await leadsTo(send("ready", ball, { words: "Malik steps towards the ball." }, gus));
    expect(await goalIn(...ball)).toMatchObject({ state: "ready" });
    const { mayWrite, seen } = await open("Malik", "1", gus);
    expect(mayWrite).toBe(false);
    const fields = { intent: "draft", seen, revision: "0", words: "Not mine.", withNumbers: "yes" };
    await expect(gus.send(one.action, fields, at("Malik", "1"))).rejects.toMatchObject({
      init: { status: 403 },
    });
    // Outside the circle there is no such student.
    await expect(gus.load(one.loader, at("Wren", "2b"))).rejects.toMatchObject({ init: { status: 404 } });
  });

  it("is chosen by the lead alone, among those who record for the student", async () => {
    const choose = (who: Caller, personId: string) =>
      who.send(one.action, { intent: "writer", personId }, at(...ball));
    const ines = demo.person("ines").personId;
    await expect(choose(gus, ines)).rejects.toMatchObject({ init: { status: 403 } });
    const outside = demo.person("paloma").personId;
    expect((await problemsOf(choose(noor, outside))).problems["personId"]).toContain("circle");
    await leadsTo(choose(noor, ines));
    expect(await goalIn(...ball)).toMatchObject({ mayWrite: true });
    expect((await open(...ball, gus)).mayWrite).toBe(false);
    await leadsTo(choose(noor, ""));
    expect(await goalIn(...ball)).toMatchObject({ isMine: true, with: null });
  });
});

describe("the school's ratings", () => {
  it("are its own list; one that is taken out stays with earlier statements", async () => {
    const { ratings } = await noor.load(ratingsPage.loader);
    expect(ratings.map(({ name }) => name)).toEqual([
      "on track",
      "some progress",
      "little progress",
      "not taught yet",
    ]);
    const fields = (list: { ratingId: string; name: string; spanish: string }[]) =>
      Object.fromEntries(
        list.flatMap((rating, place) =>
          Object.entries(rating).map(([name, value]) => [`rating.${place}.${name}`, value]),
        ),
      );
    const same = await problemsOf(
      noor.send(ratingsPage.action, fields([ratings[0], ratings[0]] as typeof ratings)),
    );
    expect(same.problems["rating"]).toBe("Two ratings have the same name.");
    await leadsTo(noor.send(ratingsPage.action, fields(ratings.slice(1))));
    expect((await open("Anselm", "3")).ratings.map(({ name }) => name)).toContain("on track");
    expect((await open("Anselm", "2")).ratings.map(({ name }) => name)).not.toContain("on track");
    await leadsTo(noor.send(ratingsPage.action, fields(ratings)));
    expect((await open("Anselm", "2")).ratings.map(({ name }) => name)[0]).toBe("on track");
    await expect(teo.load(ratingsPage.loader)).rejects.toMatchObject({ init: { status: 403 } });
  });
});

describe("editions", () => {
  it("have the statements that are ready; a family that reads Spanish has them in Spanish", async () => {
    const { studentId, goalId } = at("Juniper", "1");
    const editionId = newId();
    await leadsTo(
      noor.send(making.action, { editionId, kept: "yes" }, { studentId }, `?for=family&span=period-${from}`),
    );
    const { document } = await noor.load(edition.loader, { studentId, editionId });
    const [statement] = statementsOfGoal(document, goalId);
    expect(statement).toMatchObject({
      label: "Informe de progreso, Trimestre 1",
      rating: "Valoración: algo de progreso.",
      drafted: expect.stringMatching(/^En Trimestre 1 hasta ahora, esta meta se midió/),
      words: expect.stringMatching(/^Juniper pide ayuda/),
    });
    // The one that is drafted is in no edition.
    expect(statementsOfGoal(document, demo.goal("Juniper", "2"))).toEqual([]);
  });
});
