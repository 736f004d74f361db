import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openThrowaway } from "#tests/database.ts";
import { demoIds } from "#tests/demo-school.ts";
import { type Caller, caller } from "#tests/route.ts";
import { action } from "./record.tsx";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let params: { studentId: string; goalId: string };
let noor: Caller;

beforeAll(async () => {
  db = await openThrowaway("demo");
  const demo = await demoIds(db.owner);
  params = { studentId: demo.student("Rafi"), goalId: demo.goal("Rafi", "1") };
  noor = await caller(db.app, "noor");
});
afterAll(() => db.close());

const send = (fields: Record<string, string>) => noor.send(action, fields, params);

describe("the action that saves an entry", () => {
  it("takes at most nine round trips to the database, the session and the transaction's own included", async () => {
    const statements: string[] = [];
    const note = ({ sql }: { sql: string }) => statements.push(sql);
    db.app.on("query", note);
    const answer = await send({
      entryId: newId(),
      marks: "1110111011",
      observedAt: "2026-11-24T08:15",
      note: "calm",
    });
    db.app.removeListener("query", note);
    expect(answer instanceof Response && answer.headers.get("Location")).toMatch(/saved=/);
    expect(statements[1]).toMatch(/^BEGIN/);
    expect(statements.at(-1)).toMatch(/^COMMIT/);
    expect(statements.length).toBeLessThanOrEqual(9);
  });

  it("asks before an entry of a day without school counts", async () => {
    const saturday = { entryId: newId(), marks: "11", observedAt: "2026-11-21T10:15" };
    expect(await send(saturday)).toMatchObject({
      data: { problems: { anyDay: "Sat, Nov 21 is not a school day (Saturday)." } },
    });
    expect(await send({ ...saturday, anyDay: "yes" })).toBeInstanceOf(Response);
  });

  it.each([
    [{ marks: "", correct: "", attempted: "" }, "correct", /How many were correct/],
    [{ correct: "11", attempted: "10" }, "correct", /11 correct is more than the 10/],
    [{ correct: "x", attempted: "10" }, "correct", /whole number/],
    [{ correct: "-1", attempted: "10" }, "correct", /whole number/],
    [{ correct: "0", attempted: "0" }, "attempted", /no opportunities/],
    [{ marks: "1", observedAt: "2199-01-01T10:00" }, "observedAt", /still to come/],
    [{ marks: "1", observedAt: "2026-02-31T10:00" }, "observedAt", /There is no such date/],
    [{ marks: "1", observedAt: "2026-02-20Thalf past" }, "observedAt", /^Write a time, such as/],
    [{ marks: "1", observedAt: "yesterday" }, "observedAt", /date and time/],
    [{ marks: "1", note: "x".repeat(2001) }, "note", /At most 2000/],
    [{ marks: "1", entryId: "1" }, "entryId", /./],
  ])(
    "answers %o with a message for its field, and gives back what was typed",
    async (fields, field, message) => {
      const answer = await send({ entryId: newId(), observedAt: "2026-11-20T10:15", ...fields });
      if (answer instanceof Response || !("data" in answer)) throw new Error("was saved");
      expect(answer.init?.status).toBe(422);
      expect(answer.data).toMatchObject({
        problems: { [field]: expect.stringMatching(message) as string },
        typed: fields,
      });
    },
  );
});
