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

/** What a transaction inside a school begins with. */
export interface Entered {
  trx: Transaction;
  /** The person's part in the circle of the student it is about. */
  part: Part | null;
  /** The moment the transaction began, by the database's clock: the only "now" of the application. */
  now: Date;
  /** The same in the school's own date and time, `YYYY-MM-DDTHH:MM`. */
  localNow: string;
  /** The school's own date, `YYYY-MM-DD`. */
  today: string;
}

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
  work: (entered: Entered) => Promise<T>,
): Promise<T> {
  return database.transaction(async (trx) => {
    const { rows } = await trx.raw<{
      rows: { part: Part | null; moment: Date; local_time: string | null }[];
    }>("select part, moment, local_time from enter_school(?, ?, ?)", [
      person.schoolId,
      person.personId,
      studentId,
    ]);
    const row = rows[0];
    if (!row) throw new Error("enter_school answered nothing");
    // A school that is not there has no time of its own, and no rows to show.
    const local = row.local_time ?? "";
    return work({
      trx,
      part: row.part,
      now: row.moment,
      localNow: local.slice(0, 16),
      today: local.slice(0, 10),
    });
  });
}
