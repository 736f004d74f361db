import { checkEditions, removeOldEditions } from "#server/db/check-editions.ts";
import { connect } from "#server/db/connection.ts";

const owner = connect(process.env["OWNER_DATABASE_URL"] ?? "", { max: 2 });
try {
  if (process.argv.includes("--remove-old")) {
    const removed = await removeOldEditions(owner);
    console.log(`Removed ${removed} editions that are older than their school keeps them.`);
  }
  const { checked, wrong } = await checkEditions(owner);
  for (const { studentId, number, editionId, why } of wrong)
    console.error(`Edition ${number} of student ${studentId} (${editionId}): ${why}.`);
  console.log(
    `Checked ${checked} editions; ${checked - new Set(wrong.map((one) => one.editionId)).size} are as they were frozen.`,
  );
  if (wrong.length > 0) process.exitCode = 1;
} finally {
  await owner.destroy();
}
