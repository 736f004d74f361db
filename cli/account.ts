import { randomBytes } from "node:crypto";
import { hashPassword } from "#server/auth/password.ts";
import { setAccount } from "#server/db/accounts.ts";
import { connect } from "#server/db/connection.ts";

const email = process.argv[2]?.trim().toLowerCase();
if (!email) {
  console.error(
    "usage: npm run account -- E-MAIL\nMakes an account for the person with this e-mail, or sets a new password and ends their sessions.",
  );
  process.exit(2);
}
const owner = connect(process.env["OWNER_DATABASE_URL"] ?? "", { max: 2 });
try {
  const password = randomBytes(12).toString("base64url");
  const done = await setAccount(owner, email, await hashPassword(password));
  if (done)
    console.log(
      `${done === "made" ? "Account made" : "New password set, all sessions ended"} for ${email}.\nPassword, shown once: ${password}`,
    );
  else {
    console.error(`No person of the school has the e-mail ${email}.`);
    process.exitCode = 1;
  }
} finally {
  await owner.destroy();
}
