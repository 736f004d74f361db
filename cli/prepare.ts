import { dropDatabase, ensureAppRole, makeDatabase, migrateAt } from "#server/db/prepare.ts";

/** What the start command asks for: databases made, roles there, tables up to date. Prints the application's address. */
const ask = JSON.parse(process.argv[2] ?? "{}") as {
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
  process.stdout.write(appUrl);
} catch (error) {
  process.stderr.write(`${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
}
