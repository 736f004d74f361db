import type { PersonScope } from "../access/scope.ts";
import { NotFound } from "../errors.ts";
import { markAbsence } from "./students.ts";
import { changeEntryState, type SaveOutcome } from "./entries.ts";
import { changeIncidentState } from "./incidents.ts";
import { changeJotState } from "./jots.ts";
import { changeNotMeasured } from "./not-measured.ts";
import { removeSecondObservation } from "./second-observations.ts";
import type { TakenBack } from "#core/sync/queued.ts";

/**
 * Takes back what was recorded a moment ago, as its own page would remove it: its history stays. What is not there is taken back already.
 *
 * @param day of an absence, `YYYY-MM-DD`
 * @returns "conflict" where it was corrected in the meantime: then it stays
 */
export async function takeBack(
  scope: PersonScope,
  studentId: string,
  { of, thingId }: { of: TakenBack; thingId: string },
  day: string,
): Promise<SaveOutcome> {
  const first = { expectedRevision: 1, reason: null };
  try {
    switch (of) {
      case "entry":
        return await changeEntryState(scope, { studentId, entryId: thingId }, first, "removed");
      case "incident":
        return await changeIncidentState(scope, { studentId, incidentId: thingId }, first, "removed");
      case "jot":
        return await changeJotState(scope, { studentId, jotId: thingId }, first, "removed");
      case "not measured": {
        const change = { act: "removed", expectedRevision: null, why: null } as const;
        const done = await changeNotMeasured(scope, { studentId, noteId: thingId }, change);
        return done === "conflict" ? "already" : done;
      }
      case "second":
        await removeSecondObservation(scope, { studentId, observationId: thingId });
        return "saved";
      case "absent":
        await markAbsence(scope, studentId, day, false);
        return "saved";
    }
  } catch (error) {
    if (error instanceof NotFound) return "already";
    throw error;
  }
}
