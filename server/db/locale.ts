import type { SchoolLocale } from "#core/words/locale.ts";
import { type PersonScope, requirePermission } from "../access/scope.ts";
import { recordEvent } from "./events.ts";

/** Says how the school writes dates, times and numbers. */
export async function saveLocale(scope: PersonScope, locale: SchoolLocale): Promise<void> {
  requirePermission(scope, "school.edit");
  await scope.trx("schools").where({ school_id: scope.schoolId }).update({ locale });
  await recordEvent(scope, { act: "changed", thing: "school", thingId: null, studentId: null });
}
