import { readIncidents, watchedOf } from "#core/files/read-incidents.ts";
import { whatStandsOut } from "#core/incidents/findings.ts";
import { incidentFigures } from "#core/incidents/incident-figures.ts";
import { linesOf, type ReportDocument } from "#core/report/document.ts";
import { v7 as newId } from "uuid";
import { parse } from "csv-parse/sync";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { emptyChosen, emptyDetails } from "#core/incidents/blank.ts";
import { choosePatterns, readChoice } from "#core/incidents/choose.ts";
import { starterSettings } from "#core/incidents/settings.ts";
import { readIncidentSettings, saveIncidentSettings } from "#server/db/incident-settings.ts";
import { listUnfinished } from "#server/db/incident-lists.ts";
import { correctIncident, saveIncident } from "#server/db/incidents.ts";
import { readRecordingPack } from "#server/db/recording-pack.ts";
import type { PersonScope } from "#server/access/scope.ts";
import type { PersonKey } from "#demo/school.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import { type Caller, caller, leadsTo, problemsOf, typedLines } from "#tests/route.ts";
import * as report from "../report/report.tsx";
import * as schoolIncidents from "../school/incidents.tsx";
import * as today from "../today/today.tsx";
import * as incident from "./incident.tsx";
import * as incidents from "./incidents.tsx";
import * as noted from "./noted.tsx";
import * as patternsCsv from "./patterns-csv.ts";
import * as patterns from "./patterns.tsx";
import * as plan from "./plan.tsx";
import * as several from "./several.tsx";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
let teo: Caller;
let ines: Caller;
let gus: Caller;
let desmond: Caller;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  [noor, teo, ines, gus, desmond] = await Promise.all([
    caller(db.app, "noor"),
    caller(db.app, "teo"),
    caller(db.app, "ines"),
    caller(db.app, "gus"),
    caller(db.app, "desmond"),
  ]);
});
afterAll(() => db.close());

const notForThem = { init: { status: 403 } };
const notThere = { init: { status: 404 } };
const notAllowed = { init: { status: 403 } };
const of = (given: string) => ({ studentId: demo.student(given) });
/** Gives somebody a part in the circle of a student. */
const putIn = (who: PersonKey, given: string, part: "lead" | "record" | "read") =>
  db
    .owner("circle")
    .insert({
      ...{ school_id: demo.schoolId, person_id: demo.person(who).personId, part },
      student_id: demo.student(given),
    })
    .onConflict(["school_id", "student_id", "person_id"])
    .merge(["part"]);
/** What the page of a student says for an address. */
async function chosen(given: string, address = "") {
  const { material } = await noor.load(patterns.loader, of(given));
  return choosePatterns(material, readChoice(new URLSearchParams(address), material));
}

/** The lines of the log alone: a finding stands in the section on behavior too. */
const logOf = ({ sections }: ReportDocument) =>
  linesOf({ sections: sections.filter(({ name }) => name === "log") });

