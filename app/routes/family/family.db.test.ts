import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { demoFamilyLink, demoPassword, emailOf, people } from "#demo/school.ts";
import { familyLink, makeFamilyCode, openFamily } from "#server/auth/family.ts";
import { isSlowDown } from "#server/auth/rate-limit.ts";
import { hashToken, signIn } from "#server/auth/session.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { type Caller, caller, familyCaller, leadsTo, problemsOf } from "#tests/route.ts";
import * as caseload from "../caseload/caseload.tsx";
import * as circle from "../circle/circle.tsx";
import * as editionPage from "./family-edition.tsx";
import * as entrance from "./entrance.tsx";
import * as familyPage from "./family-page.tsx";
import * as guardians from "./guardians.tsx";
import * as schools from "../sign-in/schools.tsx";
import * as picture from "./family-picture.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
let junie: { studentId: string };
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  noor = await caller(db.app, "noor");
  junie = { studentId: demo.student("Juniper") };
});
afterAll(() => db.close());
beforeEach(() => db.owner("rate_limits").delete());

const guardianOf = async (name: string) => {
  const row: { guardian_id: string } | undefined = await db
    .owner("guardians")
    .where({ name })
    .first("guardian_id");
  return { guardianId: row?.guardian_id ?? "" };
};
const codeFor = async (name: string) => {
  const { guardianId } = await guardianOf(name);
  return (await makeFamilyCode(db.app, demo.schoolId, guardianId)) ?? "";
};
async function marisol() {
  const opened = await openFamily(db.app, demoFamilyLink, await codeFor("Marisol Reyes"));
  if (typeof opened !== "string") throw new Error("not opened");
  return familyCaller(db.app, opened);
}
const refusedTo = async (work: unknown) => {
  try {
    await work;
    return "shown";
  } catch (thrown) {
    if (thrown instanceof Response) return thrown.headers.get("Location");
    return (thrown as { init?: { status?: number } }).init?.status ?? String(thrown);
  }
};

