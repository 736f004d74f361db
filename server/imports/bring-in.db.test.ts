import { readFileSync } from "node:fs";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { GoalSummary } from "#core/progress/goal-figures.ts";
import { openThrowaway } from "#tests/database.ts";
import { bringIn, type BroughtIn } from "./bring-in.ts";
import { readScore } from "./goal-data.ts";
import { matchName } from "./match-name.ts";

const sample = (path: string) =>
  readFileSync(new URL(`../../tests/samples/${path}`, import.meta.url), "utf8");
const files = {
  users: sample("roster/users.csv"),
  roles: sample("roster/roles.csv"),
  orgs: sample("roster/orgs.csv"),
  enrollments: sample("roster/enrollments.csv"),
  goalData: sample("goal-data.csv"),
};
const options = { timeZone: "America/Los_Angeles" };

describe("bringing in a school's own files", () => {
  let db: Awaited<ReturnType<typeof openThrowaway>>;
  let first: BroughtIn;
  beforeAll(async () => {
    db = await openThrowaway("empty");
    first = await bringIn(db.owner, files, options);
  });
  afterAll(() => db.close());

  it("makes an entry of each row that is certain and lists every other, adding up to the rows read", () => {
    expect(first).toMatchObject({
      people: 3,
      students: 8,
      goals: 8,
      rows: 201,
      added: 110,
      alreadyThere: 0,
      leadIsSet: true,
    });
    expect(first.added + first.listed.length).toBe(201);
  });

  it("keeps what the file says: 838 of 1355, with date, author, support and note", async () => {
    const { rows } = await db.owner.raw<{ rows: Record<string, string>[] }>(
      `select sum(numerator)::text as correct, sum(denominator)::text as attempted, count(*)::text as n, count(distinct author_id)::text as authors from entries`,
    );
    expect(rows[0]).toEqual({ correct: "838", attempted: "1355", n: "110", authors: "3" });
    const [entry] = await db
      .owner("entries as e")
      .join("students as s", "s.student_id", "e.student_id")
      .join("people as p", "p.person_id", "e.author_id")
      .where({ "s.given_name": "Juniper", observed_on: "2026-09-08" })
      .select(
        "p.given_name as author",
        "e.entry",
        "e.note",
        db.owner.raw("to_char(observed_at at time zone ?, 'HH24:MI:SS') as at", [options.timeZone]),
      );
    expect(entry).toMatchObject({
      author: "Teo",
      at: "10:08:52",
      entry: { correct: 2, attempted: 5, support: "verbal" },
      note: expect.stringMatching(/^2 sets, short break\s+in between$/) as string,
    });
  });

  it("names the line and the reason of what it did not take", () => {
    const why = new Map(first.listed.map(({ line, why }) => [line, why]));
    expect(why.get(10)).toMatch(/same as the row before, 21 s later/);
    expect(why.get(35)).toMatch(/'10-Jun' looks like a date/);
    expect(why.get(49)).toMatch(/below 0/);
    expect(why.get(65)).toMatch(/14 correct is more than the 12/);
    expect(why.get(76)).toMatch(/'Trans.' is written once/);
    expect(why.get(92)).toMatch(/'Priyah N'/);
    expect(why.get(112)).toBe("an empty row");
    expect(why.get(144)).toMatch(/more than one student/);
    expect(why.get(173)).toBe("no goal is named");
    expect(why.get(181)).toMatch(/more than 100/);
  });

  it("puts the teachers of a student's classes into the circle, and the one teacher of all in the lead", async () => {
    const circles = await db
      .owner("circle as c")
      .join("people as p", "p.person_id", "c.person_id")
      .select("p.given_name", "c.part")
      .count({ n: "*" })
      .groupBy("p.given_name", "c.part")
      .orderBy("p.given_name");
    expect(circles).toEqual([
      { given_name: "Ines", part: "record", n: "3" },
      { given_name: "Noor", part: "lead", n: "8" },
    ]);
    expect(first.outsideCircles.map(({ name }) => name)).toContain("Teo Brandvold");
  });

  it("computes the figures of every goal", async () => {
    const rows = await db.owner<{ summary: GoalSummary | null }>("goal_summaries").select("summary");
    expect(rows.map(({ summary }) => summary?.entries ?? 0).reduce((sum, n) => sum + n, 0)).toBe(110);
    expect(rows.every(({ summary }) => summary?.format === 3)).toBe(true);
  });

  it("adds nothing the second time, and only what is new after the file has grown", async () => {
    const again = await bringIn(db.owner, files, options);
    expect(again).toMatchObject({ people: 0, students: 0, goals: 0, rows: 201, added: 0, alreadyThere: 110 });
    const grown = `${files.goalData.trimEnd()}\r\n11/23/2026 9:15:00,Teo,Wren,Moves between activities,5/10,verbal,\r\n`;
    expect(await bringIn(db.owner, { ...files, goalData: grown }, options)).toMatchObject({
      rows: 202,
      added: 1,
      alreadyThere: 110,
    });
  });

  it("takes nothing of a file that it cannot read", async () => {
    await expect(bringIn(db.owner, { ...files, goalData: "Timestamp,Student\n" }, options)).rejects.toThrow(
      /column Staff, Goal, Score/,
    );
    await expect(
      bringIn(db.owner, files, { ...options, caseManager: "nobody@nowhere.example" }),
    ).rejects.toThrow(/nobody@nowhere.example/);
  });
});

describe("matchName", () => {
  const people = [
    { id: "w", given: "Wren", family: "Abara", preferred: null },
    { id: "o", given: "Otis", family: "Fairweather", preferred: null },
    { id: "m", given: "Malik", family: "Osei", preferred: null },
    { id: "t", given: "Tobias", family: "Venn", preferred: "Toby" },
    { id: "w2", given: "Wren", family: "Okoro", preferred: null },
  ];
  it.each([
    ["  wren   ABARA ", "w"],
    ["Abara, Wren", "w"],
    ["Wren A.", "w"],
    ["W.A.", "w"],
    ["wa", "w"],
    ["Toby", "t"],
    ["toby v", "t"],
    ["T. V.", "t"],
    ["Venn, Toby", "t"],
    ["OTIS", "o"],
  ])("takes %o for one person", (typed, id) =>
    expect(matchName(typed, people, "student")).toEqual({ ok: true, id }),
  );
  it.each([
    ["Wren", /fits Wren Abara and Wren Okoro/],
    ["O", /no student is certain/],
    ["Wren Abarra", /no student is certain/],
    ["", /no student is named/],
    ["M.O./O.F.", /more than one student/],
    ["Abara", /no student is certain/],
  ])("asks about %o", (typed, why) => {
    expect(matchName(typed, people, "student")).toEqual({
      ok: false,
      why: expect.stringMatching(why) as string,
    });
  });
});

describe("readScore", () => {
  it.each(["6/10", "6 out of 10", "6 of 10", " 6 / 10 ", "6 OF 10"])("reads %o as six of ten", (cell) =>
    expect(readScore(cell)).toEqual({ ok: true, correct: 6, attempted: 10 }),
  );
  it.each([
    "60%",
    "0.6",
    ".6",
    "60",
    "1",
    "6-10",
    "10-Jun",
    "",
    "absent",
    "refused",
    "six of ten",
    "0/0",
    "-1/5",
  ])("does not make counts of %o", (cell) => expect(readScore(cell).ok).toBe(false));
});
