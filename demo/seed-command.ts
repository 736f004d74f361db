import { connect } from "#server/db/connection.ts";
import { setDistrictPerson } from "#server/db/accounts.ts";
import { emailOf, people, school } from "./school.ts";
import { seedSecondSchool } from "./second-school.ts";
import { seedDemo } from "./seed.ts";

const owner = connect(process.env["OWNER_DATABASE_URL"] ?? "", { max: 2 });
try {
  const { rows } = await owner.raw<{ rows: { there: boolean; today: string }[] }>(
    "select exists (select 1 from schools) as there, (clock_now() at time zone ?)::date as today",
    [school.timeZone],
  );
  const row = rows[0];
  if (row && !row.there) {
    await seedDemo(owner, { today: row.today });
    // What a test wants of these it makes itself.
    if (process.argv.includes("--with-neighbors")) {
      await seedSecondSchool(owner);
      await setDistrictPerson(owner, emailOf(people.desmond), true);
    }
  }
} finally {
  await owner.destroy();
}
