import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import { makeFamilyCode, openFamily } from "#server/auth/family.ts";
import { signIn } from "#server/auth/session.ts";
import { keyIn } from "#server/db/app-key.ts";
import { sealAudit, sealKeyOf, verifyAudit } from "#server/db/audit-seals.ts";
import { noteReads } from "#server/db/reads.ts";
import { withScope } from "#server/db/school.ts";
import { demoFamilyLink, emailOf, people } from "#demo/school.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import {
  type Caller,
  caller,
  familyCaller,
  leadsTo,
  problemsOf,
  statementsOf,
  statusOf,
} from "#tests/route.ts";
import * as circle from "../circle/circle.tsx";
import * as familyAccess from "../family/family-access.tsx";
import * as guardians from "../family/guardians.tsx";
import * as familyPage from "../family/family-page.tsx";
import * as goalCsv from "../student/goal-csv.ts";
import * as goals from "../student/goals.tsx";
import * as pack from "../recording/pack.ts";
import * as mail from "../school/mail.tsx";
import * as report from "../report/report.tsx";
import * as events from "../school/events.tsx";
import * as csv from "./access-csv.ts";
import * as record from "./access-record.tsx";
import * as printed from "./printed.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
let ines: Caller;
let desmond: Caller;
let wren: { studentId: string };
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  noor = await caller(db.app, "noor");
  ines = await caller(db.app, "ines");
  desmond = await caller(db.app, "desmond");
  wren = { studentId: demo.student("Wren") };
  // What the demo brings along is out of the way.
  await db.owner("audit").whereNotNull("hour").delete();
});
afterAll(() => db.close());

const readsOf = (person: "noor" | "ines" | "gus" | "desmond", where: object) =>
  db
    .owner("audit")
    .where({ person_id: demo.person(person).personId, student_id: wren.studentId, ...where })
    .whereNotNull("hour");
const lines = async (search = "") =>
  (await noor.load(record.loader, wren, search)).halves.flatMap((half) => half.lines);

