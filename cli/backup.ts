import { parseArgs } from "node:util";
import { backUpInto, checkBackup } from "#server/db/backups.ts";
import { backUp } from "#server/db/dump.ts";
import { backupKey } from "./backup-key.ts";

const env = process.env;
const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: { check: { type: "boolean", default: false } },
});
const plan = {
  ownerUrl: env["OWNER_DATABASE_URL"] ?? "",
  bin: env["POSTGRES_BIN"] ?? "",
  folder: env["BACKUPS"] ?? "",
};

try {
  const key = backupKey(env);
  const [wanted] = positionals;
  let file = wanted;
  if (!values.check || wanted === undefined) {
    if (wanted === undefined) file = await backUpInto({ ...plan, key });
    else await backUp(plan.ownerUrl, wanted, plan.bin, { key });
    console.log(
      `Backed up to ${file}${key ? ", encrypted" : ""}. It holds children's records: keep it as safe as the database.`,
    );
  }
  if (values.check && file !== undefined) {
    const { schools, students, entries, incidents } = await checkBackup(
      { ...plan, key },
      file,
      env["ADMIN_DATABASE_URL"] ?? plan.ownerUrl,
    );
    console.log(
      `Put back on trial: ${schools} schools, ${students} students, ${entries} entries, ${incidents} incidents. The trial is deleted again.`,
    );
  }
} catch (error) {
  console.error(error instanceof Error ? error.message : error);
  process.exitCode = 1;
}
