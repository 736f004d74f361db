import type { RecordKind } from "#core/retention/record-kinds.ts";
import type { JobActor } from "../access/actor.ts";
import { requirePermission } from "../access/scope.ts";
import { pictureFolder, removePictureFile } from "../attachments/picture-folder.ts";
import { keyIn } from "../db/app-key.ts";
import type { Database } from "../db/connection.ts";
import { recordEvent } from "../db/events.ts";
import { withScope } from "../db/school.ts";
import { listGoalKeys, mendSummary } from "../db/summaries.ts";
import { log, loggableError } from "../failure.ts";

interface Erased {
  erasureId: string;
  kinds: RecordKind[];
  pictures: string[];
}

/**
 * Erases what is planned for today or an earlier day, a transaction for each student. What a hold, a request or the student's return stands against
 * stays planned, and is looked at again the next night.
 *
 * @returns how many were erased
 */
export async function eraseDue(database: Database): Promise<number> {
  const { rows } = await database.raw<{ rows: { school_id: string; student_id: string }[] }>(
    "select * from gate.erasures_due(?)",
    [keyIn(database)],
  );
  let done = 0;
  for (const { school_id: schoolId, student_id: studentId } of rows) {
    const actor: JobActor = { kind: "job", schoolId, name: "erase" };
    try {
      const erased = await withScope(database, actor, studentId, async (scope) => {
        requirePermission(scope, "record.clear");
        const { trx } = scope;
        await trx.raw(
          "select set_config('statement_timeout', '10min', true), set_config('lock_timeout', '10s', true)",
        );
        const answer = await trx.raw<{ rows: { erased: Erased | null }[] }>(
          "select gate.erase_planned(?) as erased",
          [studentId],
        );
        const found = answer.rows[0]?.erased ?? null;
        if (found === null) return null;
        if (found.kinds.includes("observations") && !found.kinds.includes("record"))
          for (const goal of await listGoalKeys(scope))
            if (goal.studentId === studentId) await mendSummary(trx, schoolId, goal);
        await recordEvent(scope, { thing: "erasure", act: "done", thingId: found.erasureId, studentId });
        return found;
      });
      if (erased === null) continue;
      done += 1;
      const folder = pictureFolder();
      if (folder !== null)
        for (const sha256 of erased.pictures) await removePictureFile(folder, schoolId, sha256);
    } catch (error) {
      log.error({ error: loggableError(error) }, "erasing failed");
    }
  }
  return done;
}
