import { connect } from "#server/db/connection.ts";
import { rebuildSummaries } from "#server/db/summaries.ts";

const owner = connect(process.env["OWNER_DATABASE_URL"] ?? "", { max: 2 });
try {
  const { goals, changed } = await rebuildSummaries(
    owner,
    process.argv.includes("--stale") ? "stale" : "all",
  );
  console.log(`Kept facts of ${goals} goals made anew from their entries; ${changed} had been different.`);
} finally {
  await owner.destroy();
}