describe("the patterns of a student", () => {
  it("say first what was planted: the fall since a plan, with its own day as the line", async () => {
    const { patterns: found, comparison } = await chosen("Caspian");
    expect(found.findings.slice(0, 2).map(({ kind, strength }) => `${kind} ${strength}`)).toContain(
      "change strong",
    );
    expect(comparison?.rates?.ratio).toBeLessThan(0.6);
    expect((await chosen("Caspian", "compare=none")).patterns.findings.map(({ kind }) => kind)).not.toContain(
      "change",
    );
    const [first] = (await chosen("Wren")).patterns.findings;
    expect(first?.words).toMatch(/change from a liked to a disliked task.*during Math/);
  });

  it("are a file for each picture, as they were chosen, in which nothing becomes a formula", async () => {
    const file = async (search: string) =>
      parse<Record<string, string>>(
        (await (await noor.load(patternsCsv.loader, of("Wren"), search)).text()).replace("\uFEFF", ""),
        { columns: true },
      );
    const { patterns: found } = await chosen("Wren", "behavior=shouting");
    const bars = await file("?table=behavior&behavior=shouting");
    expect(bars[0]).toEqual({
      ...{ Behavior: "shouting", incidents: String(found.n) },
      "of all": "100%",
    });
    expect((await file("?table=time&by=month")).length).toBeGreaterThan(2);
    for (const table of ["stands-out", "week", "setting", "length", "strength", "pairs", "chains"])
      expect((await file(`?table=${table}`)).length, table).toBeGreaterThan(0);
    expect((await file("?table=change&compare=before")).map((row) => Object.values(row)[0])).toContain(
      "incidents",
    );
    await expect(noor.load(patternsCsv.loader, of("Wren"), "?table=constructor")).rejects.toMatchObject(
      notThere,
    );
    await db
      .owner("choices")
      .where({ student_id: demo.student("Wren"), name: "shouting" })
      .update({ name: "=1+1" });
    const text = await (await noor.load(patternsCsv.loader, of("Wren"), "?table=behavior")).text();
    expect(text).toContain("'=1+1");
    await db
      .owner("choices")
      .where({ student_id: demo.student("Wren"), name: "=1+1" })
      .update({ name: "shouting" });
  });

  it.each([
    ["Wren", ""],
    ["Wren", "span=56&behavior=shouting"],
    ["Caspian", ""],
    ["Malik", "compare=none"],
  ])("come again from the raw incidents of %s as a file, to the last word (%s)", async (given, address) => {
    const { material } = await noor.load(patterns.loader, of(given));
    const { patterns: found } = choosePatterns(material, readChoice(new URLSearchParams(address), material));
    const file = await noor.load(patternsCsv.loader, of(given), `?table=incidents&${address}`);
    const text = (await file.text()).replace("\uFEFF", "");
    const read = readIncidents(text);
    const again = whatStandsOut(watchedOf(read));
    expect(found.findings.length + Number(found.nothing !== null)).toBeGreaterThan(0);
    expect(again.findings.map(({ words, strength }) => [words, strength])).toEqual(
      found.findings.map(({ words, strength }) => [words, strength]),
    );
    expect([again.n, again.episodes, again.nothing]).toEqual([found.n, found.episodes, found.nothing]);
    expect(incidentFigures(read.rows).n).toBe(found.n);
  });

  it("give a sentence to the report once, of their own words only, and take it out again", async () => {
    const [first] = (await chosen("Malik")).patterns.findings;
    const words = first?.words ?? "";
    const lines = async () =>
      logOf((await noor.load(report.loader, of("Malik"))).report).filter(({ sentence }) =>
        sentence.startsWith("To check"),
      );
    expect(
      await problemsOf(noor.send(patterns.action, { words: "He does it for fun" }, of("Malik"))),
    ).toEqual({
      status: 409,
      problems: {
        form: "The incidents changed in the meantime, and this sentence no longer applies.",
      },
    });
    for (let time = 0; time < 2; time += 1)
      expect(await leadsTo(teo.send(patterns.action, { words }, of("Malik")))).toMatch(/\/patterns$/);
    const [line, ...more] = await lines();
    expect(more).toEqual([]);
    expect(line?.sentence).toBe(`To check: ${words[0]?.toUpperCase()}${words.slice(1)}.`);
    expect(line?.note).toMatch(/^Counted among the incidents recorded from .*; not a cause\.$/);
    const { noted: standing } = await noor.load(patterns.loader, of("Malik"));
    const patternId = standing[words]?.split("/").at(-1) ?? "";
    // Whoever put it there, and whoever leads, may take it out; a reader may not.
    await putIn("ines", "Malik", "read");
    await expect(
      ines.send(noted.action, { intent: "remove" }, { ...of("Malik"), patternId }),
    ).rejects.toMatchObject(notAllowed);
    await noor.send(noted.action, { intent: "remove" }, { ...of("Malik"), patternId });
    expect(await lines()).toEqual([]);
    expect(await noor.load(noted.loader, { ...of("Malik"), patternId })).toMatchObject({
      removed: { by: "N. Halloran" },
    });
    await teo.send(noted.action, { intent: "restore" }, { ...of("Malik"), patternId });
    expect(await lines()).toHaveLength(1);
    // Put there anew meanwhile, the old one stays out.
    await teo.send(noted.action, { intent: "remove" }, { ...of("Malik"), patternId });
    await teo.send(patterns.action, { words }, of("Malik"));
    await teo.send(noted.action, { intent: "restore" }, { ...of("Malik"), patternId });
    expect(await lines()).toHaveLength(1);
    await expect(gus.send(patterns.action, { words }, of("Wren"))).rejects.toMatchObject(notThere);
  });
});

