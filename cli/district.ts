import { setDistrictPerson } from "#server/db/accounts.ts";
import { connect } from "#server/db/connection.ts";

const [email, off] = process.argv.slice(2);
if (!email || (off !== undefined && off !== "--no-longer")) {
  console.error(
    "usage: npm run district -- E-MAIL [--no-longer]\nLets an account see the schools of this installation and who runs them, at /district. It sees no student there.",
  );
  process.exit(2);
}
const owner = connect(process.env["OWNER_DATABASE_URL"] ?? "", { max: 1 });
try {
  if (await setDistrictPerson(owner, email.trim().toLowerCase(), off === undefined))
    console.log(`${email} ${off === undefined ? "sees" : "no longer sees"} the schools at /district.`);
  else {
    console.error(`No account has the e-mail ${email}.`);
    process.exitCode = 1;
  }
} finally {
  await owner.destroy();
}
