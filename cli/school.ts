import { parseArgs } from "node:util";
import * as z from "zod/mini";
import { makeSchool } from "#server/db/accounts.ts";
import { connect } from "#server/db/connection.ts";
import { schoolLocales } from "#core/words/locale.ts";

const usage = `usage: npm run school -- --name "NAME" --given NAME --family NAME --email E-MAIL [--time-zone ZONE] [--locale ${schoolLocales.join("|")}] [--url ADDRESS]
Makes a school beside those that are there, and an invitation for its administrator: a link, to be handed over, good for seven days and one use.`;

function readOptions() {
  try {
    return parseArgs({
      options: {
        name: { type: "string" },
        given: { type: "string" },
        family: { type: "string" },
        email: { type: "string" },
        "time-zone": { type: "string", default: Intl.DateTimeFormat().resolvedOptions().timeZone },
        locale: { type: "string", default: "en-US" },
        url: { type: "string", default: "" },
      },
    }).values;
  } catch (error) {
    console.error(error instanceof Error ? error.message : error);
    return {};
  }
}

const named = z.string().check(z.trim(), z.minLength(1), z.maxLength(100));
const read = z
  .object({
    name: z.string().check(z.trim(), z.minLength(1), z.maxLength(200)),
    given: named,
    family: named,
    email: z.string().check(z.trim(), z.toLowerCase(), z.email()),
    "time-zone": z
      .string()
      .check(z.refine((zone) => zone === "UTC" || Intl.supportedValuesOf("timeZone").includes(zone))),
    locale: z.enum(schoolLocales),
    url: z.string(),
  })
  .safeParse(readOptions());
if (!read.success) {
  const wrong = [...new Set(read.error.issues.map(({ path }) => `--${path.join(".")}`))];
  console.error(`missing or not understood: ${wrong.join(", ")}\n${usage}`);
  process.exit(2);
}
const { name, given, family, email, locale, url, "time-zone": timeZone } = read.data;
const owner = connect(process.env["OWNER_DATABASE_URL"] ?? "", { max: 1 });
try {
  const token = await makeSchool(owner, {
    ...{ name, timeZone, locale, givenName: given, familyName: family, email },
  });
  console.log(
    `${name} is made. ${given} ${family} opens this link, shown once, good for seven days:\n${url.replace(/\/$/, "")}/join/${token}`,
  );
} finally {
  await owner.destroy();
}