describe("what was looked at", () => {
  it("is written down once for each person, student, thing and hour, with the role in the circle", async () => {
    for (let count = 0; count < 3; count += 1) await noor.load(report.loader, wren);
    await ines.load(report.loader, wren);
    await ines.load(goals.loader, wren);
    expect(await readsOf("noor", { thing: "report" })).toMatchObject([
      { act: "read", way: "page", circle_role: "lead", actor_kind: "person" },
    ]);
    expect(await readsOf("ines", { thing: "report" })).toMatchObject([{ circle_role: "record" }]);
    expect(await readsOf("ines", { thing: "student" })).toHaveLength(1);
  });

  it("costs one statement in the hour's first page and none after it; another hour has a line of its own", async () => {
    const scopeOf = (work: Parameters<typeof inScope<void>>[3]) =>
      inScope(db.app, demo.person("ines"), wren.studentId, work);
    const note = (hours: number) => () =>
      scopeOf((scope) =>
        noteReads({ ...scope, now: new Date(scope.now.getTime() + hours * 3_600_000) }, "jots", [
          wren.studentId,
        ]),
      );
    const first = (await statementsOf(db.app, note(0))).length;
    expect((await statementsOf(db.app, note(0))).length).toBe(first - 1);
    expect((await statementsOf(db.app, note(1))).length).toBe(first);
    expect(await readsOf("ines", { thing: "jots" })).toHaveLength(2);
    // Another process has noted nothing yet in this hour: the database has it once all the same.
    vi.resetModules();
    const other = await import("#server/db/reads.ts");
    await scopeOf((scope) => other.noteReads(scope, "jots", [wren.studentId]));
    expect(await readsOf("ines", { thing: "jots" })).toHaveLength(2);
  });

  it("is not taken for noted where its transaction was taken back", async () => {
    const failing = inScope(db.app, demo.person("noor"), wren.studentId, async (scope) => {
      await noteReads(scope, "feedback", [wren.studentId]);
      throw new Error("the page failed");
    });
    await expect(failing).rejects.toThrow("the page failed");
    expect(await readsOf("noor", { thing: "feedback" })).toEqual([]);
    await inScope(db.app, demo.person("noor"), wren.studentId, (scope) =>
      noteReads(scope, "feedback", [wren.studentId]),
    );
    expect(await readsOf("noor", { thing: "feedback" })).toHaveLength(1);
  });

  it("names a page of several students at each of them, and a device's goals as such", async () => {
    const answer = await noor.sendJson(pack.action, { deviceId: newId() });
    const students = "pack" in answer ? answer.pack.students.length : 0;
    expect(students).toBeGreaterThan(9);
    expect(await readsOf("noor", { thing: "recording" })).toMatchObject([{ way: "device" }]);
    const others = await db
      .owner("audit")
      .where({ person_id: demo.person("noor").personId, thing: "recording" });
    expect(others).toHaveLength(students);
  });

  it("tells files that were saved and pages that were printed", async () => {
    const goal = { ...wren, goalId: demo.goal("Wren", "2b") };
    await ines.load(goalCsv.loader, goal);
    expect(await readsOf("ines", { act: "exported" })).toMatchObject([{ way: "file", thing: "student" }]);
    const page = { page: `/students/${wren.studentId}/report` };
    await ines.send(printed.action, page, wren);
    await ines.send(printed.action, page, wren);
    expect(await readsOf("ines", { act: "printed" })).toMatchObject([{ way: "print", thing: "report" }]);
    expect(await statusOf(ines.send(printed.action, { page: "x".repeat(400) }, wren))).toBe(404);
    const gus = await caller(db.app, "gus");
    expect(await statusOf(gus.send(printed.action, page, wren))).toBe(404);
  });

  it("has what was refused: outside the circle, and what a role may not", async () => {
    const gus = await caller(db.app, "gus");
    expect(await statusOf(gus.load(report.loader, wren))).toBe(404);
    expect(await statusOf(gus.load(report.loader, wren))).toBe(404);
    expect(await readsOf("gus", { act: "refused" })).toMatchObject([
      { thing: "permission", what: "report.read" },
    ]);
    expect(await statusOf(ines.load(record.loader, wren))).toBe(403);
    expect(await readsOf("ines", { act: "refused" })).toMatchObject([{ what: "access-record.read" }]);
    // Of a student who is not there nothing is written down.
    const nobody = { studentId: newId() };
    expect(await statusOf(gus.load(report.loader, nobody))).toBe(404);
    expect(await db.owner("audit").where({ student_id: nobody.studentId })).toEqual([]);
    expect((await lines("?kind=refused")).map(({ what }) => what)).toEqual([
      "access-record.read",
      "report.read",
    ]);
  });
});

