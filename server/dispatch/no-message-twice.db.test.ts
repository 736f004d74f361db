import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { openSending } from "#tests/sending.ts";
import { startWebServer } from "#tests/web-server.ts";
import { addMessages } from "../db/messages.ts";
import { withScope } from "../db/school.ts";
import { keepJobsRunning } from "../jobs/run.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let out: Awaited<ReturnType<typeof openSending>>;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  out = await openSending(db, demo.schoolId, 1500);
});
afterAll(async () => {
  await out.stop();
  await db.close();
});

const address = (index: number) => `reader${index}@larkspurbay.example`;

/** Adds people who can be written to. */
async function addReaders(count: number): Promise<string[]> {
  const rows = Array.from({ length: count }, (_, index) => ({
    ...{ school_id: demo.schoolId, person_id: newId(), given_name: "Reader", family_name: String(index) },
    ...{ position: "", email: address(index), role: "staff" as const },
  }));
  await db.owner("people").insert(rows);
  await out.atAnyTime();
  return rows.map(({ person_id }) => person_id);
}

const addAll = (readers: readonly string[], each: number) =>
  withScope(db.app, { kind: "job", schoolId: demo.schoolId, name: "test" }, null, (scope) =>
    addMessages(
      scope,
      Array.from({ length: each }, (_, round) =>
        readers.map((personId) => ({
          ...{ kind: "receipt" as const, reader: { personId }, studentId: null },
          about: { receipt: "all sent" as const, count: round + 1 },
        })),
      ).flat(),
    ),
  );

const statesOf = async () => {
  const rows = await out.rows();
  return Object.fromEntries(
    [...new Set(rows.map(({ state }) => state))].map((state) => [
      state,
      rows.filter((row) => row.state === state).length,
    ]),
  );
};

describe("500 messages to 100 people", () => {
  it("are each sent exactly once or unknown, in the order of their person, by two processes of which one is killed", async () => {
    await out.empty();
    const readers = await addReaders(100);
    // Ten addresses do not exist, ten are slow, and at ten the mail server dies after the text.
    for (let index = 0; index < 10; index += 1) {
      out.mailbox.behave("refuse", address(index));
      out.mailbox.behave("slow", address(index + 10));
      out.mailbox.behave("drop", address(index + 20));
    }
    const env = { SMTP_URL: out.environment.SMTP_URL, MAIL_FROM: out.environment.MAIL_FROM };
    const killed = await startWebServer(db.appUrl, env);
    await addAll(readers, 5);
    // It is killed while slow answers are on their way: what it was sending then was handed over, and nothing is noted.
    await expect.poll(() => out.mailbox.handed.size, { timeout: 60_000 }).toBeGreaterThan(60);
    await expect
      .poll(async () => (await out.rows({ state: "sending" })).length, { timeout: 30_000 })
      .toBeGreaterThan(0);
    await killed.kill("SIGKILL");
    const inTheAir = await out.rows({ state: "sending" });
    const sending = { ...out.sending, silentSeconds: 5 };
    const jobs = [1, 2].map(() =>
      keepJobsRunning(db.appUrl, db.app, { pollingIntervalSeconds: 0.5, sending }),
    );
    try {
      await expect
        .poll(
          async () => {
            const { waiting = 0, sending: now = 0, deferred = 0 } = await statesOf();
            return waiting + now + deferred;
          },
          { timeout: 120_000, interval: 500 },
        )
        .toBe(0);
    } finally {
      await Promise.all(jobs.map((one) => one.stop()));
    }
    const rows = await out.rows();
    expect(rows).toHaveLength(500);
    for (const row of rows) {
      const index = readers.indexOf(row.person_id ?? "");
      const arrived = out.mailbox.messages.filter(
        ({ messageId }) => messageId === `<${row.message_id}@larkspurbay.example>`,
      ).length;
      const handed = out.mailbox.handed.get(`<${row.message_id}@larkspurbay.example>`) ?? 0;
      const was = inTheAir.some(({ message_id }) => message_id === row.message_id);
      expect(handed).toBeLessThanOrEqual(1);
      if (index < 10) expect([row.state, handed]).toEqual([row.state === "refused" ? "refused" : "held", 0]);
      else if (index >= 20 && index < 30) expect([row.state, handed]).toEqual(["unknown", was ? handed : 1]);
      else if (row.state === "unknown") expect(was).toBe(true);
      else expect([row.state, arrived]).toEqual(["sent", 1]);
    }
    // Of each address that does not exist one message found that out, and the others wait.
    expect(rows.filter(({ state }) => state === "refused")).toHaveLength(10);
    expect(rows.filter(({ why }) => why === "wrong address")).toHaveLength(50);
    // In the order in which they were made.
    for (const [index, reader] of readers.entries()) {
      const counts = out.mailbox.messages
        .filter(({ to }) => to === address(index))
        .toReversed()
        .map(({ text }) => Number(/went to (\d+)/.exec(text)?.[1]));
      expect([index, counts]).toEqual([index, [...counts].sort((a, b) => a - b)]);
      expect(reader).toBeTruthy();
    }
  }, 240_000);
});
