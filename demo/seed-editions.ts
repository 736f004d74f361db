import { dateOfDay } from "#core/dates/day-number.ts";
import type { PersonActor } from "#server/access/actor.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { readCalendar } from "#server/db/calendar.ts";
import type { Transaction } from "#server/db/connection.ts";
import { canonicalContent, sha256Of } from "#server/db/editions.ts";
import { readReportFor } from "#server/db/report-for.ts";
import { audienceDefaults } from "#core/report/audience.ts";
import { editionFormat, noChanges } from "#core/report/edition.ts";
import { familiesReadSpanish, school } from "./school.ts";

/** Editions of the demo's story: for the team after six weeks, for the family after nine. Days of the story. */
const made = [
  { audience: "team", day: 42 },
  { audience: "family", day: 63 },
] as const;

/** Freezes two editions of every student, as the numbers were on their days, and says whose family reads Spanish. */
export async function seedEditions(
  trx: Transaction,
  {
    schoolId,
    actor,
    students,
    firstDay,
    schoolDay,
    newId,
  }: {
    schoolId: string;
    actor: PersonActor;
    students: readonly { studentId: string; given: string }[];
    /** The day number of the story's first day. */
    firstDay: number;
    /** The last school day up to a day of the story. */
    schoolDay: (day: number) => number;
    newId: (day: number) => string;
  },
): Promise<void> {
  for (const { studentId, given } of students) {
    if (familiesReadSpanish.includes(given))
      await trx("student_audiences").insert({
        ...{ school_id: schoolId, student_id: studentId, audience: "family" },
        settings: JSON.stringify({ ...audienceDefaults.family, language: "es" }),
      });
    for (const [at, { audience, day: about }] of made.entries()) {
      const day = schoolDay(about);
      const today = dateOfDay(firstDay + day);
      const scope: PersonScope = {
        ...{ actor, schoolId, studentId, circleRole: "lead", trx, today, timeZone: school.timeZone },
        ...{ now: new Date(`${today}T22:00:00Z`), localNow: `${today}T15:00` },
      };
      const span = { from: dateOfDay(firstDay), to: today };
      const { report } = await readReportFor(scope, studentId, {
        ...{ audience, span, order: "time", limit: null, calendar: await readCalendar(scope) },
      });
      const content = canonicalContent({ format: editionFormat, document: report });
      const edition_id = newId(day);
      await trx("editions").insert({
        ...{ school_id: schoolId, edition_id, student_id: studentId, number: at + 1, audience },
        ...{ language: report.language, from_on: span.from, to_on: span.to, made_on: today },
        ...{ made_at: scope.now, person_id: actor.personId, changes: JSON.stringify(noChanges) },
        ...{ content, sha256: sha256Of(content) },
      });
      await trx("edition_shares").insert({
        ...{ school_id: schoolId, share_id: newId(day), edition_id, person_id: actor.personId },
        ...{ how: audience === "team" ? "in the meeting" : "printed", shared_on: today, at: scope.now },
      });
    }
  }
}
