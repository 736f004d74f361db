import {
  type Audience,
  audienceDefaults,
  audiences,
  type AudienceSettings,
  settledFor,
} from "#core/report/audience.ts";
import { audienceSettingsSchema } from "#core/report/audience-schema.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { recordEvent } from "./events.ts";

/** An audience as reports are made for it. */
export interface ReadAudience {
  audience: Audience;
  /** What the school calls an audience of its own. */
  name: string | null;
  settings: AudienceSettings;
  /** Are they the student's own, and differ from the school's? */
  isStudents: boolean;
}

/** Settings as stored. What an earlier program stored and this one does not know is left out; what it lacks is as set by default. */
function readSettings(audience: Audience, stored: unknown): AudienceSettings {
  const read = audienceSettingsSchema.safeParse({ ...audienceDefaults[audience], ...(stored as object) });
  return read.success ? read.data : audienceDefaults[audience];
}

/**
 * The audiences of a school, with the settings of a student where these differ. The school's own is among them where it has one.
 *
 * @param studentId null for the school's settings
 */
export async function listAudiences(
  { trx, schoolId }: Scope,
  studentId: string | null,
): Promise<ReadAudience[]> {
  const { rows } = await trx.raw<{
    rows: { audience: Audience; name: string | null; settings: unknown; own: unknown }[];
  }>(
    `select coalesce(a.audience, s.audience) as audience, a.name, a.settings, s.settings as own
     from (select * from audiences where school_id = :schoolId) a
     full join (select * from student_audiences where school_id = :schoolId and student_id = :studentId::uuid) s
       on s.audience = a.audience`,
    { schoolId, studentId },
  );
  return audiences.flatMap((audience) => {
    const row = rows.find((one) => one.audience === audience);
    if (audience === "own" && !row?.name) return [];
    return {
      ...{ audience, name: row?.name ?? null, isStudents: Boolean(row?.own) },
      settings: readSettings(audience, row?.own ?? row?.settings ?? {}),
    };
  });
}

/**
 * How a student's reports read for an audience, with what no setting changes; null where the school has no such audience.
 */
export async function findAudience(
  scope: Scope,
  studentId: string,
  audience: Audience,
): Promise<ReadAudience | null> {
  const found = (await listAudiences(scope, studentId)).find((one) => one.audience === audience);
  return found ? { ...found, settings: settledFor(audience, found.settings) } : null;
}

/** Saves how reports read for an audience at the school. `name` is asked for the school's own audience. */
export async function saveSchoolAudience(
  scope: PersonScope,
  audience: Audience,
  settings: AudienceSettings,
  name: string | null,
): Promise<void> {
  requirePermission(scope, "school.edit");
  await scope
    .trx("audiences")
    .insert({ school_id: scope.schoolId, audience, name, settings: JSON.stringify(settings) })
    .onConflict(["school_id", "audience"])
    .merge(["name", "settings"]);
  await recordEvent(scope, { act: "changed", thing: "audience", thingId: null, studentId: null });
}

/** Takes the school's own audience out. Editions that were made for it stay. */
export async function removeOwnAudience(scope: PersonScope): Promise<void> {
  requirePermission(scope, "school.edit");
  for (const table of ["audiences", "student_audiences"] as const)
    await scope.trx(table).where({ school_id: scope.schoolId, audience: "own" }).delete();
  await recordEvent(scope, { act: "changed", thing: "audience", thingId: null, studentId: null });
}

/** Saves how reports of a student read for an audience; null: as at the school. */
export async function saveStudentAudience(
  scope: PersonScope,
  studentId: string,
  audience: Audience,
  settings: AudienceSettings | null,
): Promise<void> {
  requirePermission(scope, "edition.make");
  const { trx, schoolId } = scope;
  const key = { school_id: schoolId, student_id: studentId, audience };
  if (settings === null) await trx("student_audiences").where(key).delete();
  else
    await trx("student_audiences")
      .insert({ ...key, settings: JSON.stringify(settings) })
      .onConflict(["school_id", "student_id", "audience"])
      .merge(["settings"]);
  await recordEvent(scope, { act: "changed", thing: "audience", thingId: null, studentId });
}

/** For how many years the school keeps editions; null for ever. */
export async function readEditionYears({ trx, schoolId }: Scope): Promise<number | null> {
  const { rows } = await trx.raw<{ rows: { years: number | null }[] }>(
    "select edition_years as years from schools where school_id = ?",
    [schoolId],
  );
  return rows[0]?.years ?? null;
}

/** Says for how many years (1 to 100); null for ever. The command `npm run editions -- --remove-old` removes older ones. */
export async function saveEditionYears(scope: PersonScope, years: number | null): Promise<void> {
  requirePermission(scope, "school.edit");
  await scope.trx("schools").where({ school_id: scope.schoolId }).update({ edition_years: years });
  await recordEvent(scope, { act: "changed", thing: "school", thingId: null, studentId: null });
}
