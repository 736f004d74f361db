import { restore } from "#server/db/dump.ts";

const [file] = process.argv.slice(2).filter((word) => word !== "--replace");
if (!file) {
  console.error("usage: npm run restore -- FILE [--replace]");
  process.exit(2);
}
try {
  await restore(process.env["OWNER_DATABASE_URL"] ?? "", file, process.env["POSTGRES_BIN"] ?? "", {
    replace: process.argv.includes("--replace"),
  });
  console.log(`Restored from ${file}.`);
} catch (error) {
  console.error(error instanceof Error ? error.message : error);
  process.exitCode = 1;
}
