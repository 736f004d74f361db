import { mkdir, readdir, readFile, rm, writeFile } from "node:fs/promises";
import { dirname, join } from "node:path";
import pg from "pg";
import { withClient } from "./client.ts";
import { backUp, restore } from "./dump.ts";
import { migrateAt } from "./prepare.ts";
import { closeOldWays } from "./second-lock.ts";

const named = /^gentle-margin-(\d{4}-\d{2}-\d{2})T\d{6}\.backup$/;

/** The name of a backup made at a moment, Greenwich time. */
export const backupName = (at: Date): string =>
  `gentle-margin-${at.toISOString().slice(0, 19).replaceAll(":", "")}.backup`;

/** The Monday of a date's week, and its month. */
const weekOf = (date: string) => {
  const day = new Date(`${date}T00:00Z`);
  day.setUTCDate(day.getUTCDate() - ((day.getUTCDay() + 6) % 7));
  return day.toISOString().slice(0, 10);
};

/**
 * Which backups are not needed any more: of the last fourteen days with one, the last of each is kept, then the last of each of eight weeks and
 * of twelve months. Files of other names are not ours and stay.
 */
export function outdated(files: readonly string[]): string[] {
  const ours = files
    .filter((file) => named.test(file))
    .sort()
    .reverse();
  const keep = new Set<string>();
  for (const [of, most] of [
    [(date: string) => date, 14],
    [weekOf, 8],
    [(date: string) => date.slice(0, 7), 12],
  ] as const) {
    const seen = new Set<string>();
    for (const file of ours) {
      const span = of(named.exec(file)?.[1] ?? "");
      if (seen.has(span) || seen.size === most) continue;
      seen.add(span);
      keep.add(file);
    }
  }
  return ours.filter((file) => !keep.has(file));
}

/** Notes it for /ready, where the tables are new enough to have a place for it. */
const note = (ownerUrl: string, kind: "made" | "checked" | "failed") =>
  withClient(ownerUrl, async (client) => {
    const { rows } = await client.query<{ there: boolean }>(
      "select to_regclass('public.backup_runs') is not null as there",
    );
    if (rows[0]?.there) await client.query("insert into backup_runs (kind) values ($1)", [kind]);
  });

export interface BackupPlan {
  ownerUrl: string;
  bin: string;
  /** Where backups lie: only their maker can look into it. */
  folder: string;
  /** The passphrase with which they are encrypted. */
  key?: string | undefined;
}

/** Beside the backups: what was erased, by ids, so that no backup brings it back. */
const erasedFile = "erased.json";

/** An erasing that was done, as its row is written in that file. */
interface DoneErasing {
  school_id: string;
  erasure_id: string;
  student_id: string;
  person_id: string;
}

/** What was erased in the database; nothing where it is too old for that. */
async function readErased(client: pg.Client): Promise<DoneErasing[]> {
  const { rows } = await client.query<{ there: boolean }>(
    "select to_regclass('public.erasures') is not null as there",
  );
  if (!rows[0]?.there) return [];
  const done = await client.query<{ row: DoneErasing }>(
    "select to_jsonb(e) as row from erasures e where done_at is not null order by done_at",
  );
  return done.rows.map(({ row }) => row);
}

/** Erases again what was erased since a backup was made. */
async function eraseAgain(client: pg.Client, all: readonly DoneErasing[]): Promise<number> {
  let count = 0;
  for (const row of all) {
    const { rowCount } = await client.query(
      `insert into erasures select r.* from jsonb_populate_record(null::erasures, $1::jsonb || jsonb_build_object('done_at', null, 'cancelled_at', null,
           'cancelled_by', null, 'person_id', coalesce(
             (select person_id from people where school_id = $2 and person_id = $3),
             (select person_id from people where school_id = $2 order by role = 'administrator' desc, person_id limit 1)))) r
         where exists (select 1 from students where school_id = $2 and student_id = $4)
       on conflict (school_id, erasure_id) do update set cancelled_at = null, cancelled_by = null where erasures.done_at is null`,
      [JSON.stringify(row), row.school_id, row.person_id, row.student_id],
    );
    if (rowCount === 0) continue;
    await client.query("select gate.erase_rows($1, $2)", [row.school_id, row.erasure_id]);
    await client.query(
      `insert into audit (school_id, actor_kind, job, act, thing, thing_id, student_id) values ($1, 'job', 'restore', 'done', 'erasure', $2, $3)`,
      [row.school_id, row.erasure_id, row.student_id],
    );
    count += 1;
  }
  return count;
}

/** Makes a backup in the folder and deletes those that are not needed any more. Answers where it is. */
export async function backUpInto(
  { ownerUrl, bin, folder, key }: BackupPlan,
  at = new Date(),
): Promise<string> {
  await mkdir(folder, { recursive: true, mode: 0o700 });
  const file = join(folder, backupName(at));
  try {
    await backUp(ownerUrl, file, bin, { key });
  } catch (error) {
    await note(ownerUrl, "failed").catch(() => undefined);
    throw error;
  }
  for (const old of outdated(await readdir(folder))) await rm(join(folder, old), { force: true });
  await writeFile(join(folder, erasedFile), JSON.stringify(await withClient(ownerUrl, readErased)), {
    mode: 0o600,
  });
  await note(ownerUrl, "made");
  return file;
}

