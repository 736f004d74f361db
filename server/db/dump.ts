import { execFile } from "node:child_process";
import { chmod } from "node:fs/promises";
import { join } from "node:path";
import { promisify } from "node:util";
import { connect } from "./connection.ts";

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
  await runProgram(join(bin, "pg_dump"), [...args, "--format=custom", `--file=${file}`], { env });
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
  await runProgram(
    join(bin, "pg_restore"),
    [...args, "--clean", "--if-exists", "--single-transaction", "--no-owner", file],
    { env },
  );
}
