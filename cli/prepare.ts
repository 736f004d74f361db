import { text } from "node:stream/consumers";
import { backUpInto, needsBackup } from "#server/db/backups.ts";
import { migrationNames } from "#server/db/migrations/index.ts";
import { whyNotEntered, withClient } from "#server/db/client.ts";
import { closeOldWays } from "#server/db/second-lock.ts";
import { backupKey } from "./backup-key.ts";
import {
  admitApplication,
  checkAppUrl,
  dropDatabase,
  ensureAppRole,
  makeDatabase,
  migrateAt,
} from "#server/db/prepare.ts";

/**
 * What the start command asks for: databases made, roles there, tables up to date. Prints the application's address. It is asked through
 * its input: what stands in a command line is shown to everyone on the machine.
 */
const ask = JSON.parse(await text(process.stdin)) as {
  own?: { admin: string; database: string; ownerPassword: string; appPassword: string; fresh: boolean };
  ownerUrl: string;
  appUrl?: string;
  appPassword?: string;
  /** Does the version before still serve? What it needs stays open then. */
  beside?: boolean;
  /** Where a backup is made before tables that hold a school are changed. */
  backups?: { bin: string | null; folder: string };
};

try {
  if (ask.own) {
    if (ask.own.fresh) await dropDatabase(ask.own.admin, ask.own.database);
    await makeDatabase(ask.own.admin, ask.own);
  }
  const appUrl = ask.appUrl ?? (await ensureAppRole(ask.ownerUrl, ask.appPassword ?? ""));
  if (ask.backups && !process.env["NO_BACKUP"] && (await needsBackup(ask.ownerUrl, migrationNames))) {
    const { bin, folder } = ask.backups;
    if (bin === null)
      throw new Error(
        "Before the tables are changed a backup is made, and pg_dump is not on this machine. Install Debian's postgresql-client, or make a " +
          "backup yourself and start once with NO_BACKUP=1.",
      );
    const file = await backUpInto({ ownerUrl: ask.ownerUrl, bin, folder, key: backupKey(process.env) });
    process.stderr.write(`Backed up to ${file} before the tables are changed.\n`);
  }
  await migrateAt(ask.ownerUrl);
  await checkAppUrl(appUrl);
  await admitApplication(ask.ownerUrl, appUrl);
  if (!ask.beside) await withClient(ask.ownerUrl, closeOldWays);
  process.stdout.write(appUrl);
} catch (error) {
  const message = error instanceof Error ? error.message : String(error);
  process.stderr.write(`${whyNotEntered(error, ask.ownerUrl) ?? message}\n`);
  process.exit(1);
}