describe("the access record", () => {
  it("has the staff and everyone else apart, with what they asked for and why (34 CFR 99.32)", async () => {
    const request = {
      ...{ intent: "note a request", requestId: newId(), kind: "given", requestedOn: "2026-11-23" },
      ...{ byWhom: "County therapist", what: "Sleep notes", interest: "Plans the next visit" },
    };
    expect(await problemsOf(noor.send(record.action, { ...request, interest: "" }, wren))).toMatchObject({
      problems: { interest: "Say for what they need it, in their words." },
    });
    const later = { ...request, requestedOn: "2031-01-01" };
    expect((await problemsOf(noor.send(record.action, later, wren))).problems).toHaveProperty("requestedOn");
    await leadsTo(noor.send(record.action, request, wren));
    await leadsTo(noor.send(record.action, request, wren));
    const { halves } = await noor.load(record.loader, wren);
    expect(halves.map(({ outside }) => outside)).toEqual([true, false]);
    const ofTherapist = halves[0]?.lines.filter(({ recipient }) => recipient === "County therapist");
    expect(ofTherapist).toMatchObject([
      { act: "given", circleRole: "lead", reason: "Sleep notes: Plans the next visit" },
    ]);
    // What was shared with the family, and what was sent to them, is among what left the staff.
    const shared = async (who: string) =>
      (await lines(`?who=${who}&kind=received`)).filter(
        ({ thing, act }) => thing === "edition" && act === "shared",
      );
    const editions = await db.owner("editions").where({ student_id: wren.studentId });
    const audienceOf = (id: string | null) => editions.find(({ edition_id }) => edition_id === id)?.audience;
    const [outside, staff] = [await shared("outside"), await shared("staff")];
    expect(new Set(outside.map(({ thingId }) => audienceOf(thingId)))).toEqual(new Set(["family"]));
    expect(new Set(staff.map(({ thingId }) => audienceOf(thingId)))).toEqual(new Set(["team"]));
    expect(halves[1]?.lines.every(({ thing }) => thing !== "outside request")).toBe(true);
    expect(halves[1]?.lines.find(({ act, thing }) => act === "read" && thing === "report")).toMatchObject({
      actor: { name: "Ines Okafor", position: "Speech-language pathologist" },
      circleRole: "record",
    });
  });

  it("goes as a table, page by page, and for some days only", async () => {
    const file = await noor.load(csv.loader, wren, "?who=outside");
    const text = await file.text();
    expect(text).toContain("County therapist");
    expect(text).not.toContain("looked at the report,staff");
    expect(file.headers.get("Content-Disposition")).toContain("access-record");
    // The file itself is in the record.
    expect(await readsOf("noor", { act: "exported", thing: "access record" })).toHaveLength(1);
    const all = await noor.load(record.loader, wren, "?who=staff");
    const places = all.halves[0]?.lines.map(({ place }) => Number(place)) ?? [];
    expect(places).toEqual(places.toSorted((a, b) => b - a));
    const older = await noor.load(record.loader, wren, `?who=staff&before=${places[0]}`);
    expect(older.halves[0]?.lines.map(({ place }) => Number(place))).toEqual(places.slice(1));
    expect(await lines("?from=2020-01-01&to=2020-01-02")).toEqual([]);
    expect(await lines("?from=nonsense&before=x&kind=odd")).not.toEqual([]);
  });

  it("is read by a guardian who asked for it, until their days are over, and without what was changed", async () => {
    const junie = { studentId: demo.student("Juniper") };
    const row: { guardian_id: string } | undefined = await db
      .owner("guardians")
      .where({ name: "Marisol Reyes" })
      .first();
    const ids = { guardianId: row?.guardian_id ?? "" };
    const code = await makeFamilyCode(db.app, demo.schoolId, ids.guardianId);
    expect(await openFamily(db.app, demoFamilyLink, "000000")).toBe("wrong");
    const opened = await openFamily(db.app, demoFamilyLink, code ?? "");
    const her = familyCaller(db.app, typeof opened === "string" ? opened : "");
    await her.load(familyPage.loader, ids);
    expect((await her.load(familyAccess.loader, ids)).lines).toBeNull();
    await leadsTo(noor.send(record.action, { intent: "let read", ...ids }, junie));
    const shown = (await her.load(familyAccess.loader, ids)).lines ?? [];
    expect(shown.map(({ thing, act }) => `${thing} ${act}`)).toEqual(
      expect.arrayContaining(["guardian signed in", "guardian sign-in failed", "report read"]),
    );
    expect(shown.every(({ changes }) => changes.length === 0)).toBe(true);
    // Nothing tells one guardian of another, who may be refused for a reason.
    const dario: { guardian_id: string } | undefined = await db
      .owner("guardians")
      .where({ name: "Dario Reyes" })
      .first();
    await leadsTo(
      noor.send(guardians.action, { intent: "allow again", guardianId: dario?.guardian_id ?? "" }, junie),
    );
    const again = (await her.load(familyAccess.loader, ids)).lines ?? [];
    expect(JSON.stringify(again)).not.toContain("Dario");
    const all = (await noor.load(record.loader, junie)).halves.flatMap((half) => half.lines);
    expect(JSON.stringify(all)).toContain("Dario");
    expect(shown.find(({ thing }) => thing === "report")?.way).toBe("link");
    await db
      .owner("guardians")
      .where({ guardian_id: ids.guardianId })
      .update({ reads_access_until: "2026-01-01" });
    expect((await her.load(familyAccess.loader, ids)).lines).toBeNull();
    // Nobody lets a guardian of another student read.
    expect(await statusOf(noor.send(record.action, { intent: "let read", ...ids }, wren))).toBe(404);
  });
});