describe("what somebody thinks and tries", () => {
  const planId = newId();
  const fields = {
    planId,
    thinking: "She waits for somebody to sit down with her.",
    trying: "Two minutes with an adult before the work begins.",
    name: "two minutes first",
    beginsOn: "2026-10-12",
    endsOn: "",
    intent: "save",
  };
  const at = () => ({ ...of("Lumi"), planId });
  const stands = async () => (await noor.load(plan.loader, at())).plan;

  it.each([
    [{ thinking: " " }, "thinking", "What do you think is happening?"],
    [{ trying: "" }, "trying", "What will be tried?"],
    [{ name: "x".repeat(61) }, "name", "At most 60 characters."],
    [{ beginsOn: "2026-02-30" }, "beginsOn", "There is no such date."],
    [{ endsOn: "2026-10-11" }, "endsOn", "The last day lies before the first."],
  ])("is asked for whole: %o", async (part, field, message) => {
    const { status, problems } = await problemsOf(
      noor.send(plan.action, { ...fields, ...part }, { ...of("Lumi"), planId: "new" }),
    );
    expect([status, problems[field]]).toEqual([422, message]);
  });

  it("is kept once, becomes a line, and keeps what stood before", async () => {
    await putIn("teo", "Lumi", "record");
    for (let time = 0; time < 2; time += 1)
      expect(await leadsTo(teo.send(plan.action, fields, { ...of("Lumi"), planId: "new" }))).toContain(
        `compare=${planId}`,
      );
    const { material } = await noor.load(patterns.loader, of("Lumi"));
    expect(material.plans).toEqual([
      { planId, name: "two minutes first", beginsOn: "2026-10-12", endsOn: null },
    ]);
    await leadsTo(noor.send(plan.action, { ...fields, revision: "1", endsOn: "2026-11-01" }, at()));
    expect(
      await problemsOf(teo.send(plan.action, { ...fields, revision: "1", name: "late" }, at())),
    ).toMatchObject({ status: 409 });
    expect(await stands()).toMatchObject({
      ...{ name: "two minutes first", endsOn: "2026-11-01", revision: 2, author: "T. Brandvold" },
      history: [
        { act: "made", by: "T. Brandvold", content: { endsOn: null } },
        { act: "corrected", by: "N. Halloran", content: { endsOn: "2026-11-01" } },
      ],
    });
    await noor.send(plan.action, { intent: "remove", revision: "2" }, at());
    expect((await noor.load(patterns.loader, of("Lumi"))).material.plans).toEqual([]);
    expect(await problemsOf(noor.send(plan.action, { ...fields, revision: "3" }, at()))).toMatchObject({
      status: 409,
    });
    await teo.send(plan.action, { intent: "restore", revision: "3" }, at());
    expect(await stands()).toMatchObject({ state: "kept", revision: 4 });
  });

  it("is nobody's outside the circle, and a reader's to read only", async () => {
    await expect(gus.load(plan.loader, { ...at(), ...of("Wren") })).rejects.toMatchObject(notThere);
    await expect(
      gus.send(plan.action, { ...fields, planId: newId() }, { ...of("Wren"), planId: "new" }),
    ).rejects.toMatchObject(notThere);
    // Another student's plan is not found through this one.
    await expect(noor.load(plan.loader, { ...of("Wren"), planId })).rejects.toMatchObject(notThere);
    await putIn("gus", "Lumi", "read");
    expect(await gus.load(plan.loader, at())).toMatchObject({ mayChange: false });
    await expect(gus.send(plan.action, { intent: "remove", revision: "4" }, at())).rejects.toMatchObject(
      notAllowed,
    );
  });
});

