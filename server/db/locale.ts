import type { SchoolLocale } from "#core/words/locale.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { recordEvent } from "./events.ts";

/** How the school writes dates, times and numbers: what it gives away is written so, whoever makes it. */
export async function readSchoolLocale({ trx, schoolId }: Scope): Promise<SchoolLocale> {
  const row = await trx("schools").where({ school_id: schoolId }).first("locale");
  return row?.locale ?? "en-US";
}

/** Says how the school writes dates, times and numbers. */
export async function saveLocale(scope: PersonScope, locale: SchoolLocale): Promise<void> {
  requirePermission(scope, "school.edit");
  await scope.trx("schools").where({ school_id: scope.schoolId }).update({ locale });
  await recordEvent(scope, { act: "changed", thing: "school", thingId: null, studentId: null });
}

/** What the school is called. A person who acts brings its name along; the server's own work looks it up. */
export async function readSchoolName({ trx, schoolId, actor }: Scope): Promise<string> {
  if (actor.kind === "person") return actor.schoolName;
  const row = await trx("schools").where({ school_id: schoolId }).first("name");
  return row?.name ?? "";
}
