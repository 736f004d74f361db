import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openThrowaway } from "#tests/database.ts";
import { demoIds } from "#tests/demo-school.ts";
import { type Caller, caller, leadsTo, problemsOf } from "#tests/route.ts";
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

describe("the way dates are written", () => {
  const save = (who: Caller, locale: string) => who.send(lists.action, { intent: "locale", locale });

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
    await leadsTo(save(noor, "en-US"));
    await expect(db.owner.raw("update schools set locale = 'xx'")).rejects.toThrow(/locale/);
  });
});

describe("groups, staff and lists", () => {
  it("a group needs a name and weekdays for its times", async () => {
    const groupId = newId();
    const fields = { groupId, name: "", "meets.0.startsAt": "09:00", "meets.0.endsAt": "09:30" };
    expect(await problemsOf(noor.send(groups.action, fields))).toEqual({
      status: 422,
      problems: {
        name: "What is the group called?",
        "meets.0.startsAt": "Tick at least one weekday.",
      },
    });
    const demo = await demoIds(db.owner);
    const good = {
      ...fields,
      name: "Harbor",
      "meets.0.day1": "on",
      [`member.${demo.student("Wren")}`]: "on",
    };
    expect(await leadsTo(noor.send(groups.action, good))).toBe("/school/groups");
    const open = (await noor.load(groups.loader, { groupId })).open;
    expect(open).toMatchObject({
      name: "Harbor",
      when: "Mon 9:00–9:30\u00a0AM",
      studentIds: [demo.student("Wren")],
    });
    expect(await leadsTo(noor.send(groups.action, { ...good, intent: "retire" }))).toBe("/school/groups");
    await expect(noor.load(groups.loader, { groupId })).rejects.toMatchObject(notThere);
  });

  it("a person needs names, an address of their own and a real date; case managers do not keep the staff", async () => {
    const fields = {
      personId: newId(),
      givenName: "",
      familyName: "Sandoval",
      email: "no",
      leftOn: "2026-02-31",
    };
    expect((await problemsOf(desmond.send(staff.action, fields))).problems).toEqual({
      givenName: "What is the given name?",
      email: "This is not a complete e-mail address.",
      leftOn: "There is no such date.",
    });
    await expect(noor.send(staff.action, fields)).rejects.toMatchObject(notForThem);
    // Whoever may not edit is shown who works here, without addresses.
    const seen = await noor.load(staff.loader);
    expect(seen.staff.length).toBe(8);
    expect(JSON.stringify(seen)).not.toMatch(/@/);
  });

  it("a ladder comes back with its problems, is kept once it has none, and can be offered no longer", async () => {
    const ladder = {
      ladderId: newId(),
      name: "Touch",
      levels: "alone\nalone",
      misses: "refused",
      intent: "ladder",
    };
    expect((await problemsOf(noor.send(lists.action, ladder))).problems).toEqual({
      levels: "Two of the prompt levels have the same name.",
    });
    const both = { ...ladder, levels: "alone\nrefused" };
    expect((await problemsOf(noor.send(lists.action, both))).problems).toEqual({
      misses: "A miss cannot also be a level.",
    });
    await leadsTo(noor.send(lists.action, { ...ladder, levels: "1. alone\n2. touch" }));
    const kept = async () => (await noor.load(lists.loader)).ladders.filter(({ name }) => name === "Touch");
    expect(await kept()).toMatchObject([{ levels: ["alone", "touch"], misses: ["refused"], own: true }]);
    await leadsTo(noor.send(lists.action, { ...ladder, intent: "retire" }));
    expect(await kept()).toEqual([]);
    const long = { intent: "area", names: "x".repeat(101) };
    expect((await problemsOf(noor.send(lists.action, long))).problems).toEqual({
      area: "At most 100 characters a line.",
    });
    await leadsTo(noor.send(lists.action, { intent: "area", names: "Reading\n\nReading\nSailing" }));
    expect((await noor.load(lists.loader)).areas).toEqual(["Reading", "Sailing"]);
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
