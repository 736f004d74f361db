import { execFile } from "node:child_process";
import { chmod, rm, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { promisify } from "node:util";
import { withClient } from "./client.ts";
import { connect } from "./connection.ts";
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

/** Writes everything in the database to one file that only its maker can read. */
export async function backUp(ownerUrl: string, file: string, bin: string): Promise<void> {
  const { args, env } = clientEnvironment(ownerUrl);
  await runProgram(
    join(bin, "pg_dump"),
    [...args, "--format=custom", "--enable-row-security", `--file=${file}`],
    { env },
  );
  await chmod(file, 0o600);
}

/** Puts a backup back, all or nothing. Only over an empty database, unless it is to be replaced. */
export async function restore(
  ownerUrl: string,
  file: string,
  bin: string,
  { replace }: { replace: boolean },
): Promise<void> {
  const owner = connect(ownerUrl, { max: 1 });
  try {
    const { rows } = await owner.raw<{ rows: { there: boolean }[] }>(
      "select exists (select 1 from schools) as there",
    );
    if (rows[0]?.there && !replace)
      throw new Error(
        "This database already holds a school. Nothing was changed; --replace puts the backup in its place.",
      );
  } finally {
    await owner.destroy();
  }
  const { args, env } = clientEnvironment(ownerUrl);
  const [script, list] = [`${file}.${process.pid}.sql`, `${file}.${process.pid}.list`];
  try {
    // The owner's own lock names the owner of the database that was backed up: it is made anew for this one.
    const { stdout } = await runProgram(join(bin, "pg_restore"), ["--list", file], { env });
    const wanted = stdout.split("\n").filter((line) => !/ POLICY .* owner_lock /.test(line));
    await writeFile(list, wanted.join("\n"), { mode: 0o600 });
    const content = ["--no-owner", `--use-list=${list}`, `--file=${script}`, file];
    await runProgram(join(bin, "pg_restore"), content, { env });
    // A backup of an earlier release knows nothing of later tables: everything there is makes room first.
    const emptied =
      "drop schema if exists gate, jobs cascade; drop schema public cascade; create schema public";
    await runProgram(
      join(bin, "psql"),
      [
        ...args,
        "--quiet",
        "--set=ON_ERROR_STOP=1",
        "--single-transaction",
        `--command=${emptied}`,
        `--file=${script}`,
      ],
      { env },
    );
    await withClient(ownerUrl, lockOwner);
  } finally {
    await Promise.all([script, list].map((one) => rm(one, { force: true })));
  }
}
