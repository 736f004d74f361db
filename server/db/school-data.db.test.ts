import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { personOf, signIn } from "#server/auth/session.ts";
import { demoPassword, emailOf, people, type PersonKey, school } from "#demo/school.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import type { PersonScope } from "../access/scope.ts";
import { readCalendar, readTimetable, replaceTimetable, saveYear, yearContent } from "./calendar.ts";
import { contentTag } from "./content-tag.ts";
import { listDue } from "./due.ts";
import { listGroups, retireGroup, saveGroup, saveMemberships } from "./groups.ts";
import { listStaff, saveStaff } from "./staff.ts";
import { markAbsence } from "./students.ts";
import { addTemplate, changeTemplate, findTemplate, listTemplates, removeTemplate } from "./templates.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
});
afterAll(() => db.close());

const as = <T>(who: PersonKey, work: (scope: PersonScope) => Promise<T>) =>
  inScope(db.app, demo.person(who), null, work);

describe("the school's calendar", () => {
  const theYear = async (scope: PersonScope) => {
    const calendar = await readCalendar(scope);
    const year = calendar.years[0] ?? expect.fail("no year");
    return yearContent(calendar, year);
  };

  it("is put as it is to stand, and a change on top of another's is a conflict", async () => {
    const before = await as("noor", theYear);
    const after = { ...before, closures: [...before.closures.slice(1)] };
    const seen = contentTag(before);
    expect(await as("noor", (scope) => saveYear(scope, after, seen))).toBe("saved");
    expect(await as("teo", theYear)).toEqual(after);
    expect(await as("desmond", (scope) => saveYear(scope, before, seen))).toBe("conflict");
    expect(await as("teo", theYear)).toEqual(after);
    await as("noor", (scope) => saveYear(scope, before, contentTag(after)));
  });

  it("of another year leaves this one's closures alone, and two new years at once are one", async () => {
    const before = await as("noor", theYear);
    const next = {
      yearId: newId(),
      name: "next",
      fromOn: "2031-09-01",
      toOn: "2032-06-20",
      schoolDays: [1, 2, 3, 4, 5],
      closures: [{ name: "Snow", fromOn: "2032-01-12", toOn: "2032-01-12" }],
      reportingPeriods: [],
    };
    expect(await as("noor", (scope) => saveYear(scope, next, null))).toBe("saved");
    expect(await as("noor", (scope) => saveYear(scope, next, null))).toBe("conflict");
    expect(await as("noor", theYear)).toEqual(before);
  });

  it("is for case managers and administrators to change, and for everyone to read", async () => {
    const before = await as("teo", theYear);
    await expect(as("teo", (scope) => saveYear(scope, before, contentTag(before)))).rejects.toMatchObject({
      name: "Refused",
    });
    const slots = await as("teo", readTimetable);
    await expect(as("teo", (scope) => replaceTimetable(scope, [], contentTag(slots)))).rejects.toMatchObject({
      name: "Refused",
    });
  });

  it("and an absence decide what is due", async () => {
    const today = "2026-11-24";
    const wren = demo.student("Wren");
    const due = () =>
      as("noor", async (scope) =>
        (await listDue(scope, await readCalendar(scope), today)).find(
          ({ goalId }) => goalId === demo.goal("Wren", "2b"),
        ),
      );
    const goal = { goal_id: demo.goal("Wren", "2b") };
    await db
      .owner("goals")
      .where(goal)
      .update({ schedule: JSON.stringify({ weekdays: [2] }), start_on: "2026-09-01" });
    await db
      .owner("entries")
      .where(goal)
      .andWhere("observed_on", ">=", "2026-11-23")
      .update({ state: "removed" });
    await db
      .owner("school_years")
      .whereNot({ name: "next" })
      .update({ from_on: "2026-09-01", to_on: "2027-06-20" });
    await db.owner("closures").delete();
    expect((await due())?.due.state).toBe("today");
    await inScope(db.app, demo.person("teo"), wren, (scope) => markAbsence(scope, wren, today, true));
    expect((await due())?.due.state).toBe("nothing");
    await inScope(db.app, demo.person("teo"), wren, (scope) => markAbsence(scope, wren, today, false));
    const year = await as("noor", theYear);
    const closed = { ...year, closures: [{ name: "Storm", fromOn: today, toOn: today }] };
    await as("noor", (scope) => saveYear(scope, closed, contentTag(year)));
    expect((await due())?.due.state).toBe("nothing");
  });
});

describe("the timetable", () => {
  it("is put whole, and a change on top of another's is a conflict", async () => {
    const before = await as("noor", readTimetable);
    const after = [{ weekday: 2, name: "Math", startsAt: "10:15", endsAt: "11:00" }];
    const seen = contentTag(before);
    expect(await as("noor", (scope) => replaceTimetable(scope, after, seen))).toBe("saved");
    expect(await as("teo", readTimetable)).toEqual(after);
    expect(await as("noor", (scope) => replaceTimetable(scope, before, seen))).toBe("conflict");
  });
});

