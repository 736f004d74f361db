import type { Database, Transaction } from "./connection.ts";

/** Who is signed in, as every query needs to know it. */
export interface Person {
  schoolId: string;
  personId: string;
  role: "administrator" | "staff";
  /** Do they carry a caseload? */
  caseManager: boolean;
  givenName: string;
  familyName: string;
  schoolName: string;
  timeZone: string;
}

export type Part = "lead" | "record" | "read";

/**
 * One short transaction inside one school: the only way school data are reached. Row-level security shows nothing outside
 * it. Nothing from outside is awaited in it and nothing is streamed from it.
 *
 * @param studentId the student it is about, if any: `part` is then the person's part in that student's circle
 */
export function withSchool<T>(
  database: Database,
  person: Pick<Person, "schoolId" | "personId">,
  studentId: string | null,
  work: (trx: Transaction, part: Part | null) => Promise<T>,
): Promise<T> {
  return database.transaction(async (trx) => {
    const { rows } = await trx.raw<{ rows: { part: Part | null }[] }>(
      "select enter_school(?, ?, ?) as part",
      [person.schoolId, person.personId, studentId],
    );
    return work(trx, rows[0]?.part ?? null);
  });
}
