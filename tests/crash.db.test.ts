import { mkdtempSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { seedDemo } from "#demo/seed.ts";
import { connect, type Database } from "#server/db/connection.ts";
import { admitApplication, makeDatabase, migrateAt } from "#server/db/prepare.ts";
import { rebuildSummaries } from "#server/db/summaries.ts";
import { demoIds } from "#tests/demo-school.ts";
import { withSlowTests } from "#tests/eight-days.ts";
import { signedIn, type Visitor } from "#tests/session.ts";
import { startWebServer, type WebServer } from "#tests/web-server.ts";

interface Cluster {
  urls: { admin: string; owner: (database: string) => string; app: (database: string) => string };
  secrets: { owner: string; app: string };
  pid: () => number;
  start: () => Promise<number>;
  stop: () => Promise<void>;
  remove: () => void;
}

const database = "crash";
let base: string;
let cluster: Cluster;
let owner: Database;
let path: string;

beforeAll(async () => {
  // A cluster of its own, with the settings of a real one: killing it must not disturb the other tests.
  const { startCluster } = (await import("#scripts/postgres.mjs")) as {
    startCluster: (options: object) => Promise<Cluster>;
  };
  base = mkdtempSync(join(tmpdir(), "gentle-margin-crash-"));
  cluster = await startCluster({ base, name: `crash-${process.pid}`, wishedPort: 56000 });
  await makeDatabase(cluster.urls.admin, {
    database,
    ownerPassword: cluster.secrets.owner,
    appPassword: cluster.secrets.app,
  });
  await migrateAt(cluster.urls.owner(database));
  await admitApplication(cluster.urls.owner(database), cluster.urls.app(database));
  owner = connect(cluster.urls.owner(database), { max: 2 });
  await seedDemo(owner, { today: "2026-11-24" });
  const demo = await demoIds(owner);
  path = `/students/${demo.student("Yara")}/goals/${demo.goal("Yara", "1")}/record`;
});
afterAll(async () => {
  await owner.destroy();
  await cluster.stop();
  cluster.remove();
  rmSync(base, { recursive: true, force: true });
});

const save = (who: Visitor, entryId: string) =>
  who.post(`${path}?sheet=${entryId}`, { entryId, marks: "1101", observedAt: "2026-11-20T10:00" });

const wasSaved = (answer: Response) => /[?&]saved=/.test(answer.headers.get("Location") ?? "");

/** Sends 1,000 saves, sixteen at a time; at the 300th `strike` is called. Answers which were confirmed and which were not. */
async function thousandSaves(
  who: Visitor,
  strike: () => Promise<void>,
): Promise<{ confirmed: string[]; unanswered: string[] }> {
  const left = Array.from({ length: 1000 }, () => newId());
  const confirmed: string[] = [];
  const unanswered: string[] = [];
  let sent = 0;
  let struck = Promise.resolve();
  await Promise.all(
    Array.from({ length: 16 }, async () => {
      for (let id = left.pop(); id; id = left.pop()) {
        sent += 1;
        if (sent === 300) struck = strike();
        // Only its own answer counts: a redirect to the sign-in, or back to the form, says nothing of a save.
        const saved = await save(who, id).then(wasSaved, () => false);
        (saved ? confirmed : unanswered).push(id);
      }
    }),
  );
  await struck;
  return { confirmed, unanswered };
}

async function expectNothingLost(confirmed: readonly string[]) {
  const { rows } = await owner.raw<{ rows: { n: string }[] }>(
    "select count(*) as n from entries e join revisions r on r.school_id = e.school_id and r.thing = 'entry' and r.thing_id = e.entry_id where e.entry_id = any(?)",
    [[...confirmed]],
  );
  expect(Number(rows[0]?.n)).toBe(confirmed.length);
  expect(await rebuildSummaries(owner)).toMatchObject({ changed: 0 });
}

/** What the device would do: send again what was not answered, until all of it is. */
async function sendAgain(who: Visitor, ids: readonly string[]) {
  for (const id of ids) expect(wasSaved(await save(who, id))).toBe(true);
}

describe.runIf(withSlowTests)("a kill in the middle of 1,000 saves", () => {
  let web: WebServer;

  it("of the web process loses no save that was answered, and sending again completes the rest", async () => {
    web = await startWebServer(cluster.urls.app(database));
    const { confirmed, unanswered } = await thousandSaves(await signedIn(web.url, "noor"), () =>
      web.kill("SIGKILL"),
    );
    expect(confirmed.length).toBeGreaterThan(200);
    expect(unanswered.length).toBeGreaterThan(0);
    await expectNothingLost(confirmed);
    web = await startWebServer(cluster.urls.app(database));
    await sendAgain(await signedIn(web.url, "noor"), unanswered.slice(0, 50));
    await expectNothingLost([...confirmed, ...unanswered.slice(0, 50)]);
  }, 90_000);

  it("of PostgreSQL loses none either, and the application works again by itself when the database is back", async () => {
    const who = await signedIn(web.url, "noor");
    const { confirmed, unanswered } = await thousandSaves(who, async () => {
      process.kill(cluster.pid(), "SIGKILL");
      await expect.poll(async () => (await fetch(`${web.url}/ready`)).status, { timeout: 20_000 }).toBe(503);
      expect((await who.get("/caseload")).status).toBe(503);
    });
    expect(confirmed.length).toBeGreaterThan(200);
    await expect
      .poll(
        () =>
          cluster.start().then(
            () => true,
            () => false,
          ),
        { timeout: 30_000, interval: 200 },
      )
      .toBe(true);
    await expect.poll(async () => (await fetch(`${web.url}/ready`)).status, { timeout: 20_000 }).toBe(200);
    await sendAgain(who, unanswered.slice(0, 50));
    await expectNothingLost([...confirmed, ...unanswered.slice(0, 50)]);
    await web.stop();
  }, 90_000);
});

/** Stops or continues every process of the cluster, as a machine does whose disk hangs. */
function signalCluster(signal: "SIGSTOP" | "SIGCONT") {
  const parent = cluster.pid();
  const children = readdirSync("/proc").filter((name) => {
    try {
      return (
        /^\d+$/.test(name) &&
        readFileSync(`/proc/${name}/stat`, "utf8").split(") ")[1]?.split(" ")[1] === String(parent)
      );
    } catch {
      return false;
    }
  });
  for (const pid of [parent, ...children.map(Number)]) process.kill(pid, signal);
}

describe("a database that hangs", () => {
  it("is said on the page instead of waited for, and all goes on by itself when it answers again", async () => {
    const web = await startWebServer(cluster.urls.app(database), { PATIENCE: "2" });
    const who = await signedIn(web.url, "noor");
    expect((await who.get("/caseload")).status).toBe(200);
    try {
      signalCluster("SIGSTOP");
      // With connections that are open and one that would have to be opened: each is answered, though the database is not.
      const answers = await Promise.all([
        who.get("/caseload"),
        who.get("/"),
        save(who, newId()),
        who.get("/today"),
      ]);
      expect(answers.map(({ status }) => status)).toEqual([503, 503, 503, 503]);
      for (const answer of answers)
        expect(await answer.text()).toMatch(/cannot reach the records|cannot be reached/);
      expect((await fetch(`${web.url}/ready`)).status).toBe(503);
      signalCluster("SIGCONT");
      await expect.poll(async () => (await fetch(`${web.url}/ready`)).status, { timeout: 20_000 }).toBe(200);
      await expect.poll(async () => (await who.get("/caseload")).status, { timeout: 20_000 }).toBe(200);
    } finally {
      signalCluster("SIGCONT");
      await web.stop();
    }
  }, 90_000);
});

describe("SIGTERM", () => {
  it("ends streams, pool and LISTEN by itself", async () => {
    const web = await startWebServer(cluster.urls.app(database));
    const who = await signedIn(web.url, "noor");
    const stream = await who.get("/live");
    const [code] = await Promise.all([web.stop(), stream.text()]);
    // It went of its own will: one that has to be killed has no code.
    expect(code).toBe(0);
    await expect
      .poll(
        async () =>
          (
            await owner.raw<{ rows: { n: string }[] }>(
              "select count(*) as n from pg_stat_activity where usename = 'crash_web'",
            )
          ).rows[0]?.n,
      )
      .toBe("0");
  });
});
