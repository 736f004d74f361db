import { requirePermission, type Scope } from "../access/scope.ts";
import { recordEvent } from "./events.ts";
import type { Tables } from "./tables.ts";

/** The paper that a school prints on. */
export type SchoolPaper = Tables["schools"]["paper"];

/** Which paper a school prints on. */
export async function readPaper({ trx, schoolId }: Scope): Promise<SchoolPaper> {
  const row = await trx("schools").where({ school_id: schoolId }).first("paper");
  return row?.paper ?? "letter";
}

/** Says which paper the school prints on. */
export async function savePaper(scope: Scope, paper: SchoolPaper): Promise<void> {
  requirePermission(scope, "school.edit");
  if (paper === (await readPaper(scope))) return;
  await scope.trx("schools").where({ school_id: scope.schoolId }).update({ paper });
  await recordEvent(scope, { act: "changed", thing: "school", thingId: null, studentId: null });
}
