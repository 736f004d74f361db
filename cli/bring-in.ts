import { readFileSync } from "node:fs";
import { join } from "node:path";
import { parseArgs } from "node:util";
import { connect } from "#server/db/connection.ts";
import { bringIn } from "#server/imports/bring-in.ts";
import { InputError } from "#core/files/input-error.ts";
import { plural } from "#core/words/numbers.ts";

const usage =
  "usage: npm run bring-in -- FOLDER [--case-manager E-MAIL] [--time-zone Area/City]\nFOLDER holds roster/ (OneRoster CSV files) and goal-data.csv.";
const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    "case-manager": { type: "string" },
    "time-zone": { type: "string", default: Intl.DateTimeFormat().resolvedOptions().timeZone },
  },
});
const [folder] = positionals;
if (!folder) {
  console.error(usage);
  process.exit(2);
}

const paths = {
  users: "roster/users.csv",
  roles: "roster/roles.csv",
  orgs: "roster/orgs.csv",
  enrollments: "roster/enrollments.csv",
  goalData: "goal-data.csv",
};
const owner = connect(process.env["OWNER_DATABASE_URL"] ?? "", { max: 2 });
try {
  const read = (path: string) =>
    new TextDecoder("utf-8", { fatal: true }).decode(readFileSync(join(folder, path)));
  const files = Object.fromEntries(Object.entries(paths).map(([name, path]) => [name, read(path)])) as Record<
    keyof typeof paths,
    string
  >;
  const brought = await bringIn(owner, files, {
    timeZone: values["time-zone"],
    caseManager: values["case-manager"],
  });
  for (const { line, why } of brought.listed)
    console.log(`${paths.goalData}:${line}: not brought in: ${why}`);
  console.log(
    `\nNew: ${brought.people} ${plural(brought.people, "person", "people")}, ${brought.students} ${plural(brought.students, "student")}, ${brought.goals} ${plural(brought.goals, "goal")}.`,
  );
  console.log(
    `${paths.goalData}: ${brought.rows} rows = ${brought.added} brought in + ${brought.alreadyThere} already there + ${brought.listed.length} listed above.`,
  );
  if (!brought.leadIsSet) console.log("No case manager is set: run again with --case-manager E-MAIL.");
  for (const { name, entries } of brought.outsideCircles)
    console.log(
      `${name} wrote ${entries} of the entries and is not in those students' circles; the case manager decides.`,
    );
  console.log("To sign in: npm run account -- E-MAIL makes an account for a person of the school.");
} catch (error) {
  if (error instanceof InputError) console.error(`line ${error.line}: ${error.message}`);
  else console.error(error instanceof Error ? error.message : error);
  process.exitCode = 1;
} finally {
  await owner.destroy();
}