describe("a guardian with a link", () => {
  it("opens it with a code of their own address, once, within ten minutes, and the link alone opens nothing", async () => {
    expect(await familyLink(db.app, demoFamilyLink)).toMatchObject({
      ...{ language: "es", schoolName: "Larkspur Bay School", email: "marisol.reyes@home.example" },
    });
    expect(await openFamily(db.app, demoFamilyLink, "")).toBe("wrong");
    const code = await codeFor("Marisol Reyes");
    expect(code).toMatch(/^\d{6}$/);
    expect(await openFamily(db.app, demoFamilyLink, ` ${code.slice(0, 3)} ${code.slice(3)} `)).toHaveLength(
      43,
    );
    expect(await openFamily(db.app, demoFamilyLink, code)).toBe("wrong");
    const late = await codeFor("Marisol Reyes");
    await db.owner("gate.family_codes").update({ expires_at: new Date() });
    expect(await openFamily(db.app, demoFamilyLink, late)).toBe("wrong");
    // A new code makes the one before worthless, and five wrong ones are all there are for a while.
    await db.owner("rate_limits").delete();
    const first = await codeFor("Marisol Reyes");
    await codeFor("Marisol Reyes");
    const tries = [];
    for (let count = 0; count < 6; count += 1) tries.push(await openFamily(db.app, demoFamilyLink, first));
    expect(tries.slice(0, 5)).toEqual(Array.from({ length: 5 }, () => "wrong"));
    expect(isSlowDown(tries[5])).toBe(true);
    const stored = JSON.stringify(await db.owner("gate.family_codes"));
    expect(stored).not.toContain(first);
  });

  it("reads in the family's language what was shared and released, and each opening is recorded", async () => {
    const her = await marisol();
    const ids = await guardianOf("Marisol Reyes");
    expect(await refusedTo(her.load(entrance.loader))).toBe(`/family/${ids.guardianId}`);
    const page = await her.load(familyPage.loader, ids);
    expect(page).toMatchObject({ name: "Junie", language: "es", guardianName: "Marisol Reyes" });
    expect(page.editions).toHaveLength(1);
    expect(page.days.flatMap(({ lines }) => lines)).toHaveLength(4);
    expect(page.days[0]?.heading).toMatch(/de 2026/);
    const text = JSON.stringify(page);
    for (const other of ["Wren", "Priya", "Abara", "Dario"]) expect(text).not.toContain(other);
    const editionId = page.editions[0]?.editionId ?? "";
    const edition = await her.load(editionPage.loader, { ...ids, editionId });
    expect(edition.document).toMatchObject({ audience: "family", language: "es" });
    const { rows } = await db.owner.raw<{ rows: { n: number }[] }>(
      "select count(*)::int as n from audit where thing = 'guardian' and act = 'opened' and thing_id = ? and actor_kind = 'link'",
      [ids.guardianId],
    );
    expect(rows[0]?.n).toBe(2);
  });

  it("comes to nothing else: not to another student, another edition, a picture that was not shared, or a page of the staff", async () => {
    const her = await marisol();
    const [ids, wrens] = [await guardianOf("Marisol Reyes"), await guardianOf("Lena Abara")];
    expect(await refusedTo(her.load(familyPage.loader, wrens))).toBe("/family");
    const edition = async (student: string, audience: string): Promise<string> => {
      const { rows } = await db.owner.raw<{ rows: { edition_id: string }[] }>(
        "select edition_id from editions where student_id = ? and audience = ?",
        [demo.student(student), audience],
      );
      return rows[0]?.edition_id ?? "";
    };
    for (const editionId of [await edition("Juniper", "team"), await edition("Wren", "family")])
      expect(await refusedTo(her.load(editionPage.loader, { ...ids, editionId }))).toBe(404);
    const row: { picture_id: string } | undefined = await db
      .owner("pictures")
      .where({ student_id: demo.student("Wren") })
      .first("picture_id");
    const pictureId = row?.picture_id ?? "";
    expect(await refusedTo(her.load(picture.loader, { ...ids, pictureId }))).toBe(404);
    expect(await refusedTo(her.load(caseload.loader))).toMatch(/^\/sign-in/);
    expect(await refusedTo(her.load(circle.loader, junie))).toMatch(/^\/sign-in/);
  });

  it("sees what is released to her and no more, from the moment it is", async () => {
    const her = await marisol();
    const ids = await guardianOf("Marisol Reyes");
    const lines = async () =>
      (await her.load(familyPage.loader, ids)).days.flatMap((day) => day.lines.map(({ entryId }) => entryId));
    const [first = ""] = await lines();
    await db.owner("releases").where({ thing_id: first }).delete();
    expect(await lines()).not.toContain(first);
    await db.owner("edition_shares").where({ how: "family page" }).update({ how: "printed" });
    expect((await her.load(familyPage.loader, ids)).editions).toEqual([]);
    await db.owner("edition_shares").where({ how: "printed" }).update({ how: "family page" });
  });

  it("asks one question at a time, which waits on the lead's caseload until it is answered", async () => {
    const her = await marisol();
    const ids = await guardianOf("Marisol Reyes");
    const ask = (words: string) => her.send(familyPage.action, { intent: "ask", words }, ids);
    expect((await problemsOf(ask(" "))).problems["words"]).toBe("Escriba primero su pregunta.");
    await ask("¿Puede leer en casa?");
    expect((await problemsOf(ask("¿Y contar?"))).status).toBe(409);
    const waiting = async () =>
      (await noor.load(caseload.loader)).families.filter(({ stuck }) => stuck === 0);
    expect(await waiting()).toEqual([
      { studentId: junie.studentId, name: "Junie", questions: 1, held: 0, stuck: 0, comesOfAge: null },
    ]);
    const [question] = (await noor.load(guardians.loader, junie)).questions;
    expect(question).toMatchObject({ by: "Marisol Reyes", words: "¿Puede leer en casa?" });
    const answer = { intent: "answer", questionId: question?.questionId ?? "", answer: "Sí, el libro azul." };
    const mirela = await caller(db.app, "mirela");
    await expect(mirela.send(guardians.action, answer, junie)).rejects.toMatchObject({
      init: { status: 403 },
    });
    await noor.send(guardians.action, answer, junie);
    expect(await waiting()).toEqual([]);
    expect((await her.load(familyPage.loader, ids)).questions).toMatchObject([
      { answer: "Sí, el libro azul." },
    ]);
    await ask("¿Y contar?");
    expect(await waiting()).toHaveLength(1);
  });

  it("is out the moment the link is taken back, has run out, or the guardian is refused, and the reason stays with the staff", async () => {
    const ids = await guardianOf("Marisol Reyes");
    const open = (her: ReturnType<typeof familyCaller>) => refusedTo(her.load(familyPage.loader, ids));
    const act = (intent: string, more: Record<string, string> = {}) =>
      noor.send(guardians.action, { intent, ...ids, ...more }, junie);
    let her = await marisol();
    await db.owner("gate.family_links").update({ expires_at: new Date() });
    expect(await open(her)).toBe("/family");
    await db.owner.raw("update gate.family_links set expires_at = now() + interval '30 days'");
    expect(await open(her)).toBe("shown");

    expect((await problemsOf(act("refuse", { reason: "" }))).problems["reason"]).toContain("Write why");
    await act("refuse", { reason: "a court’s order of Monday" });
    expect(await open(her)).toBe("/family");
    expect(await familyLink(db.app, demoFamilyLink)).toBeNull();
    expect(await makeFamilyCode(db.app, demo.schoolId, ids.guardianId)).toBeNull();
    expect((await problemsOf(act("make a link", { days: "30" }))).problems["form"]).toContain("may not read");
    const mirela = await caller(db.app, "mirela");
    expect((await mirela.load(guardians.loader, junie)).guardians).toContainEqual(
      expect.objectContaining({ name: "Marisol Reyes", noAccessReason: "a court’s order of Monday" }),
    );
    const gus = await caller(db.app, "gus");
    expect(await refusedTo(gus.load(guardians.loader, junie))).toBe(404);

    await act("allow again");
    const made = (await act("make a link", { days: "7" })) as { data: { links: { url: string }[] } };
    const token = made.data.links[0]?.url.split("/").at(-1) ?? "";
    const opened = await openFamily(db.app, token, await codeFor("Marisol Reyes"));
    her = familyCaller(db.app, typeof opened === "string" ? opened : "");
    expect(await open(her)).toBe("shown");
    await act("take the link back");
    expect(await open(her)).toBe("/family");
  });
});

