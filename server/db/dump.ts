import { execFile, spawn } from "node:child_process";
import { createWriteStream } from "node:fs";
import { rename, rm, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { pipeline } from "node:stream/promises";
import { promisify } from "node:util";
import pRetry from "p-retry";
import { withClient } from "./client.ts";
import { isSealed, openSealed, sealTo } from "./sealed-file.ts";
import { lockOwner } from "./second-lock.ts";

const runProgram = promisify(execFile);

/** The connection as the client programs want it: the password in the environment, where no list of processes shows it. */
function clientEnvironment(url: string): { args: string[]; env: NodeJS.ProcessEnv } {
  const { hostname, port, username, password, pathname } = new URL(url);
  return {
    args: [
      `--host=${hostname}`,
      `--port=${port || "5432"}`,
      `--username=${decodeURIComponent(username)}`,
      `--dbname=${pathname.slice(1)}`,
    ],
    env: { ...process.env, PGPASSWORD: decodeURIComponent(password) },
  };
}

/**
 * Writes everything in the database to one file that only its maker can read. It has another name until it is whole and on the disk: a file
 * with its own name is a backup.
 *
 * @param key a passphrase: with it the file is encrypted
 */
export async function backUp(
  ownerUrl: string,
  file: string,
  bin: string,
  { key }: { key?: string | undefined } = {},
): Promise<void> {
  const { args, env } = clientEnvironment(ownerUrl);
  const part = `${file}.${process.pid}.part`;
  const to = createWriteStream(part, { flags: "wx", mode: 0o600, flush: true });
  try {
    const dump = spawn(join(bin, "pg_dump"), [...args, "--format=custom", "--enable-row-security"], {
      env,
      stdio: ["ignore", "pipe", "pipe"],
    });
    const said: Buffer[] = [];
    dump.stderr.on("data", (chunk: Buffer) => said.push(chunk));
    const ended = new Promise<void>((resolve, reject) => {
      dump.once("error", reject);
      dump.once("close", (code) =>
        code === 0
          ? resolve()
          : reject(new Error(`pg_dump ended with ${code}: ${Buffer.concat(said).toString().trim()}`)),
      );
    });
    await Promise.all([ended, key ? sealTo(to, dump.stdout, key) : pipeline(dump.stdout, to)]);
    await rename(part, file);
  } catch (error) {
    to.destroy();
    await rm(part, { force: true });
    throw error;
  }
}

async function refuseFull(ownerUrl: string): Promise<void> {
  const isFull = await withClient(ownerUrl, async (client) => {
    const { rows } = await client.query<{ there: boolean }>("select exists (select 1 from schools) as there");
    return rows[0]?.there;
  });
  if (isFull)
    throw new Error(
      "This database already holds a school. Nothing was changed; --replace puts the backup in its place.",
    );
}

/** Puts a backup back, all or nothing. Only over an empty database, unless it is to be replaced. */
export async function restore(
  ownerUrl: string,
  file: string,
  bin: string,
  { replace, key }: { replace: boolean; key?: string | undefined },
): Promise<void> {
  if (!replace) await refuseFull(ownerUrl);
  const { args, env } = clientEnvironment(ownerUrl);
  const [script, list, plain] = ["sql", "list", "plain"].map((kind) => `${file}.${process.pid}.${kind}`) as [
    string,
    string,
    string,
  ];
  try {
    const sealed = await isSealed(file);
    if (sealed && !key)
      throw new Error(
        "This backup is encrypted: give its key as BACKUP_KEY, or a file with it as BACKUP_KEY_FILE.",
      );
    if (sealed) await openSealed(file, plain, key ?? "");
    const source = sealed ? plain : file;
    await writeFile(script, "", { mode: 0o600 });
    // The owner's own lock names the owner of the database that was backed up: it is made anew for this one.
    const { stdout } = await runProgram(join(bin, "pg_restore"), ["--list", source], { env });
    const wanted = stdout.split("\n").filter((line) => !/ POLICY .* owner_lock /.test(line));
    await writeFile(list, wanted.join("\n"), { mode: 0o600 });
    const content = ["--no-owner", `--use-list=${list}`, `--file=${script}`, source];
    await runProgram(join(bin, "pg_restore"), content, { env });
    // A backup of an earlier release knows nothing of later tables: everything there is makes room first.
    const emptied =
      "drop schema if exists gate, jobs cascade; drop schema public cascade; create schema public";
    // A server that runs meanwhile holds its tables for moments: whoever waits for them does not make it wait, and tries again.
    const PGOPTIONS = "-c lock_timeout=5s";
    await pRetry(
      () =>
        runProgram(
          join(bin, "psql"),
          [
            ...args,
            "--quiet",
            "--set=ON_ERROR_STOP=1",
            "--single-transaction",
            `--command=${emptied}`,
            `--file=${script}`,
          ],
          { env: { ...env, PGOPTIONS } },
        ),
      { retries: 5, shouldRetry: ({ message }) => /lock timeout|deadlock/.test(message) },
    );
    await withClient(ownerUrl, lockOwner);
  } finally {
    await Promise.all([script, list, plain].map((one) => rm(one, { force: true })));
  }
}
