import {
  mkdtempSync,
  readdirSync,
  readFileSync,
  rmSync,
  statSync,
  truncateSync,
  writeFileSync,
} from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type OpenDatabase, openThrowaway, testCluster } from "#tests/database.ts";
import { demoIds } from "#tests/demo-school.ts";
import { signedIn } from "#tests/session.ts";
import { startWebServer } from "#tests/web-server.ts";
import { backUpInto, backupName, bringBack, checkBackup, needsBackup, outdated } from "./backups.ts";
import { goneFromBackupsBy } from "#core/retention/gone-from-backups.ts";
import { backUp, restore } from "./dump.ts";
import { migrationNames } from "./migrations/index.ts";
import { migrateAt } from "./prepare.ts";
import { lastBackup } from "./readiness.ts";
import { isSealed } from "./sealed-file.ts";

let full: OpenDatabase;
let empty: OpenDatabase;
let folder: string;
const { bin, admin } = testCluster();
beforeAll(async () => {
  [full, empty] = await Promise.all([openThrowaway("demo"), openThrowaway("empty")]);
  folder = mkdtempSync(join(tmpdir(), "gentle-margin-backups-"));
});
afterAll(async () => {
  rmSync(folder, { recursive: true });
  await Promise.all([full.close(), empty.close()]);
});

const key = "a passphrase of the school";
const of = (database: OpenDatabase) => ({ ownerUrl: database.ownerUrl, bin });

describe("the folder of backups", () => {
  it("keeps the last of each of fourteen days, of eight weeks and of twelve months, and every file that is not ours", () => {
    const day = 86_400_000;
    const start = Date.UTC(2026, 10, 28, 8, 40);
    const daily = Array.from({ length: 500 }, (_, ago) => backupName(new Date(start - ago * day)));
    const twice = daily.slice(0, 3).map((name) => name.replace("T084000", "T020000"));
    const all = [...daily, ...twice, "school.backup", "gentle-margin-notes.txt"];
    const gone = new Set(outdated(all));
    const kept = all.filter((name) => !gone.has(name));
    expect(kept).toContain("school.backup");
    expect(kept).toContain("gentle-margin-notes.txt");
    for (const name of twice) expect(kept).not.toContain(name);
    expect(kept.slice(0, 14)).toEqual(daily.slice(0, 14));
    const dates = kept.flatMap((name) => /-(\d{4}-\d\d-\d\d)T/.exec(name)?.[1] ?? []);
    expect(new Set(dates.map((date) => date.slice(0, 7))).size).toBe(12);
    // The Sundays of the six weeks before the two that are kept by day.
    for (const sunday of ["2026-11-08", "2026-11-01", "2026-10-25", "2026-10-18", "2026-10-11"])
      expect(dates).toContain(sunday);
    expect(dates).not.toContain("2026-09-20");
    expect(dates).toContain("2025-12-31");
    expect(outdated(kept)).toEqual([]);
  });

  it("holds nothing of the day of an erasing any more on the day that is named for it", () => {
    const day = 86_400_000;
    const start = Date.UTC(2026, 0, 1, 8, 40);
    const erasedOn = [0, 30, 58, 59, 89, 150, 180, 333, 364].map((days) => start + days * day);
    const still = new Map<number, string>();
    let files: string[] = [];
    for (let now = start - 100 * day; now < start + 800 * day; now += day) {
      files.push(backupName(new Date(now)));
      const gone = new Set(outdated(files));
      files = files.filter((file) => !gone.has(file));
      // The erasing is half an hour after the backup of its day.
      for (const erased of erasedOn)
        if (now >= erased && files.some((file) => file <= backupName(new Date(erased))))
          still.set(erased, new Date(now).toISOString().slice(0, 10));
    }
    for (const erased of erasedOn) {
      const last = still.get(erased) ?? "";
      const by = goneFromBackupsBy(new Date(erased).toISOString().slice(0, 10));
      expect(last < by, `${last} is before ${by}`).toBe(true);
      // The day is no later than five weeks after it is so.
      expect(Date.parse(by) - Date.parse(last)).toBeLessThan(36 * day);
    }
  });

  it("gets a whole file that only its maker can read, or none", async () => {
    const file = await backUpInto({ ...of(full), folder: join(folder, "own") });
    expect(statSync(join(folder, "own")).mode & 0o777).toBe(0o700);
    expect(statSync(file).mode & 0o777).toBe(0o600);
    expect((await lastBackup(full.app))?.hours).toBeLessThan(0.1);
    const broken = new URL(full.ownerUrl);
    broken.pathname = "/no_such_database";
    const other = join(folder, "broken");
    await expect(backUpInto({ ownerUrl: broken.toString(), bin, folder: other })).rejects.toThrow(/pg_dump/);
    expect(readdirSync(other)).toEqual([]);
  });

  it("is put back on trial, and a file that is not whole does not pass", async () => {
    const file = join(folder, "trial.backup");
    await backUp(full.ownerUrl, file, bin);
    const content = await checkBackup(of(full), file, admin);
    expect(content.schools).toBe(1);
    expect(content.students).toBe(14);
    expect(content.entries).toBeGreaterThan(400);
    expect((await full.owner("backup_runs").where({ kind: "checked" })).length).toBe(1);
    truncateSync(file, Math.floor(statSync(file).size / 2));
    await expect(checkBackup(of(full), file, admin)).rejects.toThrow();
    const { rows } = await full.owner.raw<{ rows: unknown[] }>(
      "select 1 from pg_database where datname like 'gentle_margin_check_%'",
    );
    expect(rows).toEqual([]);
    // Whose role may make no database is told so.
    await expect(checkBackup(of(full), file, full.appUrl)).rejects.toThrow(/may not make another one/);
  });
});