describe("the list of incidents", () => {
  const found = async (search: string) =>
    (await noor.load(incidents.loader, of("Wren"), search)).incidents.map(({ said }) => said.sentence);
  it("is found by words of it, by what was seen, by whom, when, and by kind", async () => {
    const everything = await found("");
    expect(everything.length).toBeGreaterThan(20);
    const shouting = await found("?words=SHOUTing+quiet");
    expect(shouting.length).toBeGreaterThan(0);
    expect(shouting.every((one) => /shouting/i.test(one) && /quiet/i.test(one))).toBe(true);
    const { choices, authors } = await noor.load(incidents.loader, of("Wren"));
    const told = choices.flatMap(({ names }) => names).find(({ name }) => name === "told no");
    const byChoice = await found(`?choice=${told?.choiceId}`);
    expect(byChoice).toEqual(everything.filter((one) => one.includes("told no")));
    const parts = await Promise.all(
      authors.map(async (name) => (await found(`?author=${encodeURIComponent(name)}`)).length),
    );
    expect(parts.reduce((sum, one) => sum + one, 0)).toBe(everything.length);
    expect(await found("?from=2040-01-01")).toEqual([]);
    expect(await found("?from=nonsense&kind=nothing")).toEqual(everything);
    expect((await found("?kind=harm")).every((one) => one.includes("There was"))).toBe(true);
    expect((await found("?kind=unresolved")).every((one) => one.includes("not resolved"))).toBe(true);
  });
});

describe("several incidents of one day", () => {
  const rows = async () => {
    const { choices, ids } = await noor.load(several.loader, of("Anselm"));
    const first = (list: string) => choices.find((one) => one.list === list)?.choiceId ?? "";
    const empty = (at: number) => ({
      ...{ [`row.${at}.id`]: ids[at] ?? "", [`row.${at}.at`]: "", [`row.${at}.note`]: "" },
      ...{ [`row.${at}.setting`]: "", [`row.${at}.antecedent`]: "", [`row.${at}.behavior`]: "" },
      [`row.${at}.consequence`]: "",
    });
    return {
      on: "2026-11-20",
      ...{ ...empty(0), ...empty(1), ...empty(2), ...empty(3) },
      ...{ "row.0.at": "09:05", "row.0.behavior": first("behavior"), "row.0.setting": first("setting") },
      ...{ "row.2.behavior": first("behavior"), "row.2.note": "after the fire drill" },
    };
  };
  const kept = () =>
    db
      .owner<{ student_id: string; occurred_at: Date | null; note: string | null }>("incidents")
      .where({ student_id: demo.student("Anselm") })
      .orderBy("incident_id");

  it("are kept row by row, empty rows left out, and once however often they are sent", async () => {
    const typed = await rows();
    for (let time = 0; time < 2; time += 1)
      expect(await leadsTo(noor.send(several.action, typed, of("Anselm")))).toMatch(/\/incidents$/);
    expect(await kept()).toMatchObject([
      { occurred_at: expect.any(Date) as Date, note: null },
      { occurred_at: null, note: "after the fire drill" },
    ]);
  });

  it("are asked about on the list where another adult wrote one down within ten minutes, until it is answered", async () => {
    const typed: Record<string, string> = { ...(await rows()), on: "2026-11-19" };
    const list = async () => (await noor.load(incidents.loader, of("Anselm"))).near;
    expect(await list()).toEqual([]);
    const theirs = newId();
    await putIn("teo", "Anselm", "record");
    await inScope(db.app, demo.person("teo"), demo.student("Anselm"), (scope) =>
      saveIncident(scope, demo.student("Anselm"), {
        ...{ incidentId: theirs, ongoing: false, note: null, observerId: null },
        time: { local: "2026-11-19T08:58" },
        chosen: { ...emptyChosen(), behavior: [{ choiceId: newId(), name: "leaving the room" }] },
        details: emptyDetails,
      }),
    );
    await leadsTo(noor.send(several.action, typed, of("Anselm")));
    const mine = typed["row.0.id"] ?? "";
    const pair = {
      ...{ on: "2026-11-19", incidentId: theirs, at: "08:58", by: "T. Brandvold" },
      other: { incidentId: mine, at: "09:05", by: "N. Halloran" },
    };
    expect(await list()).toEqual([pair]);
    expect((await gus.load(incidents.loader, of("Anselm")).catch(() => null))?.near ?? []).toEqual([]);
    const answer = (intent: string) =>
      leadsTo(
        noor.send(
          incident.action,
          { intent, otherId: mine, back: "list" },
          { ...of("Anselm"), incidentId: theirs },
        ),
      );
    expect(await answer("join")).toMatch(/\/incidents$/);
    expect(await list()).toEqual([]);
    const [joined] = await db.owner<{ same_as: string | null; incident_id: string }>("incidents").where({
      incident_id: theirs,
    });
    expect(joined?.same_as).toBe(mine);
    // Taken apart again, they are two, and it is not asked once more.
    await answer("apart");
    expect(await list()).toEqual([]);
  });

  it("say what is missing in their row and keep none of them until it is there", async () => {
    const typed = await rows();
    const before = (await kept()).length;
    const wrong = { ...typed, "row.3.note": "and then?", "row.2.at": "9 o'clock" };
    expect(await problemsOf(noor.send(several.action, wrong, of("Anselm")))).toEqual({
      status: 422,
      problems: {
        "row.1.at": "Write a time, such as 1:20\u00a0PM.",
        "row.2.behavior": "Say what the student did.",
      },
    });
    expect(
      (await problemsOf(noor.send(several.action, { ...typed, on: "2040-01-01" }, of("Anselm")))).problems,
    ).toEqual({ on: "This day is yet to come." });
    expect(
      (await problemsOf(noor.send(several.action, { on: "2026-11-20" }, of("Anselm")))).problems,
    ).toEqual({ form: "Fill in at least one row." });
    expect(await kept()).toHaveLength(before);
    await expect(gus.send(several.action, typed, of("Wren"))).rejects.toMatchObject(notThere);
  });
});

