import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { emptyDetails } from "#core/incidents/blank.ts";
import { listOffered } from "#server/db/choices.ts";
import { listIncidentRevisions, listIncidents, listNear } from "#server/db/incident-lists.ts";
import { changeIncidentState } from "#server/db/incidents.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import { choice, incidentItem, keep, send } from "#tests/recorded.ts";
import { signedIn, type Visitor } from "#tests/session.ts";
import { startWebServer, type WebServer } from "#tests/web-server.ts";
import { testNow } from "#tests/clock.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let web: WebServer;
let demo: DemoIds;
let noor: Visitor;
let teo: Visitor;
let gus: Visitor;
let ines: Visitor;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  web = await startWebServer(db.appUrl);
  [noor, teo, gus, ines] = await Promise.all([
    signedIn(web.url, "noor"),
    signedIn(web.url, "teo"),
    signedIn(web.url, "gus"),
    signedIn(web.url, "ines"),
  ]);
});
afterAll(async () => {
  await web.stop();
  await db.close();
});

const saved = { outcome: "saved" };
const already = { outcome: "already" };
const row = (id: string) => db.owner<Record<string, unknown>>("incidents").where({ incident_id: id }).first();
const asNoor = <T>(work: Parameters<typeof inScope<T>>[3]) =>
  inScope(db.app, demo.person("noor"), demo.student("Wren"), work);
const told = (id: string) =>
  asNoor(async (scope) =>
    (await listIncidents(scope, demo.student("Wren"), { limit: 1000 })).find(
      ({ incidentId }) => incidentId === id,
    ),
  );

