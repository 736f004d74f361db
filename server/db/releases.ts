import { sectionNames } from "#core/report/audience.ts";
import { composeLog } from "#core/report/compose-log.ts";
import { linesOf } from "#core/report/document.ts";
import type { ReportLine } from "#core/report/report-lines.ts";
import { catalogueOf } from "#core/words/catalogues.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { Invalid, notFound } from "../errors.ts";
import { findAudience } from "./audiences.ts";
import { findEntry, listEntries } from "./entry-lists.ts";
import { recordEvent } from "./events.ts";
import { findJot, listJots } from "./jots.ts";
import { listGoals } from "./students.ts";

/** What can be released to a family: an entry, or a jot that is not for the team only. Incidents cannot. */
export type ReleasedThing = "entry" | "jot";

interface Ids {
  studentId: string;
  thing: ReleasedThing;
  thingId: string;
}

async function requireReleasable(scope: PersonScope, { studentId, thing, thingId }: Ids): Promise<void> {
  if (thing === "entry") {
    if (!(await findEntry(scope, studentId, thingId))) notFound();
    return;
  }
  const { teamOnly } = await findJot(scope, studentId, thingId);
  if (teamOnly)
    throw new Invalid({ form: "This jot is for the team only. Correct that first, then release it." });
}

/** Releases an entry or a jot to the family, or takes that back. What is corrected or removed later is so for the family too. */
export async function release(scope: PersonScope, ids: Ids, isReleased: boolean): Promise<void> {
  requirePermission(scope, "edition.make");
  const { trx, schoolId, actor } = scope;
  const key = {
    ...{ school_id: schoolId, student_id: ids.studentId, thing: ids.thing, thing_id: ids.thingId },
  };
  if (isReleased) {
    await requireReleasable(scope, ids);
    await trx("releases")
      .insert({ ...key, person_id: actor.personId })
      .onConflict(["school_id", "student_id", "thing", "thing_id"])
      .ignore();
  } else await trx("releases").where(key).delete();
  await recordEvent(scope, {
    ...{ act: isReleased ? "made" : "taken back", thing: "release" },
    ...{ thingId: ids.thingId, studentId: ids.studentId },
  });
}

/** Is an entry or a jot released to the family? */
export async function isReleased(
  { trx, schoolId }: Scope,
  { studentId, thing, thingId }: Ids,
): Promise<boolean> {
  const { rows } = await trx.raw<{ rows: unknown[] }>(
    "select 1 from releases where school_id = ? and student_id = ? and thing = ? and thing_id = ?",
    [schoolId, studentId, thing, thingId],
  );
  return rows.length > 0;
}

/**
 * What of a student is released to the family now, the newest first, in the words in which the family reads it. What is removed, or for
 * the team only by now, is left out.
 */
export async function listReleased(scope: Scope, studentId: string): Promise<ReportLine[]> {
  const { rows } = await scope.trx.raw<{ rows: { thing: ReleasedThing; thing_id: string }[] }>(
    "select thing, thing_id from releases where school_id = ? and student_id = ?",
    [scope.schoolId, studentId],
  );
  const of = (wanted: ReleasedThing) => ({
    ids: rows.flatMap(({ thing, thing_id }) => (thing === wanted ? thing_id : [])),
  });
  const entries = await listEntries(scope, studentId, of("entry"));
  const jots = (await listJots(scope, studentId, of("jot"))).filter(({ teamOnly }) => !teamOnly);
  const order = [
    ...entries.map(({ entryId, on, time }) => ({ id: entryId, at: `${on} ${time}` })),
    ...jots.map(({ jotId, on, at }) => ({ id: jotId, at: `${on} ${at ?? ""}` })),
  ].sort((a, b) => (a.at < b.at ? 1 : -1));
  const { settings } = (await findAudience(scope, studentId, "family")) ?? notFound();
  const log = composeLog(
    {
      goals: await listGoals(scope, studentId),
      record: { entries, jots, notMeasured: [], incidents: [], patterns: [], decisions: [] },
      order: order.map(({ id }) => id),
    },
    // A jot that was released is read, whatever else the family's report has.
    { audience: "family", settings: { ...settings, sections: sectionNames } },
    catalogueOf(settings.language),
  );
  return linesOf({ sections: [log] });
}