describe("incidents still going on", () => {
  it("stand on Today for whoever can say how they ended", async () => {
    const incidentId = newId();
    await inScope(db.app, demo.person("teo"), demo.student("Wren"), (scope) =>
      saveIncident(scope, demo.student("Wren"), {
        ...{ incidentId, time: { local: "2026-11-20T10:20" }, ongoing: true, note: null, observerId: null },
        chosen: { ...emptyChosen(), behavior: [{ choiceId: newId(), name: "shouting" }] },
        details: emptyDetails,
      }),
    );
    for (const who of [noor, teo])
      expect((await who.load(today.loader)).unfinished).toMatchObject([{ incidentId, at: "10:20" }]);
    expect((await gus.load(today.loader)).unfinished).toEqual([]);
    const mirela = await inScope(db.app, demo.person("mirela"), null, (scope) => listUnfinished(scope));
    expect(mirela.map((one) => one.incidentId)).toEqual([incidentId]);
    expect((await (await caller(db.app, "mirela")).load(today.loader)).unfinished).toEqual([]);
  });

  it("and those of a restraint without its facts stand there until every fact is told, by the questions of their time", async () => {
    const incidentId = newId();
    const studentId = demo.student("Otis");
    const content = (facts: { asked: string; said: string }[], restraint = true) => ({
      ...{ ongoing: false, note: null, observerId: null, time: { local: "2026-11-20T10:20" } },
      chosen: { ...emptyChosen(), behavior: [{ choiceId: newId(), name: "shouting" }] },
      details: { ...emptyDetails, harm: { injury: false, restraint, seclusion: false, facts } },
    });
    const asNoor = <T>(work: (scope: PersonScope) => Promise<T>) =>
      inScope(db.app, demo.person("noor"), studentId, work);
    const correct = (revision: number, facts: { asked: string; said: string }[], restraint = true) =>
      asNoor((scope) =>
        correctIncident(
          scope,
          { studentId, incidentId },
          { expectedRevision: revision, reason: null },
          content(facts, restraint),
        ),
      );
    const missing = async () =>
      (await noor.load(today.loader)).unfinished.find((one) => one.incidentId === incidentId);
    const told = { asked: "Began at", said: "10:20" };
    await asNoor((scope) => saveIncident(scope, studentId, { incidentId, ...content([told]) }));
    expect(await missing()).toMatchObject({
      ...{ on: "2026-11-20", author: "N. Halloran", ongoing: false },
      factsMissing: ["Ended at", "Who was notified, and when"],
    });
    // A blank answers nothing, and a question that the school adds later is not asked of it.
    const before = await asNoor((scope) => readIncidentSettings(scope));
    const asks = (harmAsked: readonly string[]) =>
      inScope(db.app, { ...demo.person("noor"), caseManager: true }, null, (scope) =>
        saveIncidentSettings(scope, { ...before, harmAsked }, {}),
      );
    await asks([...before.harmAsked, "Nurse"]);
    expect(await correct(1, [told, { asked: "Ended at", said: " " }])).toBe("saved");
    expect((await missing())?.factsMissing).toEqual(["Ended at", "Who was notified, and when"]);
    const all = [
      told,
      { asked: "Ended at", said: "10:31" },
      { asked: "Who was notified, and when", said: "home" },
    ];
    expect(await correct(2, all)).toBe("saved");
    expect(await missing()).toBeUndefined();
    // An answer taken out again is missing again; without the flag nothing is.
    expect(await correct(3, all.slice(0, 2))).toBe("saved");
    expect((await missing())?.factsMissing).toEqual(["Who was notified, and when"]);
    expect(await correct(4, [], false)).toBe("saved");
    expect(await missing()).toBeUndefined();
    await asks(before.harmAsked);
  });
});

