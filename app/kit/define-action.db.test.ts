import * as z from "zod/mini";
import { redirect } from "react-router";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { PersonScope } from "#server/access/scope.ts";
import { Invalid } from "#server/errors.ts";
import { markAbsence } from "#server/db/students.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { type Caller, caller, leadsTo, problemsOf } from "#tests/route.ts";
import { defineAction, defineForm, defineIntents, intent, type Submitted } from "./define-action.server.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
let teo: Caller;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  [noor, teo] = await Promise.all([caller(db.app, "noor"), caller(db.app, "teo")]);
});
afterAll(() => db.close());

type Sent = Submitted<{ studentId: string }>;
const wren = () => ({ studentId: demo.student("Wren") });
const absences = async () => (await db.owner("absences").where({ student_id: wren().studentId })).length;
const schema = z.object({ day: z.iso.date("Write a date.") });
const forbidden = { init: { status: 403 } };

describe("an action", () => {
  const mark = defineAction({
    permission: "goal.edit",
    schema,
    async run(scope, { day }, { params, form, wrong }: Sent) {
      await markAbsence(scope, params.studentId, day, true);
      if (form.has("late")) throw new Invalid({ day: "Too late." });
      return form.has("taken") ? wrong({ form: "Somebody was first." }, 409) : redirect("/done");
    },
  });

  it("gives back what is wrong beside each field, and runs with what is right", async () => {
    expect(await problemsOf(noor.send(mark, { day: "soon" }, wren()))).toEqual({
      status: 422,
      problems: { day: "Write a date." },
    });
    expect(await leadsTo(noor.send(mark, { day: "2026-10-01" }, wren()))).toBe("/done");
    expect(await problemsOf(noor.send(mark, { day: "2026-10-02", taken: "1" }, wren()))).toEqual({
      status: 409,
      problems: { form: "Somebody was first." },
    });
  });

  it("takes everything back that it wrote before it found something invalid", async () => {
    const before = await absences();
    expect(await problemsOf(noor.send(mark, { day: "2026-10-05", late: "1" }, wren()))).toEqual({
      status: 422,
      problems: { day: "Too late." },
    });
    expect(await absences()).toBe(before);
  });

  it("is refused before its values are read, for the student of its address", async () => {
    await expect(teo.send(mark, { day: "soon" }, wren())).rejects.toMatchObject(forbidden);
    const own = defineForm({
      permission: "goal.edit",
      run: (scope: PersonScope, { typed }: Sent) =>
        Promise.resolve(redirect(`/${scope.studentId === wren().studentId}/${typed["day"]}`)),
    });
    expect(await leadsTo(noor.send(own, { day: "x" }, wren()))).toBe("/true/x");
  });
});

describe("an action of several intents", () => {
  const to = (path: string) => ({ run: () => Promise.resolve(redirect(path)) });
  const pages = defineIntents({
    permission: "goal.edit",
    intents: {
      save: to("/saved"),
      mark: { ...to("/marked"), permission: "absence.mark" },
      dated: intent({ schema, part: "days", run: () => Promise.resolve(redirect("/dated")) }),
    },
    otherwise: "save",
  });

  it("runs the one that is named, and the one meant where none is", async () => {
    expect(await leadsTo(noor.send(pages, {}, wren()))).toBe("/saved");
    expect(await leadsTo(noor.send(pages, { intent: "mark" }, wren()))).toBe("/marked");
    expect(await leadsTo(noor.send(pages, { intent: "dated", day: "2026-10-01" }, wren()))).toBe("/dated");
  });

  it("says to which part of its page a problem belongs", async () => {
    expect(await noor.send(pages, { intent: "dated", day: "" }, wren())).toMatchObject({
      data: { problems: { day: "Write a date." }, part: "days", typed: { day: "" } },
    });
  });

  it("asks for what the named one must be allowed to, and for no other", async () => {
    expect(await leadsTo(teo.send(pages, { intent: "mark" }, wren()))).toBe("/marked");
    for (const named of ["save", "dated", ""])
      await expect(teo.send(pages, { intent: named }, wren())).rejects.toMatchObject(forbidden);
  });

  it.each(["unknown", "constructor", "toString"])("does not know %o", async (named) => {
    await expect(noor.send(pages, { intent: named }, wren())).rejects.toMatchObject({
      init: { status: 404 },
    });
  });
});
