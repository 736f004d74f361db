import { makeSetUpCode } from "#server/db/accounts.ts";
import { connect } from "#server/db/connection.ts";

/** `npm run set-up-code`: prints a new code for the first-run page, where there is no school yet. */
const owner = connect(process.env["OWNER_DATABASE_URL"] ?? "", { max: 1 });
try {
  const code = await makeSetUpCode(owner);
  if (code !== null) console.log(code);
  else if (!process.argv.includes("--if-needed"))
    console.error("There is a school here already. Another one is made with npm run school.");
} finally {
  await owner.destroy();
}
