import { v7 as newId } from "uuid";
import { hashPassword } from "#server/auth/password.ts";
import type { Database } from "#server/db/connection.ts";
import { demoPassword, emailOf, people, school } from "./school.ts";

/** A second, small school of the demo: Ines works there too, for one student. */
export async function seedSecondSchool(owner: Database): Promise<void> {
  const password_hash = await hashPassword(demoPassword);
  await owner.transaction(async (trx) => {
    const [school_id, petra, ines, student_id, account_id] = [newId(), newId(), newId(), newId(), newId()];
    const { timeZone: time_zone } = school;
    await trx("schools").insert({ school_id, name: "Heron Point School", time_zone });
    const person = (person_id: string, row: object) =>
      trx("people").insert({ school_id, person_id, role: "staff", case_manager: false, ...row });
    await person(petra, {
      ...{ given_name: "Petra", family_name: "Lindahl", position: "Case manager" },
      ...{ role: "administrator", case_manager: true, email: "petra.lindahl@heronpoint.example" },
    });
    await person(ines, {
      ...{ given_name: people.ines.given, family_name: people.ines.family },
      ...{ position: "Speech-language pathologist, Thursdays", email: emailOf(people.ines) },
    });
    await trx("students").insert({
      ...{ school_id, student_id, given_name: "Alder", family_name: "Novak", grade: "3" },
    });
    const part = (person_id: string, circleRole: "lead" | "record") =>
      trx("circle").insert({
        ...{ school_id, student_id, person_id, part: circleRole },
        from_on: trx.raw("current_date - 60"),
      });
    await part(petra, "lead");
    await part(ines, "record");
    const email = "petra.lindahl@heronpoint.example";
    await trx("gate.accounts").insert({ account_id, email, password_hash });
    const [other] = await trx<{ account_id: string; email: string }>("gate.accounts").where({
      email: emailOf(people.ines),
    });
    await trx("gate.memberships").insert([
      { account_id, school_id, person_id: petra },
      { account_id: other?.account_id, school_id, person_id: ines },
    ]);
  });
}
