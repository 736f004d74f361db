import { redirect } from "react-router";
import { enter } from "#server/access/enter.ts";
import type { Visit } from "#server/access/visit.ts";
import { saveEntry, schoolTimeOf } from "#server/db/entries.ts";
import { keepSitting, saveNotMeasured } from "#server/db/sittings.ts";
import { markAbsence } from "#server/db/students.ts";
import { InputProblems } from "#server/failure.ts";
import { readEntry } from "#core/measures/measure.ts";
import { clockTolerance, type KeepAnswer, type Queued, queuedSchema } from "#app/recording/queued.ts";
import type { Route } from "./+types/keep";

/** There is nothing to look at here. */
export function loader({ request, context }: Route.LoaderArgs) {
  return enter(request, context, "sitting.open", null, () => Promise.resolve(redirect("/record")));
}

const day = 86_400_000;
const refused = (why: string): KeepAnswer => ({ outcome: "refused", why });

async function keep(visit: Visit, item: Queued): Promise<KeepAnswer> {
  const { studentId, goalId, sittingId, note } = item;
  const ahead = Math.abs(item.clockAhead) >= clockTolerance ? item.clockAhead : 0;
  const at = Date.parse(item.observedAt) + ahead;
  if (at > Date.now() + day)
    return refused("The clock of this device is more than a day ahead. Set it right, then send again.");
  const observedLocal = await schoolTimeOf(visit.trx, visit.person.timeZone, new Date(at));
  if (item.kind === "absent") {
    await markAbsence(visit, studentId, observedLocal.slice(0, 10), true);
    return { outcome: "saved" };
  }
  await keepSitting(visit, { sittingId, startedAt: item.startedAt });
  if (item.kind === "not measured")
    return {
      outcome: await saveNotMeasured(visit, {
        noteId: item.id,
        goalId,
        studentId,
        sittingId,
        observedLocal,
        reason: item.reason,
        note: note?.trim() || null,
      }),
    };
  const outcome = await saveEntry(
    visit,
    ({ measure }) => {
      const read = readEntry(measure, item.entry);
      if (!read.ok) throw new InputProblems({ form: read.problems.map(({ message }) => message).join(" ") });
      return {
        entryId: item.id,
        goalId,
        studentId,
        sittingId,
        deviceAt: item.observedAt,
        observedLocal,
        purpose: item.purpose,
        setting: item.setting?.trim() || null,
        note: note?.trim() || null,
        entry: read.entry,
        score: read.score,
        circumstances: {
          ...(item.support ? { support: item.support } : {}),
          ...(item.interrupted ? { interrupted: true } : {}),
        },
      };
    },
    { goalId, studentId, measureVersion: item.measureVersion },
  );
  return outcome === "conflict"
    ? refused("An entry with this number is there already and says something else.")
    : { outcome };
}

/** Keeps one thing that a device recorded: once, however often it is sent. */
export async function action({ request, context }: Route.ActionArgs): Promise<KeepAnswer> {
  const read = queuedSchema.safeParse(await request.json().catch(() => null));
  if (!read.success)
    return enter(request, context, "sitting.open", null, () =>
      Promise.resolve(refused("The server cannot read this any more. Please tell whoever looks after it.")),
    );
  const { data: item } = read;
  try {
    return await enter(request, context, "entry.record", item.studentId, (visit) => keep(visit, item));
  } catch (error) {
    if (error instanceof InputProblems) return refused(Object.values(error.problems).join(" "));
    throw error;
  }
}