describe("the school's events", () => {
  const shown = async (search: string) => (await desmond.load(events.loader, {}, search)).lines;

  it("have a role with what it was before and after, and who changed it", async () => {
    const teo = demo.person("teo").personId;
    const change = { intent: "change", personId: teo, circleRole: "read", toOn: "" };
    await leadsTo(noor.send(circle.action, change, wren));
    const [event] = await shown("?kind=people");
    expect(event).toMatchObject({ thing: "circle", act: "changed", about: "Teo Brandvold" });
    expect(event?.actor.name).toBe("Noor Halloran");
    expect(event?.changes).toMatchObject([{ table: "circle", changes: { part: ["record", "read"] } }]);
  });

  it("have sign-ins and those that failed, of accounts that are there", async () => {
    const email = emailOf(people.hana);
    const browser = { address: "test", oldToken: null };
    await signIn(db.app, { email, password: "not this one", ...browser });
    await signIn(db.app, { email: "nobody@larkspurbay.example", password: "x", ...browser });
    await expect
      .poll(async () => (await shown(`?kind=signed in&person=${demo.person("hana").personId}`))[0]?.act)
      .toBe("sign-in failed");
    await caller(db.app, "hana");
    expect((await shown("?kind=signed in"))[0]).toMatchObject({
      act: "signed in",
      actor: { name: "Hana Whitlock" },
    });
  });

  it("have settings before and after, and never a password", async () => {
    const server = {
      ...{ intent: "save", host: "smtp.larkspurbay.example", port: "587", security: "starttls" },
      ...{
        username: "school",
        password: "very secret",
        fromName: "School",
        from: "notes@larkspurbay.example",
      },
    };
    await leadsTo(desmond.send(mail.action, server));
    const [event] = await shown("?kind=settings");
    expect(event).toMatchObject({ thing: "mail server", act: "changed" });
    expect(event?.changes[0]?.changes).toMatchObject({
      host: [null, "smtp.larkspurbay.example"],
      password: [null, "hidden"],
    });
    expect(JSON.stringify(await db.owner("audit_changes"))).not.toContain("very secret");
  });

  it("have the commands that were run where the server is", async () => {
    const { noteCommand } = (await import(/* @vite-ignore */ `#scripts/note-command.mjs${""}`)) as {
      noteCommand: (ownerUrl: string, name: string) => Promise<void>;
    };
    await noteCommand(db.ownerUrl, "backup");
    expect((await shown("?kind=command"))[0]).toMatchObject({ what: "backup", way: "command" });
  });

  it("are for administrators, and show of a student initials and nothing that was recorded", async () => {
    expect(await statusOf(noor.load(events.loader))).toBe(403);
    const [read] = await shown("?kind=saw");
    expect(read?.student?.initials).toMatch(/^\p{L}\.\p{L}\.$/u);
    expect((await shown("")).every(({ act }) => act !== "read")).toBe(true);
  });

  it("show by their seals that what was before and after was altered", async () => {
    const key = sealKeyOf(keyIn(db.app));
    const seal = () =>
      withScope(db.app, { kind: "job", schoolId: demo.schoolId, name: "seal" }, null, (scope) =>
        sealAudit(scope, key),
      );
    while ((await seal()) > 0);
    const faults = async () => (await verifyAudit(db.owner, key)).faults.map(({ fault }) => fault);
    expect(await faults()).toEqual([]);
    const [row] = await db
      .owner("audit_changes")
      .where({ of_table: "circle" })
      .orderBy("change_id", "desc")
      .limit(1);
    const change = () => db.owner("audit_changes").where({ change_id: row?.change_id });
    await change().update({ changes: JSON.stringify({ part: ["read", "lead"] }) });
    expect(await faults()).toEqual(["changed"]);
    // With a digest that fits again, the seal of the event shows it.
    await change().update({ digest: db.owner.raw("sha256(convert_to(changes::text, 'UTF8'))") });
    expect(await faults()).toContain("changed");
    await change().delete();
    expect(await faults()).toContain("changed");
  });
});
