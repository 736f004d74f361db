import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openThrowaway } from "#tests/database.ts";
import { demoIds } from "#tests/demo-school.ts";
import { type Caller, caller, leadsTo, problemsOf, typedLines } from "#tests/route.ts";
import * as calendar from "./calendar.tsx";
import * as groups from "./groups.tsx";
import * as lists from "./lists.tsx";
import * as staff from "./staff.tsx";
import * as template from "./template.tsx";
import * as templates from "./templates.tsx";
import * as week from "./week.tsx";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let noor: Caller;
let desmond: Caller;
let teo: Caller;
beforeAll(async () => {
  db = await openThrowaway("demo");
  [noor, desmond, teo] = await Promise.all([
    caller(db.app, "noor"),
    caller(db.app, "desmond"),
    caller(db.app, "teo"),
  ]);
});
afterAll(() => db.close());

const notForThem = { init: { status: 403 } };
const notThere = { init: { status: 404 } };

describe("the calendar", () => {
  const year = {
    yearId: newId(),
    name: "2040–41",
    fromOn: "2040-09-03",
    toOn: "2041-06-14",
    schoolDay1: "on",
    schoolDay3: "on",
  };
  const closure = (index: number, name: string, fromOn: string, toOn = "") => ({
    [`closures.${index}.name`]: name,
    [`closures.${index}.fromOn`]: fromOn,
    [`closures.${index}.toOn`]: toOn,
  });

  it.each([
    [{ name: " " }, "name", "What is the year called?"],
    [{ fromOn: "2040-02-30" }, "fromOn", "There is no such date."],
    [{ toOn: "2040-09-03" }, "toOn", "The year ends before it begins."],
    [{ toOn: "2042-06-14" }, "toOn", "A school year is at most 400 days."],
    [{ schoolDay1: "", schoolDay3: "" }, "schoolDays", "Tick at least one weekday."],
    [{ fromOn: "2026-10-01", toOn: "2027-02-01" }, "fromOn", /^The year overlaps with 2026–27/],
    [closure(0, "", "2040-11-01"), "closures.0.name", "Give it a name."],
    [closure(0, "Snow", "2041-12-01"), "closures.0.fromOn", "This lies outside the school year."],
    [closure(0, "Snow", "2040-12-05", "2040-12-01"), "closures.0.toOn", "It ends before it begins."],
    [
      { ...closure(0, "Snow", "2040-12-01", "2040-12-05"), ...closure(1, "Ice", "2040-12-05") },
      "closures.1.fromOn",
      "It overlaps with Snow.",
    ],
  ])("says what is wrong with %o", async (part, field, message) => {
    const fields: Record<string, string> = { ...year, ...part };
    const answer = await problemsOf(noor.send(calendar.action, fields));
    expect(answer).toEqual({
      status: 422,
      problems: { [field]: expect.stringMatching(message) as string },
    });
  });

  it("keeps a year with its closures in the order of their dates, and shows it to everyone", async () => {
    const fields = {
      ...year,
      // Rows that stand empty are no closures, and a row taken out leaves a gap.
      ...closure(0, "Spring", "2041-04-01", "2041-04-05"),
      ...closure(3, "Snow", "2040-12-03"),
      ...closure(4, "", ""),
    };
    expect(await leadsTo(noor.send(calendar.action, fields))).toBe(`/school/calendar?year=${year.yearId}`);
    const shown = await teo.load(calendar.loader, {}, `?year=${year.yearId}`);
    expect(shown).toMatchObject({
      mayEdit: false,
      content: {
        schoolDays: [1, 3],
        closures: [
          { name: "Snow", fromOn: "2040-12-03", toOn: "2040-12-03" },
          { name: "Spring", fromOn: "2041-04-01", toOn: "2041-04-05" },
        ],
      },
    });
    // September 2040 has eight Mondays and Wednesdays from the third on.
    expect(shown.picture?.months[0]?.days.filter(({ kind }) => kind === "session")).toHaveLength(8);
    expect((await noor.load(calendar.loader, {}, "?year=new")).content).toBeNull();
    await expect(noor.send(calendar.action, { ...fields, name: "Again" })).resolves.toMatchObject({
      init: { status: 409 },
    });
    await expect(teo.send(calendar.action, fields)).rejects.toMatchObject(notForThem);
    await db.owner("schools").update({ school_days: [1, 2, 3, 4, 5] });
  });
});

