import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";
import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { migrationNames } from "../db/migrations/index.ts";
import { type OpenDatabase, openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { signedIn } from "#tests/session.ts";
import { startWebServer, type WebServer } from "#tests/web-server.ts";

let db: OpenDatabase;
let web: WebServer;
let demo: DemoIds;
beforeAll(async () => {
  db = await openThrowaway("demo");
  web = await startWebServer(db.appUrl, { PATIENCE: "2" });
  demo = await demoIds(db.owner);
});
afterAll(async () => {
  await web.stop();
  await db.close();
});

const readiness = async ({ url }: WebServer) => {
  const answer = await fetch(`${url}/ready`);
  return [answer.status, (await answer.text()).trim()];
};

describe("two starts at once", () => {
  it("bind a port each, and say which", async () => {
    const { port } = new URL(web.url);
    const start = () =>
      spawn(process.execPath, ["build/server/index.js"], {
        stdio: ["ignore", "ignore", "ignore", "ipc"],
        env: { PATH: process.env["PATH"], APP_DATABASE_URL: db.appUrl, PORT: port, PORT_TRIES: "50" },
      });
    const bound = async (child: ChildProcess) => {
      const [said] = (await once(child, "message")) as [{ listening: number }];
      return said.listening;
    };
    const both = [start(), start()];
    try {
      const ports = await Promise.all(both.map(bound));
      expect(new Set([...ports, Number(port)]).size).toBe(3);
      for (const own of ports) expect((await fetch(`http://localhost:${own}/health`)).status).toBe(200);
    } finally {
      await Promise.all(
        both.map(async (child) => {
          child.kill("SIGTERM");
          if (child.exitCode === null) await once(child, "exit");
        }),
      );
    }
  });

  it("one that may take no other port ends, and says why", async () => {
    await expect(startWebServer(db.appUrl, { PORT: new URL(web.url).port })).rejects.toThrow(/EADDRINUSE/);
  });
});

describe("/ready", () => {
  it("says no while the database lets nobody in, and yes when it does; /health is the process alone", async () => {
    expect(await readiness(web)).toEqual([200, expect.stringMatching(/^ready\b/) as string]);
    await db.setReachable(false);
    try {
      await expect.poll(() => readiness(web)).toEqual([503, "the database does not answer"]);
      expect((await fetch(`${web.url}/health`)).status).toBe(200);
      const start = await fetch(web.url);
      // Who may not come in is not who finds nobody there: a page in both cases, with the number of what stands in the log.
      expect([start.status, start.headers.get("Content-Type")]).toEqual([500, "text/html; charset=utf-8"]);
      expect(await start.text()).toMatch(/<h1[\s\S]*[0-9a-f]{8}/);
    } finally {
      await db.setReachable(true);
    }
    await expect
      .poll(() => readiness(web), { timeout: 15_000 })
      .toEqual([200, expect.stringMatching(/^ready\b/) as string]);
  });

  it("says no where the tables are older than the program, and where nothing can be written", async () => {
    const latest = migrationNames.at(-1) ?? "";
    await db.owner("knex_migrations").where({ name: latest }).update({ name: "999-later" });
    expect(await readiness(web)).toEqual([503, expect.stringContaining(latest)]);
    await db.owner("knex_migrations").where({ name: "999-later" }).update({ name: latest });
    expect(await readiness(web)).toEqual([200, expect.stringMatching(/^ready\b/) as string]);
    await db.owner.raw(
      "revoke update on ready_check from gentle_margin_app; revoke update (at) on ready_check from gentle_margin_app",
    );
    expect(await readiness(web)).toEqual([503, "the database does not answer"]);
    await db.owner.raw("grant update (at) on ready_check to gentle_margin_app");
    expect(await readiness(web)).toEqual([200, expect.stringMatching(/^ready\b/) as string]);
  });

  it("says no as soon as the process is told to end, before anything closes", async () => {
    const ending = await startWebServer(db.appUrl, { DRAIN: "2" });
    expect(await readiness(ending)).toEqual([200, expect.stringMatching(/^ready\b/) as string]);
    const gone = ending.stop();
    await expect.poll(() => readiness(ending), { interval: 20 }).toEqual([503, "ending"]);
    expect((await fetch(`${ending.url}/sign-in`)).status).toBe(200);
    await gone;
  });
});

describe("behind a pool of connections in transaction mode", () => {
  it("is ready where it listens past the pool, and else says what to set", async () => {
    const { url, env } = db.pooled;
    expect(url).not.toBe(db.appUrl);
    const [past, through] = await Promise.all([
      startWebServer(url, { ...env, PATIENCE: "2" }),
      startWebServer(url, { PATIENCE: "2" }),
    ]);
    expect(await readiness(past)).toEqual([200, expect.stringMatching(/^ready\b/) as string]);
    await expect
      .poll(() => readiness(through))
      .toEqual([503, expect.stringMatching(/^notifications .* set LISTEN_DATABASE_URL/) as string]);
    await Promise.all([past.stop(), through.stop()]);
  });

  it("counts tries at the sign-in and makes them wait, whichever connection each statement comes by", async () => {
    const { url, env } = db.pooled;
    const web = await startWebServer(url, env);
    const tries = Array.from({ length: 12 }, () =>
      fetch(`${web.url}/sign-in`, {
        method: "POST",
        headers: { Origin: web.url },
        body: new URLSearchParams({ email: "somebody@example.org", password: "not the password" }),
        redirect: "manual",
      }),
    );
    const statuses = (await Promise.all(tries)).map(({ status }) => status);
    expect(new Set(statuses)).toEqual(new Set([401, 429]));
    await web.stop();
  });
});

describe("a goal that somebody has locked", () => {
  const path = () => `/students/${demo.student("Wren")}/goals/${demo.goal("Wren", "2b")}/record`;
  const lock = async () => {
    const held = await db.owner.transaction();
    await held.raw("select 1 from goal_summaries where goal_id = ? for update", [demo.goal("Wren", "2b")]);
    return held;
  };
  const save = (who: Awaited<ReturnType<typeof signedIn>>) => {
    const entryId = newId();
    return who.post(`${path()}?sheet=${entryId}`, { entryId, marks: "1101", observedAt: "2026-11-20T10:00" });
  };

  it("keeps back its own saves, which go through when it is free, and no other page", async () => {
    const who = await signedIn(web.url, "noor");
    const held = await lock();
    let saved = 0;
    // More than the pool has connections.
    const saves = Array.from({ length: 15 }, () => save(who).finally(() => (saved += 1)));
    for (let count = 0; count < 3; count += 1) expect((await who.get("/caseload")).status).toBe(200);
    expect(saved).toBe(0);
    await held.rollback();
    for (const answer of await Promise.all(saves)) expect(answer.headers.get("Location")).toMatch(/saved=/);
  });

  it("that stays locked is given up with words, and what was typed comes back", async () => {
    const who = await signedIn(web.url, "noor");
    const held = await lock();
    const answer = await save(who);
    expect(answer.status).toBe(503);
    expect(await answer.text()).toMatch(/Not saved yet: the records cannot be reached/);
    await held.rollback();
  });
});