describe("what an incident asks", () => {
  const fields: Record<string, string> = {
    ...Object.fromEntries(starterSettings.strengths.map((words, at) => [`strength${at + 1}`, words])),
    "band.0.name": "short",
    "band.0.from": "0",
    "band.0.to": "10",
    "band.1.name": "long",
    "band.1.from": "10",
    "band.1.to": "",
    "ask how long": "on",
    "ask harm": "on",
    whyAsked: "of everyone",
    ...typedLines("harmAsked", ["Form 7 filed by", "Nurse told at"]),
    ...typedLines("antecedent", ["bell rang", "bell rang", "asked to share"]),
  };

  it.each([
    [{ strength3: "" }, "strength3", "Say what this strength is."],
    [{ "band.0.to": "x" }, "band.0.to", /Minutes|Invalid/],
    [{ "band.0.to": "" }, "band.1.from", /^It begins before “short” ends/],
    [{ "band.1.from": "9" }, "band.1.from", /^It begins before “short” ends/],
    [{ "band.0.to": "0" }, "band.0.to", "It ends before it begins."],
    [{ "band.1.name": "Short" }, "band.1.name", "Another band has this name."],
    [{ "harmAsked.0.name": "x".repeat(121) }, "harmAsked.0.name", "At most 120 characters."],
  ])("is said where it is wrong: %o", async (part, field, message) => {
    const { status, problems } = await problemsOf(noor.send(schoolIncidents.action, { ...fields, ...part }));
    expect(status).toBe(422);
    expect(problems[field]).toMatch(message instanceof RegExp ? message : new RegExp(`^${message}$`));
  });

  it("reaches the devices of everyone, and the lists that are not there yet", async () => {
    expect(await leadsTo(desmond.send(schoolIncidents.action, fields))).toBe("/school/incidents");
    const pack = await inScope(db.app, demo.person("noor"), null, readRecordingPack);
    expect(pack.incidents).toEqual({
      bands: [
        { name: "short", from: 0, to: 10 },
        { name: "long", from: 10, to: null },
      ],
      strengths: starterSettings.strengths,
      off: ["why", "how strong", "resolved", "setting events", "adults", "peers"],
      whyAsked: "of everyone",
      harmAsked: ["Form 7 filed by", "Nurse told at"],
    });
    const names = (given: string, list: string) =>
      pack.students
        .find(({ studentId }) => studentId === demo.student(given))
        ?.choices.filter((one) => one.list === list)
        .map(({ name }) => name);
    expect(names("Yara", "antecedent")).toEqual(["bell rang", "asked to share"]);
    expect(names("Yara", "behavior")).toContain("shouting");
    expect(names("Wren", "antecedent")).not.toContain("bell rang");
  });

  it("is not for whoever only records", async () => {
    await expect(teo.load(schoolIncidents.loader)).rejects.toMatchObject(notForThem);
    await expect(teo.send(schoolIncidents.action, fields)).rejects.toMatchObject(notForThem);
  });
});