describe("the timetable", () => {
  const row = (index: number, fields: Record<string, string>) =>
    Object.fromEntries(Object.entries(fields).map(([name, value]) => [`slots.${index}.${name}`, value]));
  const good = { name: "Math", startsAt: "10:15", endsAt: "11:00", day2: "on" };

  it.each([
    [{ ...good, name: "" }, "slots.0.name", "Give it a name."],
    [{ ...good, startsAt: "25:00" }, "slots.0.startsAt", "Write a time, such as 1:20\u00a0PM."],
    [{ ...good, endsAt: "10:15" }, "slots.0.endsAt", "It ends before it begins."],
    [{ ...good, day2: "" }, "slots.0.startsAt", "Tick at least one weekday."],
    [{ ...good, name: "x".repeat(61) }, "slots.0.name", "At most 60 characters."],
  ])("says what is wrong with %o", async (fields, field, message) => {
    expect(await problemsOf(noor.send(week.action, row(0, fields)))).toEqual({
      status: 422,
      problems: { [field]: message },
    });
  });

  it("is put whole, and only on top of what one has seen", async () => {
    const { seen } = await noor.load(week.loader);
    const fields = { ...row(0, good), ...row(7, { ...good, name: "Recess", startsAt: "09:00" }), seen };
    expect(await leadsTo(noor.send(week.action, fields))).toBe("/school/week");
    expect((await teo.load(week.loader)).slots).toEqual([
      { weekday: 2, name: "Recess", startsAt: "09:00", endsAt: "11:00" },
      { weekday: 2, name: "Math", startsAt: "10:15", endsAt: "11:00" },
    ]);
    expect((await problemsOf(noor.send(week.action, fields))).status).toBe(409);
    await expect(teo.send(week.action, fields)).rejects.toMatchObject(notForThem);
  });
});

/** What the page Lists sends when nothing was typed in it, with what stood. */
async function listsAsTheyStand(who: Caller): Promise<Record<string, string>> {
  const { areas, settings, ladders, latePressDays, locale, tablets } = await who.load(lists.loader);
  const names = (rows: readonly { name: string }[]) => rows.map(({ name }) => name);
  return {
    ...typedLines("area", names(areas)),
    ...typedLines("setting", names(settings)),
    "area.stood": names(areas).join("\n"),
    "setting.stood": names(settings).join("\n"),
    "ladder.stood": ladders.map(({ ladderId }) => ladderId).join("\n"),
    ...Object.assign(
      {},
      ...ladders.map(({ ladderId, name, levels, misses }, place) => ({
        [`ladder.${place}.ladderId`]: ladderId,
        [`ladder.${place}.name`]: name,
        ...typedLines(`levels-${ladderId}`, names(levels)),
        ...typedLines(`misses-${ladderId}`, names(misses)),
      })),
    ),
    latePressDays: String(latePressDays),
    offlineDays: String(tablets.offlineDays),
    pinMinutes: String(tablets.pinMinutes ?? ""),
    locale,
  } as Record<string, string>;
}