describe("a guardian with an account", () => {
  it("signs in with it, for each of their students, and stays out where they are refused", async () => {
    const lena = { email: "lena.abara@home.example", address: "test", oldToken: null };
    const done = await signIn(db.app, { ...lena, password: demoPassword });
    if (done.ok || done.verdict !== "family") throw new Error("no family session");
    const her = familyCaller(db.app, done.familyToken);
    const ids = await guardianOf("Lena Abara");
    expect((await her.load(familyPage.loader, ids)).name).toBe("Wren");
    expect(await refusedTo(her.load(familyPage.loader, await guardianOf("Marisol Reyes")))).toBe("/family");
    const wren = { studentId: demo.student("Wren") };
    await noor.send(guardians.action, { intent: "remove", ...ids }, wren);
    expect(await refusedTo(her.load(familyPage.loader, ids))).toBe("/family");
    expect(await signIn(db.app, { ...lena, password: demoPassword })).toEqual({
      ok: false,
      verdict: "no-school",
    });
  });

  it("is made on the family's page by who has shown a code of that address", async () => {
    const ids = await guardianOf("Marisol Reyes");
    await noor.send(guardians.action, { intent: "make a link", ...ids, days: "7" }, junie);
    await db
      .owner("gate.family_links")
      .whereNull("revoked_at")
      .update({ token_hash: hashToken("x".repeat(43)) });
    const opened = await openFamily(db.app, "x".repeat(43), await codeFor("Marisol Reyes"));
    const her = familyCaller(db.app, typeof opened === "string" ? opened : "");
    const keep = (password: string) => her.send(familyPage.action, { intent: "keep", password }, ids);
    expect((await problemsOf(keep("corta"))).problems["password"]).toContain("12 caracteres");
    await keep("siete garzas tranquilas");
    expect((await her.load(familyPage.loader, ids)).accountFor).toBeNull();
    const done = await signIn(db.app, {
      ...{ email: "marisol.reyes@home.example", password: "siete garzas tranquilas" },
      ...{ address: "test", oldToken: null },
    });
    expect(done).toMatchObject({ verdict: "family" });
  });

  it("is tied to an account of that address that is there already, with its password", async () => {
    const otis = { studentId: demo.student("Otis") };
    const email = "lena.abara@home.example";
    const guardian = { intent: "save the guardian", guardianId: "", name: "Lena A.", relation: "aunt" };
    await noor.send(guardians.action, { ...guardian, email, language: "en" }, otis);
    const ids = await guardianOf("Lena A.");
    await noor.send(guardians.action, { intent: "make a link", ...ids, days: "7" }, otis);
    const tokenHash = hashToken("y".repeat(43));
    await db
      .owner("gate.family_links")
      .where({ guardian_id: ids.guardianId })
      .update({ token_hash: tokenHash });
    const opened = await openFamily(db.app, "y".repeat(43), await codeFor("Lena A."));
    const her = familyCaller(db.app, typeof opened === "string" ? opened : "");
    const keep = (password: string) => her.send(familyPage.action, { intent: "keep", password }, ids);
    expect((await problemsOf(keep("some other few words"))).problems["password"]).toContain(
      "Type its password",
    );
    await keep(demoPassword);
    expect((await her.load(familyPage.loader, ids)).accountFor).toBeNull();
    const done = await signIn(db.app, { email, password: demoPassword, address: "test", oldToken: null });
    expect(done).toMatchObject({ verdict: "family" });
  });
});