describe("groups", () => {
  it("show each person only the students of their own circles, and keep the others", async () => {
    const groupId = newId();
    const [wren, lumi] = [demo.student("Wren"), demo.student("Lumi")];
    await as("noor", (scope) =>
      saveGroup(scope, { groupId, name: "Yard", meets: [], studentIds: [lumi, wren, newId()] }),
    );
    const yard = (who: PersonKey) =>
      as(who, async (scope) => (await listGroups(scope)).find((group) => group.groupId === groupId));
    expect(await yard("noor")).toMatchObject({ studentIds: [lumi, wren], others: 0 });
    expect(await yard("teo")).toMatchObject({ studentIds: [wren], others: 1 });
    // Desmond is in nobody's circle: he may rename the group and does not touch its students.
    await as("desmond", (scope) => saveGroup(scope, { groupId, name: "Yard 2", meets: [], studentIds: [] }));
    expect(await yard("noor")).toMatchObject({ name: "Yard 2", studentIds: [lumi, wren] });
    await inScope(db.app, demo.person("noor"), wren, (scope) => saveMemberships(scope, wren, []));
    expect(await yard("noor")).toMatchObject({ studentIds: [lumi] });
    await expect(
      as("teo", (scope) => saveGroup(scope, { groupId, name: "x", meets: [], studentIds: [] })),
    ).rejects.toMatchObject({ name: "Refused" });
    await as("noor", (scope) => retireGroup(scope, groupId, "2026-11-24"));
    expect(await yard("noor")).toBeUndefined();
  });
});

describe("staff", () => {
  it("who has left can no longer sign in or go on, and what they wrote stays theirs", async () => {
    const opened = await signIn(db.app, {
      email: emailOf(people.hana),
      password: demoPassword,
      address: "test",
      oldToken: null,
    });
    const token = opened.ok ? opened.token : expect.fail("not signed in");
    expect(await personOf(db.app, token)).toMatchObject({ givenName: "Hana", schoolName: school.name });
    const hana = (await as("desmond", listStaff)).find(({ givenName }) => givenName === "Hana");
    const left = { ...(hana ?? expect.fail("no Hana")), leftOn: "2026-01-01" };
    await expect(as("noor", (scope) => saveStaff(scope, left))).rejects.toMatchObject({ name: "Refused" });
    await as("desmond", (scope) => saveStaff(scope, left));
    expect(await personOf(db.app, token)).toBeNull();
    expect((await as("desmond", listStaff)).at(-1)).toEqual(left);
  });
});

describe("goal templates", () => {
  const content = {
    title: "Ties laces",
    area: "Daily living",
    wording: "By {date}, {student} will tie both laces in 4 of 5 trials.",
    setUp: {
      measure: { kind: "trials" as const, planned: 5 },
      criterion: null,
      schedule: null,
      strategy: "",
    },
  };

  it("are added by anyone, once however often they are sent, and read by everyone", async () => {
    const templateId = newId();
    await as("teo", (scope) => addTemplate(scope, templateId, content));
    await as("teo", (scope) => addTemplate(scope, templateId, { ...content, title: "again" }));
    const there = (await as("gus", listTemplates)).filter((one) => one.templateId === templateId);
    expect(there).toMatchObject([{ ...content, madeBy: "T. Brandvold" }]);
  });

  it("are changed and removed by their maker or a case manager; removed ones can be put back", async () => {
    const templateId = newId();
    await as("teo", (scope) => addTemplate(scope, templateId, content));
    const seen = (await as("teo", (scope) => findTemplate(scope, templateId))).changedAt;
    const put = (who: PersonKey, title: string, since: string) =>
      as(who, (scope) => changeTemplate(scope, templateId, { ...content, title }, since));
    await expect(put("mirela", "hers", seen)).rejects.toMatchObject({ name: "Refused" });
    expect(await put("teo", "his", seen)).toBe("saved");
    expect(await put("noor", "the lead's", seen)).toBe("conflict");
    expect(await as("noor", (scope) => findTemplate(scope, templateId))).toMatchObject({ title: "his" });
    await expect(as("mirela", (scope) => removeTemplate(scope, templateId, true))).rejects.toMatchObject({
      name: "Refused",
    });
    const listed = async () => (await as("noor", listTemplates)).some((one) => one.templateId === templateId);
    await as("noor", (scope) => removeTemplate(scope, templateId, true));
    expect(await listed()).toBe(false);
    await as("teo", (scope) => removeTemplate(scope, templateId, false));
    expect(await listed()).toBe(true);
  });
});
