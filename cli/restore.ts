import { bringBack } from "#server/db/backups.ts";
import { backupKey } from "./backup-key.ts";

const [file] = process.argv.slice(2).filter((word) => word !== "--replace");
if (!file) {
  console.error("usage: npm run restore -- FILE [--replace]");
  process.exit(2);
}
try {
  const { erased } = await bringBack(
    {
      ownerUrl: process.env["OWNER_DATABASE_URL"] ?? "",
      bin: process.env["POSTGRES_BIN"] ?? "",
      key: backupKey(process.env),
    },
    file,
    { replace: process.argv.includes("--replace") },
  );
  console.log(`Restored from ${file}, and brought up to date. Everyone signs in again.`);
  if (erased > 0) console.log(`Erased again what was erased after the backup was made: ${erased} times.`);
} catch (error) {
  console.error(error instanceof Error ? error.message : error);
  process.exitCode = 1;
}