describe("the way dates are written", () => {
  const save = async (who: Caller, locale: string) =>
    who.send(lists.action, { ...(await listsAsTheyStand(noor)), locale });

  it("is the school’s, one of three, and changed by those who edit the school only", async () => {
    expect((await noor.load(lists.loader)).locale).toBe("en-US");
    expect((await problemsOf(save(noor, "tlh"))).problems).toEqual({
      locale: "Choose how dates are written.",
    });
    await expect(save(teo, "en-GB")).rejects.toMatchObject(notForThem);
    await leadsTo(save(noor, "en-GB"));
    expect(await db.owner("schools").pluck("locale")).toEqual(["en-GB"]);
    expect((await (await caller(db.app, "desmond")).load(lists.loader)).locale).toBe("en-GB");
    expect(await db.owner("audit").where({ thing: "school" }).pluck("act")).toEqual(["changed"]);
    // Signing in reads the school's way anew; until then a session has the one it began with.
    noor = await caller(db.app, "noor");
    await leadsTo(save(noor, "en-US"));
    await expect(db.owner.raw("update schools set locale = 'xx'")).rejects.toThrow(/locale/);
    noor = await caller(db.app, "noor");
  });
});

describe("the lists of the school", () => {
  it("are left alone where nothing was changed in them: a starter ladder does not become the school's own", async () => {
    await db.owner("ladders").delete();
    expect((await noor.load(lists.loader)).areStarters).toBe(true);
    await leadsTo(noor.send(lists.action, await listsAsTheyStand(noor)));
    expect(await db.owner("ladders")).toEqual([]);
    expect(await db.owner("school_lists").where({ list: "area" }).orderBy("position").pluck("name")).toEqual(
      (await noor.load(lists.loader)).areas.map(({ name }) => name),
    );
  });

  it("come back with what is wrong beside the list or the line, and save nothing of it", async () => {
    const stands = await listsAsTheyStand(noor);
    const ladderId = newId();
    const fresh = (fields: Record<string, string>) => ({
      ...stands,
      "ladder.9.ladderId": ladderId,
      "ladder.9.name": "Touch",
      ...fields,
    });
    const wrong = async (fields: Record<string, string>) =>
      (await problemsOf(noor.send(lists.action, fields))).problems;
    const levels = (...names: string[]) => typedLines(`levels-${ladderId}`, names);
    expect(await wrong(fresh(levels("alone", "alone")))).toEqual({
      [`levels-${ladderId}`]: "Two of the prompt levels have the same name.",
    });
    expect(await wrong(fresh({}))).toEqual({
      [`levels-${ladderId}`]: "Name at least one of the prompt levels.",
    });
    expect(
      await wrong(fresh({ ...levels("alone", "refused"), ...typedLines(`misses-${ladderId}`, ["refused"]) })),
    ).toEqual({ [`misses-${ladderId}`]: "A miss cannot also be a level." });
    expect(await wrong({ ...stands, "area.0.name": "x".repeat(101) })).toEqual({
      "area.0.name": "At most 100 characters.",
    });
    expect(
      await wrong({
        ...stands,
        ...typedLines(
          "setting",
          Array.from({ length: 201 }, (_, at) => `room ${at}`),
        ),
      }),
    ).toEqual({ setting: "At most 200 lines." });
    expect(await wrong({ ...stands, offlineDays: "0", pinMinutes: "241" })).toEqual({
      offlineDays: "1 at least.",
      pinMinutes: "1 to 240 minutes.",
    });
    expect(await wrong({ ...stands, latePressDays: "61", "area.0.name": "Rowing" })).toEqual({
      latePressDays: "At most 60 days.",
    });
    expect((await noor.load(lists.loader)).areas.map(({ name }) => name)).not.toContain("Rowing");
  });

  it("keep their order, a new ladder, and what another person added meanwhile; a ladder can be offered no longer", async () => {
    const stands = await listsAsTheyStand(noor);
    const ladderId = newId();
    const count = Object.keys(stands).filter((name) => /^ladder\.\d+\.name$/.test(name)).length;
    await db.owner("school_lists").insert({
      school_id: (await demoIds(db.owner)).schoolId,
      ...{ item_id: newId(), list: "area", name: "Sailing", position: 99 },
    });
    const areas = Object.entries(stands).filter(([name]) => name.startsWith("area."));
    await leadsTo(
      noor.send(lists.action, {
        ...Object.fromEntries(
          Object.entries(stands).filter(([name]) => !areas.some(([one]) => one === name)),
        ),
        "area.stood": stands["area.stood"] ?? "",
        ...typedLines("area", ["Rowing", "Reading", "Reading"]),
        [`ladder.${count}.ladderId`]: ladderId,
        [`ladder.${count}.name`]: "Touch",
        ...typedLines(`levels-${ladderId}`, ["alone", "touch"]),
        ...typedLines(`misses-${ladderId}`, ["refused"]),
      }),
    );
    const after = await noor.load(lists.loader);
    expect(after.areas.map(({ name }) => name)).toEqual(["Rowing", "Reading", "Sailing"]);
    // With a ladder of its own the school has those that were offered to start from too, in the order that was seen.
    expect(after.areStarters).toBe(false);
    expect(after.ladders).toHaveLength(count + 1);
    expect(after.ladders.at(-1)).toMatchObject({
      ...{ ladderId, name: "Touch" },
      ...{ levels: [{ name: "alone" }, { name: "touch" }], misses: [{ name: "refused" }] },
    });
    const now = await listsAsTheyStand(noor);
    await leadsTo(noor.send(lists.action, { ...now, [`ladder.${count}.retired`]: "yes" }));
    expect((await noor.load(lists.loader)).ladders.map(({ name }) => name)).not.toContain("Touch");
    expect(await db.owner("ladders").where({ ladder_id: ladderId }).pluck("retired_on")).not.toEqual([null]);
  });
});

