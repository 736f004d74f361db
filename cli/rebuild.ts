import { connect } from "#server/db/connection.ts";
import { withClient } from "#server/db/client.ts";
import { closeOldWays } from "#server/db/second-lock.ts";
import { rebuildSummaries } from "#server/db/summaries.ts";

const owner = connect(process.env["OWNER_DATABASE_URL"] ?? "", { max: 2 });
try {
  // The last step of an upgrade: the version before serves no more.
  if (process.argv.includes("--stale"))
    await withClient(process.env["OWNER_DATABASE_URL"] ?? "", closeOldWays);
  const { goals, changed } = await rebuildSummaries(
    owner,
    process.argv.includes("--stale") ? "stale" : "all",
  );
  console.log(`Kept facts of ${goals} goals made anew from their entries; ${changed} had been different.`);
} finally {
  await owner.destroy();
}