describe("a colleague who is a guardian too", () => {
  it("turns from the school to the family’s page with the same account, and nobody else does", async () => {
    const teo = await caller(db.app, "teo");
    const turn = () => teo.send(schools.action, { schoolId: "family" });
    expect((await teo.load(schools.loader)).isFamily).toBe(false);
    expect((await problemsOf(turn())).status).toBe(403);
    await db.owner.raw(
      `insert into gate.family_accounts select a.account_id, g.school_id, g.guardian_id from gate.accounts a, guardians g
       where a.email = ? and g.name = 'Marisol Reyes'`,
      [emailOf(people.teo)],
    );
    expect((await teo.load(schools.loader)).isFamily).toBe(true);
    expect(await refusedTo(turn())).toBe("/family");
  });
});

describe("when a student turns 18", () => {
  it("the lead is reminded 60 days before, and the family reads until a person decides", async () => {
    const wren = { studentId: demo.student("Otis") };
    const { rows } = await db.owner.raw<{ rows: { day: string }[] }>(
      `select ((clock_now() at time zone 'America/Los_Angeles')::date + 61 - interval '18 years')::date as day`,
    );
    const dayOf = (shift: number) => {
      const date = new Date(`${rows[0]?.day ?? ""}T12:00:00Z`);
      date.setUTCDate(date.getUTCDate() + shift);
      return date.toISOString().slice(0, 10);
    };
    const note = (bornOn: string, familyAfter = "") =>
      leadsTo(noor.send(guardians.action, { intent: "save the rights", bornOn, familyAfter }, wren));
    const reminded = async () =>
      (await noor.load(caseload.loader)).families.some(({ comesOfAge }) => comesOfAge !== null);
    await note(dayOf(0));
    expect(await reminded()).toBe(false);
    await note(dayOf(-1));
    expect(await reminded()).toBe(true);
    await leadsTo(
      noor.send(
        guardians.action,
        {
          ...{ intent: "save the guardian", guardianId: "", name: "May Fairweather", relation: "aunt" },
          ...{ email: "may@home.example", language: "en" },
        },
        wren,
      ),
    );
    const ids = await guardianOf("May Fairweather");
    const may = () => makeFamilyCode(db.app, demo.schoolId, ids.guardianId);
    expect(await may()).not.toBeNull();
    await note(dayOf(-1), "ended");
    expect([await may(), await reminded()]).toEqual([null, false]);
    await note(dayOf(-1), "student agrees");
    expect([await may(), await reminded()]).not.toContain(null);
    const acts = await db.owner("audit").where({ thing: "rights" }).orderBy("audit_id").pluck("act");
    expect(acts).toEqual([
      ...["birth date noted", "birth date noted", "passed, family ended", "passed, family reads on"],
    ]);
  });
});