describe("groups", () => {
  const blank = { "group.0.name": "", "group.0.groupId": "", "group.0.seen": "" };

  it("need a name and weekdays for their times; one left as it stood is not saved again", async () => {
    const demo = await demoIds(db.owner);
    const groupId = newId();
    const times = { [`meets-${groupId}.0.startsAt`]: "09:00", [`meets-${groupId}.0.endsAt`]: "09:30" };
    const fields = { ...blank, "group.0.groupId": groupId, ...times };
    expect(await problemsOf(noor.send(groups.action, fields))).toEqual({
      status: 422,
      problems: { "group.0.name": "What is the group called?" },
    });
    expect(await problemsOf(noor.send(groups.action, { ...fields, "group.0.name": "Harbor" }))).toEqual({
      status: 422,
      problems: { [`meets-${groupId}.0.startsAt`]: "Tick at least one weekday." },
    });
    const good = {
      ...fields,
      "group.0.name": "Harbor",
      [`meets-${groupId}.0.day1`]: "on",
      [`group.0.member-${demo.student("Wren")}`]: "on",
    };
    expect(await leadsTo(noor.send(groups.action, good))).toBe("/school/groups");
    const find = async () =>
      (await noor.load(groups.loader)).groups.find((group) => group.groupId === groupId);
    expect(await find()).toMatchObject({
      name: "Harbor",
      when: "Mon 9:00–9:30\u00a0AM",
      studentIds: [demo.student("Wren")],
    });
    const events = () => db.owner("audit").where({ thing: "group", thing_id: groupId });
    expect(await events()).toHaveLength(1);
    const { seen = "" } = (await find()) ?? {};
    await leadsTo(noor.send(groups.action, { ...good, "group.0.seen": seen }));
    expect(await events()).toHaveLength(1);
    // What another person changed in the meantime is not written over, whatever was typed.
    await leadsTo(noor.send(groups.action, { ...good, "group.0.seen": seen, "group.0.name": "Pier" }));
    const late = { ...good, "group.0.seen": seen, "group.0.name": "Wharf" };
    expect((await problemsOf(noor.send(groups.action, late))).problems).toEqual({
      "group.0.name": expect.stringMatching(/^Another person changed this group/) as string,
    });
    const now = { ...good, "group.0.name": "Pier", "group.0.seen": (await find())?.seen ?? "" };
    expect(await leadsTo(noor.send(groups.action, { ...now, "group.0.retired": "yes" }))).toBe(
      "/school/groups",
    );
    await expect(noor.load(groups.loader, { groupId })).rejects.toMatchObject(notThere);
    await expect(teo.send(groups.action, good)).rejects.toMatchObject(notForThem);
  });

  it("an empty line is no group, and a group of times alone is asked for its name", async () => {
    const count = async () => (await noor.load(groups.loader)).groups.length;
    const before = await count();
    await leadsTo(noor.send(groups.action, blank));
    expect(await count()).toBe(before);
  });
});

