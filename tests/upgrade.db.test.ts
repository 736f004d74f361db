import { cpSync, mkdtempSync, readFileSync, realpathSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import { setTimeout } from "node:timers/promises";
import { tmpdir } from "node:os";
import { basename, join } from "node:path";
import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { connect, type Database } from "#server/db/connection.ts";
import { addressIn, askReady, commandsIn, isGone } from "#tests/command.ts";
import { demoIds } from "#tests/demo-school.ts";
import { withSlowTests } from "#tests/eight-days.ts";
import { signedIn, type Visitor } from "#tests/session.ts";

const project = new URL("..", import.meta.url).pathname;
const patience = { timeout: 120_000, interval: 200 };

interface Cluster {
  urls: { owner: (database: string) => string };
  remove: () => void;
}

let folder: string;
let cluster: Cluster | undefined;
let owner: Database | undefined;
let commands: ReturnType<typeof commandsIn>;
const at = (file: string) => join(folder, file);
const change = (file: string, from: string, to: string) => {
  const text = readFileSync(at(file), "utf8");
  expect(text).toContain(from);
  writeFileSync(at(file), text.replace(from, to));
};
const readNote = () =>
  JSON.parse(readFileSync(at(".data/running.json"), "utf8")) as {
    pid: number;
    build: string;
    web: { pid: number };
  };

beforeAll(() => {
  // A copy of the project with the build that is there, so that the test may write versions of it.
  folder = mkdtempSync(join(tmpdir(), "gentle-margin-upgrade-"));
  for (const part of [
    ...["app", "cli", "core", "demo", "docs", "public", "scripts", "server"],
    ...["package.json", "package-lock.json", "react-router.config.ts", "vite.config.ts"],
    ...["tsconfig.json", "tsconfig.base.json"],
  ])
    cpSync(join(project, part), at(part), { recursive: true });
  symlinkSync(join(project, "node_modules"), at("node_modules"));
  const build = realpathSync(join(project, "build"));
  cpSync(build, at(join(".builds", basename(build))), { recursive: true });
  symlinkSync(join(".builds", basename(build)), at("build"));
  commands = commandsIn(folder);
});
afterAll(async () => {
  await owner?.destroy();
  await commands.endAll();
  cluster?.remove();
  rmSync(folder, { recursive: true, force: true });
}, 60_000);

/** Eight people at once who save one observation after the other until it is said to be enough. */
function keepSaving(who: Visitor, path: string) {
  const saved: string[] = [];
  const failed: string[] = [];
  let enough = false;
  const person = async () => {
    while (!enough) {
      const entryId = newId();
      const said = await who
        .post(`${path}?sheet=${entryId}`, { entryId, marks: "1101", observedAt: "2026-11-20T10:00" })
        .then(
          (answer) => (/[?&]saved=/.test(answer.headers.get("Location") ?? "") ? null : `${answer.status}`),
          (error: unknown) => String(error instanceof Error ? (error.cause ?? error) : error),
        );
      if (said === null) saved.push(entryId);
      else failed.push(said);
    }
  };
  const people = Array.from({ length: 8 }, person);
  return {
    saved,
    async end() {
      enough = true;
      await Promise.all(people);
      return { saved, failed };
    },
  };
}

describe.runIf(withSlowTests)("a new version", () => {
  it("takes the place of the old while people save, and no save fails; one that does not build or start changes nothing", async () => {
    const start = commands.run("scripts/up.mjs", "--demo");
    await expect.poll(() => addressIn(start.said()), patience).not.toBeNull();
    const url = addressIn(start.said()) ?? "";
    const { startCluster } = (await import(/* @vite-ignore */ at("scripts/postgres.mjs"))) as {
      startCluster: (options: object) => Promise<Cluster>;
    };
    cluster = await startCluster({ base: at(".data") });
    owner = connect(cluster.urls.owner("gentle_margin_demo"), { max: 2 });
    const demo = await demoIds(owner);
    const noor = await signedIn(url, "noor");
    const page = await (await noor.get("/caseload")).text();
    const [script] = /\/assets\/caseload-[\w-]+\.js/.exec(page) ?? [];
    const before = readNote();

    // A version with another page, and with a column more in a table that every save writes.
    change(
      "app/routes/caseload/caseload.tsx",
      '<PageTitle title="Caseload" />',
      '<PageTitle title="My students" />',
    );
    writeFileSync(
      at("server/db/migrations/999-next.ts"),
      `import type { Knex } from "knex";
       export const up = async (knex: Knex) => { await knex.raw("alter table entries add column next_version text"); };`,
    );
    change(
      "server/db/migrations/index.ts",
      "const migrations:",
      'import * as next from "./999-next.ts";\nconst migrations:',
    );
    change(
      "server/db/migrations/index.ts",
      '"001-foundation": foundation,',
      '"001-foundation": foundation, "999-next": next,',
    );

    const load = keepSaving(noor, `/students/${demo.student("Yara")}/goals/${demo.goal("Yara", "1")}/record`);
    // Somebody reads for long in the table that is to be changed: whoever waits behind must not hold up the saves.
    const reading = await owner.transaction();
    await reading.raw("select count(*) from entries");
    const upgrade = commands.run("scripts/upgrade.mjs");
    await expect.poll(() => upgrade.said(), patience).toContain("Bringing the tables up to date");
    await setTimeout(8000);
    await reading.commit();
    expect([await upgrade.ended, upgrade.said()]).toEqual([
      0,
      expect.stringContaining("The new version serves at"),
    ]);
    const sofar = load.saved.length;
    await expect.poll(() => isGone(before.web.pid), { timeout: 40_000 }).toBe(true);
    const { saved, failed } = await load.end();
    expect(failed).toEqual([]);
    expect(saved.length).toBeGreaterThan(sofar);
    const { rows } = await owner.raw<{ rows: { n: number }[] }>(
      "select count(*)::int as n from entries where entry_id = any(?) and next_version is null",
      [saved],
    );
    expect(rows[0]?.n).toBe(saved.length);

    const after = readNote();
    expect([after.pid, after.build === before.build, isGone(after.web.pid)]).toEqual([
      before.pid,
      false,
      false,
    ]);
    expect(await (await noor.get("/caseload")).text()).toContain("My students");
    // A page that was open loads its scripts still.
    expect((await noor.get(script ?? "/no-script")).status).toBe(200);

    // One that does not build, and one that builds and does not start.
    const root = readFileSync(at("app/root.tsx"), "utf8");
    writeFileSync(at("app/root.tsx"), `${root}}`);
    const broken = commands.run("scripts/upgrade.mjs");
    expect(await broken.ended).not.toBe(0);
    writeFileSync(at("app/root.tsx"), root);
    change("server/web/main.ts", "await warmPasswords();", 'throw new Error("this version does not start");');
    const unfit = commands.run("scripts/upgrade.mjs");
    expect([await unfit.ended, unfit.said()]).toEqual([
      1,
      expect.stringContaining("The new version did not start"),
    ]);
    expect(unfit.said()).not.toMatch(/^\s+at /m);
    expect([readNote().web.pid, basename(realpathSync(at("build")))]).toEqual([after.web.pid, after.build]);
    expect(await askReady(url)).toBe(200);
    expect(await (await noor.get("/caseload")).text()).toContain("My students");

    start.child.kill("SIGTERM");
    expect(await start.ended).toBe(0);
  }, 400_000);
});