describe("an encrypted backup", () => {
  it("shows nothing of a child, and is opened by its key alone and as it was made", async () => {
    const [plain, sealed] = [join(folder, "plain.sql"), join(folder, "sealed.backup")];
    await backUp(full.ownerUrl, plain, bin);
    await backUp(full.ownerUrl, sealed, bin, { key });
    expect([await isSealed(plain), await isSealed(sealed)]).toEqual([false, true]);
    expect(readFileSync(sealed).includes("PGDMP")).toBe(false);
    const into = (passphrase?: string) =>
      restore(empty.ownerUrl, sealed, bin, { replace: true, key: passphrase });
    await expect(into()).rejects.toThrow(/BACKUP_KEY/);
    await expect(into("another passphrase")).rejects.toThrow(/cannot be opened/);
    await into(key);
    expect(await empty.owner("students")).toHaveLength(14);
    const bytes = readFileSync(sealed);
    bytes[1000] = (bytes[1000] ?? 0) ^ 1;
    writeFileSync(sealed, bytes);
    await expect(into(key)).rejects.toThrow(/cannot be opened/);
    expect(readdirSync(folder).filter((name) => /\.(plain|sql|list|part)$/.test(name))).toEqual([
      "plain.sql",
    ]);
  });
});

describe("a backup that is put back", () => {
  it("of an earlier release is brought up to date under a server that runs, where everyone signs in again", async () => {
    const file = join(folder, "now.backup");
    const web = await startWebServer(full.appUrl);
    const before = await signedIn(web.url, "noor");
    const demo = await demoIds(full.owner);
    const page = `/students/${demo.student("Wren")}`;
    expect((await before.get(page)).status).toBe(200);
    await backUp(full.ownerUrl, file, bin);
    await full.owner("gate.sessions").update({ ended_at: new Date() });
    await full
      .owner("knex_migrations")
      .where({ name: migrationNames.at(-1) ?? "" })
      .select();
    await bringBack(of(full), file, { replace: true });
    // Its session had ended after the backup; it does not come back with it.
    expect((await before.get(page)).status).toBe(302);
    const after = await signedIn(web.url, "noor");
    expect((await after.get(page)).status).toBe(200);
    expect(await (await fetch(`${web.url}/ready`)).text()).toContain("last backup: 0 hours ago");
    const old = fileURLToPath(new URL("../../tests/samples/first-release.backup", import.meta.url));
    await bringBack(of(full), old, { replace: true });
    const again = await signedIn(web.url, "noor");
    const there = await demoIds(full.owner);
    expect((await again.get(`/students/${there.student("Wren")}`)).status).toBe(200);
    await web.stop();
  }, 120_000);

  it("is made before tables that hold a school are changed, of any age", async () => {
    const old = fileURLToPath(new URL("../../tests/samples/first-release.backup", import.meta.url));
    await restore(empty.ownerUrl, old, bin, { replace: true });
    expect(await needsBackup(empty.ownerUrl, migrationNames)).toBe(true);
    expect(await backUpInto({ ...of(empty), folder: join(folder, "before") })).toMatch(/\.backup$/);
    await migrateAt(empty.ownerUrl);
    expect(await needsBackup(empty.ownerUrl, migrationNames)).toBe(false);
  });
});

it("a migration that was changed after it was applied is not worked over", async () => {
  const [name] = migrationNames;
  const sums = () => empty.owner("migration_sums").where({ name: name ?? "" });
  const [before] = await sums();
  await sums().update({ sum: "another" });
  await expect(migrateAt(empty.ownerUrl)).rejects.toThrow(/001-foundation was changed after/);
  await sums().update(before ?? {});
  await migrateAt(empty.ownerUrl);
  expect(await empty.owner("migration_sums")).toHaveLength(migrationNames.length);
});