describe("the staff", () => {
  const person = (fields: Record<string, string>, place = 0) =>
    Object.fromEntries(
      Object.entries({ personId: "", givenName: "", familyName: "", email: "", seen: "", ...fields }).map(
        ([name, value]) => [`person.${place}.${name}`, value],
      ),
    );

  it("need names, an address of their own and a real date; case managers do not keep them", async () => {
    const fields = person({ familyName: "Sandoval", email: "no", leftOn: "2026-02-31" });
    expect((await problemsOf(desmond.send(staff.action, fields))).problems).toEqual({
      "person.0.givenName": "What is the given name?",
      "person.0.email": "This is not a complete e-mail address.",
      "person.0.leftOn": "There is no such date.",
    });
    await expect(noor.send(staff.action, fields)).rejects.toMatchObject(notForThem);
    // Whoever may not edit is shown who works here, without addresses.
    const seen = await noor.load(staff.loader);
    expect(seen.staff.length).toBe(8);
    expect(JSON.stringify(seen)).not.toMatch(/@/);
    expect(seen.rows).toBeNull();
  });

  it("are saved where they were changed: two new ones at once, and nobody who was not touched", async () => {
    const rows = (await desmond.load(staff.loader)).rows ?? [];
    const all = Object.assign({}, ...rows.map((row, place) => person(row, place))) as Record<string, string>;
    const events = () => db.owner("audit").where({ thing: "person" }).whereNot("act", "signed in");
    await leadsTo(desmond.send(staff.action, all));
    expect(await events()).toEqual([]);
    const more = {
      ...person({ givenName: "Liv", familyName: "Sandoval", email: "liv@larkspurbay.example" }, 20),
      ...person({ givenName: "Odd", familyName: "Nyberg", email: "LIV@larkspurbay.example" }, 21),
    };
    expect((await problemsOf(desmond.send(staff.action, { ...all, ...more }))).problems).toEqual({
      [`person.${rows.length}.email`]: "This is the address of Odd Nyberg already.",
      [`person.${rows.length + 1}.email`]: "This is the address of Liv Sandoval already.",
    });
    await leadsTo(desmond.send(staff.action, { ...all, ...more, "person.21.email": "" }));
    expect(await events()).toHaveLength(2);
    const names = ((await desmond.load(staff.loader)).rows ?? []).map(({ givenName }) => givenName);
    expect(names).toEqual(expect.arrayContaining(["Liv", "Odd"]));
  });

  it("are not written over where another administrator changed them meanwhile, and keep one who sets up the school", async () => {
    const rows = (await desmond.load(staff.loader)).rows ?? [];
    const teoRow = rows.find(({ givenName }) => givenName === "Teo") ?? {};
    await leadsTo(desmond.send(staff.action, person({ ...teoRow, position: "Reading teacher" })));
    expect(
      (await problemsOf(desmond.send(staff.action, person({ ...teoRow, position: "Librarian" })))).problems,
    ).toEqual({ "person.0.givenName": expect.stringMatching(/^Another administrator changed/) as string });
    const own = rows.find(({ givenName }) => givenName === "Desmond") ?? {};
    expect(
      (await problemsOf(desmond.send(staff.action, person({ ...own, administrator: "" })))).problems,
    ).toEqual({ "person.0.administrator": "The school needs an administrator who works here." });
  });
});