/** What a backup holds, by the number of its rows. */
export interface BackupContent {
  schools: number;
  students: number;
  entries: number;
  incidents: number;
}

/**
 * Puts a backup back on trial: into a database of its own, brought up to date, and deleted afterwards.
 *
 * @param admin an address whose role may make a database
 * @throws Error where it cannot be put back, or an entry or incident in it has not its history
 */
export async function checkBackup(
  { ownerUrl, bin, key }: Omit<BackupPlan, "folder">,
  file: string,
  admin: string,
): Promise<BackupContent> {
  const name = `gentle_margin_check_${process.pid}`;
  const scratch = new URL(ownerUrl);
  const owner = decodeURIComponent(scratch.username);
  scratch.pathname = `/${name}`;
  const asAdmin = (statement: string) => withClient(admin, (client) => client.query(statement));
  await asAdmin(`create database ${name} owner ${pg.escapeIdentifier(owner)}`).catch((error: unknown) => {
    throw new Error("The role of this database may not make another one to try the backup in.", {
      cause: error,
    });
  });
  try {
    await restore(scratch.toString(), file, bin, { replace: true, key });
    await migrateAt(scratch.toString());
    const found = await withClient(scratch.toString(), async (client) => {
      const { rows } = await client.query<BackupContent & { bare: number }>(
        `select (select count(*)::int from schools) as schools, (select count(*)::int from students) as students,
           (select count(*)::int from entries) as entries, (select count(*)::int from incidents) as incidents,
           (select count(*)::int from entries e where not exists (select 1 from revisions r where r.school_id = e.school_id
             and r.thing = 'entry' and r.thing_id = e.entry_id and r.revision = e.revision)) as bare`,
      );
      return rows[0];
    });
    if (!found) throw new Error("The backup holds nothing.");
    const { bare, ...content } = found;
    if (bare > 0) throw new Error(`${bare} entries in the backup have no history: it is not whole.`);
    await note(ownerUrl, "checked");
    return content;
  } finally {
    await asAdmin(`drop database if exists ${name} with (force)`);
  }
}

/** The keys of the applications that are let in, hashed; none where the database has no such table yet. */
async function readAppKeys(client: pg.Client): Promise<Buffer[]> {
  const { rows } = await client.query<{ there: boolean }>(
    "select to_regclass('gate.app_keys') is not null as there",
  );
  if (!rows[0]?.there) return [];
  const keys = await client.query<{ key_hash: Buffer }>("select key_hash from gate.app_keys");
  return keys.rows.map(({ key_hash }) => key_hash);
}

/** What lies beside a backup about what was erased since; nothing where no such file is there. */
const erasedBeside = async (file: string): Promise<DoneErasing[]> =>
  readFile(join(dirname(file), erasedFile), "utf8").then(
    (text) => JSON.parse(text) as DoneErasing[],
    () => [],
  );

/**
 * Puts a backup back for good: brought up to date, for a server that runs on it too. Whoever was signed in then signs in again. What was erased since,
 * as this database and the file beside the backup know it, is erased again.
 *
 * @returns how many erasings were done again
 */
export async function bringBack(
  { ownerUrl, bin, key }: Omit<BackupPlan, "folder">,
  file: string,
  { replace }: { replace: boolean },
): Promise<{ erased: number }> {
  const appKeys = await withClient(ownerUrl, readAppKeys);
  const known = [...(await withClient(ownerUrl, readErased)), ...(await erasedBeside(file))];
  await restore(ownerUrl, file, bin, { replace, key });
  await migrateAt(ownerUrl);
  return withClient(ownerUrl, async (client) => {
    // A session that ended after the backup was made is in it as one that goes on.
    await client.query(
      `update gate.sessions set ended_at = now() where ended_at is null;
       update gate.family_sessions set ended_at = now() where ended_at is null;
       select gate.new_seal_key();`,
    );
    // The servers that run here are known here, and not those of where the backup was made.
    await client.query("delete from gate.app_keys");
    await client.query("insert into gate.app_keys (key_hash) select unnest($1::bytea[])", [appKeys]);
    await closeOldWays(client);
    const erasings = new Map(known.map((one) => [one.erasure_id, one]));
    return { erased: await eraseAgain(client, [...erasings.values()]) };
  });
}

/** Is something in the database that a migration could harm, and is there one to come? */
export async function needsBackup(ownerUrl: string, names: readonly string[]): Promise<boolean> {
  return withClient(ownerUrl, async (client) => {
    const { rows } = await client.query<{ there: boolean }>(
      "select to_regclass('public.knex_migrations') is not null and to_regclass('public.schools') is not null as there",
    );
    if (!rows[0]?.there) return false;
    const state = await client.query<{ schools: boolean; done: string[] }>(
      `select exists (select 1 from schools) as schools,
         array(select name::text from knex_migrations) as done`,
    );
    const { schools = false, done = [] } = state.rows[0] ?? {};
    return schools && names.some((name) => !done.includes(name));
  });
}