describe("an incident from a device", () => {
  it("is kept once, in the words of the student's own choices, at the school's own time", async () => {
    const item = incidentItem(demo, {
      chosen: {
        setting: [choice("reading corner")],
        antecedent: [choice("had to share the globe")],
        behavior: [choice("tearing paper"), choice("crying")],
        consequence: [choice("a break")],
      },
      details: { ...emptyDetails, length: { minutes: 4 }, intensity: 2, resolved: true, resolvedMinutes: 6 },
      note: "  the globe came back later ",
    });
    expect([await keep(noor, item), await keep(noor, item)]).toEqual([saved, already]);
    expect(await keep(noor, { ...item, note: "something else" })).toMatchObject({ outcome: "refused" });
    expect(await told(item.id)).toMatchObject({
      names: {
        setting: ["reading corner"],
        antecedent: ["had to share the globe"],
        behavior: ["tearing paper", "crying"],
        consequence: ["a break"],
      },
      note: "the globe came back later",
      author: "N. Halloran",
      revision: 1,
    });
    const { rows } = await db.owner.raw<{ rows: { local: string; on: string }[] }>(
      `select to_char(i.occurred_at at time zone s.time_zone, 'YYYY-MM-DD HH24:MI') as local, i.occurred_on as on
       from incidents i join schools s using (school_id) where incident_id = ?`,
      [item.id],
    );
    expect(rows[0]?.local).toBe(`${rows[0]?.on} ${(await told(item.id))?.at}`);
  });

  it("names one choice however its words are written, and offers words of one incident no more", async () => {
    const first = incidentItem(demo, { chosen: { behavior: [choice("Humming loudly")] } });
    const second = incidentItem(demo, {
      chosen: { behavior: [choice("humming LOUDLY"), { ...choice("sang the anthem"), once: true }] },
    });
    for (const item of [first, second]) expect(await keep(teo, item)).toEqual(saved);
    expect((await told(second.id))?.names.behavior).toEqual(["Humming loudly", "sang the anthem"]);
    const offered = await asNoor((scope) => listOffered(scope, "2026-11-23"));
    const names = offered.get(demo.student("Wren"))?.map(({ name }) => name);
    expect(names).toContain("Humming loudly");
    expect(names).not.toContain("sang the anthem");
    // Chosen again to stay, it is offered from then on.
    await keep(teo, incidentItem(demo, { chosen: { behavior: [choice("Sang the anthem")] } }));
    expect(
      (await asNoor((scope) => listOffered(scope, "2026-11-23")))
        .get(demo.student("Wren"))
        ?.map(({ name }) => name),
    ).toContain("sang the anthem");
  });

  it("may have an exact time, a period, or only a day", async () => {
    const began = [
      { as: "time", local: "2026-11-12T10:32" },
      { as: "period", on: "2026-11-12", period: "Mathematics" },
      { as: "day", on: "2026-11-12" },
    ] as const;
    const items = began.map((one) => incidentItem(demo, { began: one }));
    for (const item of items) expect(await keep(noor, item)).toEqual(saved);
    const seen = await Promise.all(items.map(({ id }) => told(id)));
    expect(seen.map((one) => one && [one.on, one.at, one.period])).toEqual([
      ["2026-11-12", "10:32", null],
      ["2026-11-12", null, "Mathematics"],
      ["2026-11-12", null, null],
    ]);
  });

  it("is refused in words without a behavior, with strengths that are none, and outside the circle", async () => {
    expect(await keep(noor, incidentItem(demo, { chosen: { behavior: [] } }))).toMatchObject({
      outcome: "refused",
    });
    expect(
      await keep(noor, { ...incidentItem(demo), details: { ...emptyDetails, intensity: 6 } }),
    ).toMatchObject({ outcome: "refused" });
    const wren = incidentItem(demo);
    expect((await send(gus, "/recording/keep", wren)).status).toBe(404);
    expect(await row(wren.id)).toBeUndefined();
    // A choice of another student's list is nobody's word here.
    const [foreign] = await db
      .owner<{ choice_id: string; student_id: string }>("choices")
      .where({ student_id: demo.student("Wren") });
    expect(
      await keep(
        noor,
        incidentItem(demo, {
          studentId: demo.student("Caspian"),
          chosen: { behavior: [{ choiceId: foreign?.choice_id ?? "", name: "borrowed" }] },
        }),
      ),
    ).toMatchObject({ outcome: "refused" });
  });

  it("is asked about where another adult told of nearly the same time, and joined or told apart", async () => {
    const at = (time: string) => ({ began: { as: "time" as const, local: `2026-11-10T${time}` } });
    const [mine, theirs, later] = [
      incidentItem(demo, at("10:30")),
      incidentItem(demo, at("10:38")),
      incidentItem(demo, at("10:49")),
    ];
    expect([await keep(noor, mine), await keep(teo, theirs), await keep(teo, later)]).toEqual([
      saved,
      saved,
      saved,
    ]);
    const near = (id: string) => asNoor((scope) => listNear(scope, demo.student("Wren"), id));
    expect(await near(mine.id)).toEqual([{ incidentId: theirs.id, at: "10:38", by: "T. Brandvold" }]);
    const say = (same: boolean) => ({
      ...{ format: 1, kind: "same incident", id: newId(), studentId: demo.student("Wren") },
      ...{
        observedAt: new Date(testNow()).toISOString(),
        clockAhead: 0,
        incidentId: mine.id,
        otherId: theirs.id,
        same,
      },
    });
    expect(await keep(noor, say(false))).toEqual(saved);
    expect(await near(mine.id)).toEqual([]);
    expect(await near(theirs.id)).toEqual([]);
    expect([await keep(noor, say(true)), await keep(noor, say(true))]).toEqual([saved, already]);
    expect(await row(mine.id)).toMatchObject({ same_as: theirs.id, revision: 2 });
    // The other way round, one of them would tell of itself.
    const back = { ...say(true), incidentId: theirs.id, otherId: mine.id };
    expect(await keep(teo, back)).toEqual(already);
    expect(await row(theirs.id)).toMatchObject({ same_as: null, revision: 1 });
    // Taken apart from either side; each step stands in the history, and the same content sent again is known.
    expect(await keep(teo, { ...say(false), incidentId: theirs.id, otherId: mine.id })).toEqual(saved);
    expect(await row(mine.id)).toMatchObject({ same_as: null, revision: 3 });
    const steps = await asNoor((scope) => listIncidentRevisions(scope, demo.student("Wren"), mine.id));
    expect(steps.map(({ act, by }) => [act, by])).toEqual([
      ["made", "N. Halloran"],
      ["joined", "N. Halloran"],
      ["told apart", "T. Brandvold"],
    ]);
    expect(await keep(noor, mine)).toEqual(already);
  });

  it("is joined only with a near one that counts, and only by a lead or who wrote one of them down", async () => {
    const at = (time: string) => ({ began: { as: "time" as const, local: `2026-11-11T${time}` } });
    const [mine, theirs, far, own] = [
      incidentItem(demo, at("10:30")),
      incidentItem(demo, at("10:38")),
      incidentItem(demo, at("10:41")),
      incidentItem(demo, at("10:31")),
    ];
    for (const [who, item] of [
      [noor, mine],
      [teo, theirs],
      [teo, far],
      [noor, own],
    ] as const)
      expect(await keep(who, item)).toEqual(saved);
    const studentId = demo.student("Wren");
    const join = (who: Visitor, incidentId: string, otherId: string) =>
      keep(who, {
        ...{ format: 1, kind: "same incident", id: newId(), studentId, incidentId, otherId, same: true },
        ...{ observedAt: new Date(testNow()).toISOString(), clockAhead: 0 },
      });
    const within = { outcome: "refused", why: expect.stringContaining("within 10 minutes") as unknown };
    expect(await join(noor, mine.id, far.id)).toEqual(within);
    expect(await join(noor, mine.id, own.id)).toEqual(within);
    const removed = await asNoor((scope) =>
      changeIncidentState(
        scope,
        { studentId, incidentId: theirs.id },
        { expectedRevision: 1, reason: null },
        "removed",
      ),
    );
    expect(removed).toBe("saved");
    const gone = { outcome: "refused", why: expect.stringContaining("removed") as unknown };
    expect([await join(noor, mine.id, theirs.id), await join(noor, theirs.id, mine.id)]).toEqual([
      gone,
      gone,
    ]);
    // Somebody of the circle who wrote neither down is not asked, and may not answer.
    const near = await inScope(db.app, demo.person("ines"), studentId, (scope) =>
      listNear(scope, studentId, far.id),
    );
    expect(near).toEqual([]);
    expect(await join(ines, mine.id, far.id)).toEqual({ outcome: "not allowed" });
    const all = await db.owner<{ same_as: string | null }>("incidents").whereIn(
      "incident_id",
      [mine, theirs, far, own].map(({ id }) => id),
    );
    expect(all.map(({ same_as }) => same_as)).toEqual([null, null, null, null]);
  });

  it("leaves days and periods marked: none, nobody watched, or absent", async () => {
    const mark = (state: string | null, period = "", on = "2026-11-08") => ({
      ...{ format: 1, kind: "watched", id: newId(), studentId: demo.student("Wren") },
      ...{ observedAt: new Date(testNow()).toISOString(), clockAhead: 0, on, period, state },
    });
    const days = () =>
      db
        .owner("watched_days")
        .where({ student_id: demo.student("Wren"), watched_on: "2026-11-08" })
        .orderBy("period")
        .select("period", "state");
    for (const item of [mark("none"), mark("none"), mark("not observed", "Lunch")])
      expect(await keep(teo, item)).toEqual(saved);
    expect(await days()).toEqual([
      { period: "", state: "none" },
      { period: "Lunch", state: "not observed" },
    ]);
    await keep(teo, mark("not observed"));
    await keep(noor, mark(null, "Lunch"));
    expect(await days()).toEqual([{ period: "", state: "not observed" }]);
    await keep(teo, mark("absent", "", "2026-11-06"));
    expect(
      await db.owner("absences").where({ student_id: demo.student("Wren"), absent_on: "2026-11-06" }),
    ).toHaveLength(1);
    // Away for a period, a student is not away for the day.
    await keep(teo, mark("absent", "Lunch", "2026-11-05"));
    expect(
      await db.owner("absences").where({ student_id: demo.student("Wren"), absent_on: "2026-11-05" }),
    ).toHaveLength(0);
    expect(
      await db
        .owner("watched_days")
        .where({ student_id: demo.student("Wren"), watched_on: "2026-11-05", period: "Lunch" })
        .select("state"),
    ).toEqual([{ state: "not observed" }]);
    expect((await send(gus, "/recording/keep", mark("none"))).status).toBe(404);
  });
});