describe("the library of templates", () => {
  const fields = {
    templateId: newId(),
    intent: "save",
    title: "Ties {kind of knot}",
    wording: "By {date}, {student} will tie {kind of knot} in 4 of 5 trials in 3 of 4 sessions.",
    area: "Daily living",
    kind: "trials",
    planned: "5",
    value: "80",
    k: "3",
    n: "4",
    "purpose.probe": "yes",
  };
  const isNew = { templateId: "new" };

  it.each([
    [{ title: "" }, "title"],
    [{ wording: " " }, "wording"],
    [{ wording: "x".repeat(2001) }, "wording"],
    [{ kind: "" }, "kind"],
    [{ kind: "checklist" }, "parts"],
    [{ value: "130" }, "value"],
    [{ n: "" }, "window"],
    [{ perWeek: "many" }, "perWeek"],
    [{ wording: "Wren will tie it." }, "named"],
    [{ strategy: "As with Toby: from behind." }, "named"],
  ])("refuses %o beside its field", async (part, field) => {
    const answer = await problemsOf(noor.send(template.action, { ...fields, ...part }, isNew));
    expect(answer.status).toBe(422);
    expect(Object.keys(answer.problems)).toContain(field);
  });

  it("keeps what anyone adds, shows it with its blanks, and finds it by any of its words", async () => {
    expect(await leadsTo(teo.send(template.action, fields, isNew))).toBe("/school/templates");
    // Somebody may be called Malik and not be meant.
    const named = { ...fields, templateId: newId(), title: "Reads “Malik and the whale”" };
    expect((await problemsOf(noor.send(template.action, named, isNew))).problems).toHaveProperty("named");
    await leadsTo(noor.send(template.action, { ...named, named: "yes" }, isNew));
    const titles = async (search: string) =>
      (await teo.load(templates.loader, {}, search)).areas.flatMap(([, rows]) =>
        rows.map(({ title }) => title),
      );
    expect(await titles("?q=KNOT daily")).toEqual(
      ["Ties {kind of knot}", "Reads “Malik and the whale”"].sort(),
    );
    expect(await titles("?q=whale")).toEqual(["Reads “Malik and the whale”"]);
    expect(await titles("?q=nothing-of-the-kind")).toEqual([]);
    const opened = await teo.load(template.loader, { templateId: fields.templateId });
    expect(opened.start.values).toMatchObject({
      wording: fields.wording,
      kind: "trials",
      planned: "5",
      k: "3",
    });
  });

  it("is offered for the students whom one leads, and for no one else's", async () => {
    expect((await teo.load(templates.loader)).students).toEqual([]);
    const mine = await noor.load(templates.loader);
    expect(mine.students).toHaveLength(14);
    const [first] = mine.students;
    expect((await noor.load(templates.loader, {}, `?for=${first?.studentId}`)).target).toEqual(first);
    expect((await teo.load(templates.loader, {}, `?for=${first?.studentId}`)).target).toBeNull();
  });

  it("makes a template of a goal only for whoever may read the student, and without the name", async () => {
    const demo = await demoIds(db.owner);
    const search = `?student=${demo.student("Caspian")}&goal=${demo.goal("Caspian", "2")}`;
    const { start } = await noor.load(template.loader, isNew, search);
    expect(start.values["wording"]).toMatch(/^By \{date\}, \{student\} will raise his hand/);
    expect(JSON.stringify(start.values)).not.toMatch(/Caspian|\bCas\b|Doyle/);
    const gus = await caller(db.app, "gus");
    await expect(gus.load(template.loader, isNew, search)).rejects.toMatchObject(notThere);
    await expect(noor.load(template.loader, { templateId: "1" })).rejects.toMatchObject(notThere);
    await expect(noor.load(template.loader, { templateId: newId() })).rejects.toMatchObject(notThere);
    // A template of Noor's is not for Teo to open and change.
    const hers = (await noor.load(templates.loader)).areas
      .flatMap(([, rows]) => rows)
      .find(({ title }) => title === "Writes a paragraph");
    await expect(teo.load(template.loader, { templateId: hers?.templateId })).rejects.toMatchObject(
      notForThem,
    );
  });
});
