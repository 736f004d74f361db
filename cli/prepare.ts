import { text } from "node:stream/consumers";
import { checkAppUrl, dropDatabase, ensureAppRole, makeDatabase, migrateAt } from "#server/db/prepare.ts";

/**
 * What the start command asks for: databases made, roles there, tables up to date. Prints the application's address. It is asked through
 * its input: what stands in a command line is shown to everyone on the machine.
 */
const ask = JSON.parse(await text(process.stdin)) as {
  own?: { admin: string; database: string; ownerPassword: string; appPassword: string; fresh: boolean };
  ownerUrl: string;
  appUrl?: string;
  appPassword?: string;
};

try {
  if (ask.own) {
    if (ask.own.fresh) await dropDatabase(ask.own.admin, ask.own.database);
    await makeDatabase(ask.own.admin, ask.own);
  }
  const appUrl = ask.appUrl ?? (await ensureAppRole(ask.ownerUrl, ask.appPassword ?? ""));
  await migrateAt(ask.ownerUrl);
  await checkAppUrl(appUrl);
  process.stdout.write(appUrl);
} catch (error) {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
}
