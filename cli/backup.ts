import { backUp } from "#server/db/dump.ts";

const day = new Date().toISOString().slice(0, 10);
const file = process.argv[2] ?? `gentle-margin-${day}.backup`;
await backUp(process.env["OWNER_DATABASE_URL"] ?? "", file, process.env["POSTGRES_BIN"] ?? "");
console.log(`Backed up to ${file}. It holds children's records: keep it as safe as the database.`);
