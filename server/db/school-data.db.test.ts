import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { personOf, signIn } from "#server/auth/session.ts";
import { demoPassword, emailOf, people, type PersonKey, school } from "#demo/school.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, visiting } from "#tests/demo-school.ts";
import type { Visit } from "../access/visit.ts";
import {
  contentTag,
  readCalendar,
  readTimetable,
  replaceTimetable,
  saveYear,
  yearContent,
} from "./calendar.ts";
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

const as = <T>(who: PersonKey, work: (visit: Visit) => Promise<T>) =>
  visiting(db.app, demo.person(who), null, work);
const refused = (status: number) => ({ init: { status } });

describe("the school's calendar", () => {
  const theYear = async (visit: Visit) => {
    const calendar = await readCalendar(visit);
    const year = calendar.years[0] ?? expect.fail("no year");
    return yearContent(calendar, year);
  };

  it("is put as it is to stand, and a change on top of another's is a conflict", async () => {
    const before = await as("noor", theYear);
    const after = { ...before, closures: [...before.closures.slice(1)] };
    const seen = contentTag(before);
    expect(await as("noor", (visit) => saveYear(visit, after, seen))).toBe("saved");
    expect(await as("teo", theYear)).toEqual(after);
    expect(await as("desmond", (visit) => saveYear(visit, before, seen))).toBe("conflict");
    expect(await as("teo", theYear)).toEqual(after);
    await as("noor", (visit) => saveYear(visit, before, contentTag(after)));
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
    expect(await as("noor", (visit) => saveYear(visit, next, null))).toBe("saved");
    expect(await as("noor", (visit) => saveYear(visit, next, null))).toBe("conflict");
    expect(await as("noor", theYear)).toEqual(before);
  });

  it("is for case managers and administrators to change, and for everyone to read", async () => {
    const before = await as("teo", theYear);
    await expect(as("teo", (visit) => saveYear(visit, before, contentTag(before)))).rejects.toMatchObject(
      refused(404),
    );
    const slots = await as("teo", readTimetable);
    await expect(as("teo", (visit) => replaceTimetable(visit, [], contentTag(slots)))).rejects.toMatchObject(
      refused(404),
    );
  });

  it("and an absence decide what is due", async () => {
    const today = "2026-11-24";
    const wren = demo.student("Wren");
    const due = () =>
      as("noor", async (visit) =>
        (await listDue(visit, await readCalendar(visit), today)).find(
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
    await visiting(db.app, demo.person("teo"), wren, (visit) => markAbsence(visit, wren, today, true));
    expect((await due())?.due.state).toBe("nothing");
    await visiting(db.app, demo.person("teo"), wren, (visit) => markAbsence(visit, wren, today, false));
    const year = await as("noor", theYear);
    const closed = { ...year, closures: [{ name: "Storm", fromOn: today, toOn: today }] };
    await as("noor", (visit) => saveYear(visit, closed, contentTag(year)));
    expect((await due())?.due.state).toBe("nothing");
  });
});

describe("the timetable", () => {
  it("is put whole, and a change on top of another's is a conflict", async () => {
    const before = await as("noor", readTimetable);
    const after = [{ weekday: 2, name: "Math", startsAt: "10:15", endsAt: "11:00" }];
    const seen = contentTag(before);
    expect(await as("noor", (visit) => replaceTimetable(visit, after, seen))).toBe("saved");
    expect(await as("teo", readTimetable)).toEqual(after);
    expect(await as("noor", (visit) => replaceTimetable(visit, before, seen))).toBe("conflict");
  });
});

describe("groups", () => {
  it("show each person only the students of their own circles, and keep the others", async () => {
    const groupId = newId();
    const [wren, lumi] = [demo.student("Wren"), demo.student("Lumi")];
    await as("noor", (visit) =>
      saveGroup(visit, { groupId, name: "Yard", meets: [], studentIds: [lumi, wren, newId()] }),
    );
    const yard = (who: PersonKey) =>
      as(who, async (visit) => (await listGroups(visit)).find((group) => group.groupId === groupId));
    expect(await yard("noor")).toMatchObject({ studentIds: [lumi, wren], others: 0 });
    expect(await yard("teo")).toMatchObject({ studentIds: [wren], others: 1 });
    // Desmond is in nobody's circle: he may rename the group and does not touch its students.
    await as("desmond", (visit) => saveGroup(visit, { groupId, name: "Yard 2", meets: [], studentIds: [] }));
    expect(await yard("noor")).toMatchObject({ name: "Yard 2", studentIds: [lumi, wren] });
    await visiting(db.app, demo.person("noor"), wren, (visit) => saveMemberships(visit, wren, []));
    expect(await yard("noor")).toMatchObject({ studentIds: [lumi] });
    await expect(
      as("teo", (visit) => saveGroup(visit, { groupId, name: "x", meets: [], studentIds: [] })),
    ).rejects.toMatchObject(refused(404));
    await as("noor", (visit) => retireGroup(visit, groupId, "2026-11-24"));
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
    await expect(as("noor", (visit) => saveStaff(visit, left))).rejects.toMatchObject(refused(404));
    await as("desmond", (visit) => saveStaff(visit, left));
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
    await as("teo", (visit) => addTemplate(visit, templateId, content));
    await as("teo", (visit) => addTemplate(visit, templateId, { ...content, title: "again" }));
    const there = (await as("gus", listTemplates)).filter((one) => one.templateId === templateId);
    expect(there).toMatchObject([{ ...content, madeBy: "T. Brandvold" }]);
  });

  it("are changed and removed by their maker or a case manager; removed ones can be put back", async () => {
    const templateId = newId();
    await as("teo", (visit) => addTemplate(visit, templateId, content));
    const seen = (await as("teo", (visit) => findTemplate(visit, templateId))).changedAt;
    const put = (who: PersonKey, title: string, since: string) =>
      as(who, (visit) => changeTemplate(visit, templateId, { ...content, title }, since));
    await expect(put("mirela", "hers", seen)).rejects.toMatchObject(refused(404));
    expect(await put("teo", "his", seen)).toBe("saved");
    expect(await put("noor", "the lead's", seen)).toBe("conflict");
    expect(await as("noor", (visit) => findTemplate(visit, templateId))).toMatchObject({ title: "his" });
    await expect(as("mirela", (visit) => removeTemplate(visit, templateId, true))).rejects.toMatchObject(
      refused(404),
    );
    const listed = async () => (await as("noor", listTemplates)).some((one) => one.templateId === templateId);
    await as("noor", (visit) => removeTemplate(visit, templateId, true));
    expect(await listed()).toBe(false);
    await as("teo", (visit) => removeTemplate(visit, templateId, false));
    expect(await listed()).toBe(true);
  });
});
