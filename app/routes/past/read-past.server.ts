import * as z from "zod/mini";
import { purposeSchema } from "#core/criteria/criterion.ts";
import { readEntry } from "#core/measures/measure.ts";
import { readTypedLine } from "#core/measures/sheet-lines.ts";
import { isId } from "#server/access/scope.ts";
import { circumstanceFields } from "#app/recording/entry-form.server.ts";
import { date, optionalText, type Problems } from "#app/ui/form-data.ts";
import { rowName, rowsIn } from "#app/ui/typed-rows.ts";
import { timeIn, timeProblem } from "#core/words/read-time-of-day.ts";
import { noon } from "./noon.ts";
import type { RecordableStudent } from "./recordable.server.ts";

/** What is said once for all rows. */
export const wholeFields = z.object({
  purpose: z._default(purposeSchema, "probe"),
  setting: optionalText(100),
  observer: circumstanceFields.observer,
  anyDay: z.optional(z.string()),
});

/** What the rows say, entry by entry; what is wrong, by the name of its field. Rows without values are left out. */
export function readPast(
  typed: Readonly<Record<string, string>>,
  students: readonly RecordableStudent[],
  today: string,
) {
  const problems: Problems = {};
  const byGoal = new Map(
    students.flatMap(({ studentId, goals }) =>
      goals.map((goal) => [goal.goalId, { studentId, goal }] as const),
    ),
  );
  const entries = rowsIn(typed, "row").flatMap(({ row }, place) => {
    const line = row["line"]?.trim() ?? "";
    const note = row["note"]?.trim() ?? "";
    if (line === "" && note === "") return [];
    const say = (field: string, message: string) => (problems[rowName("row", place, field)] ??= message);
    const on = row["on"] ?? "";
    const typedAt = row["at"]?.trim() || noon;
    const at = timeIn(typedAt);
    const day = date.safeParse(on);
    if (on === "") say("on", "Give the date.");
    else if (!day.success) say("on", day.error.issues[0]?.message ?? "Give the date.");
    else if (on > today) say("on", "This day is still to come.");
    const notATime = timeProblem(typedAt);
    if (notATime) say("at", notATime);
    const found = byGoal.get(row["goal"] ?? "");
    if (!found) say("goal", "Choose the goal.");
    if (line === "") say("line", "There is a note and nothing observed.");
    const { entryId } = row;
    if (!found || line === "" || !isId(entryId)) return [];
    const read = readTypedLine(found.goal.measure, line);
    if (!read.ok) {
      say("line", read.message);
      return [];
    }
    const entry = readEntry(found.goal.measure, read.raw);
    if (!entry.ok) {
      say("line", entry.problems.map(({ message }) => message).join(" "));
      return [];
    }
    return [
      {
        entryId,
        place,
        studentId: found.studentId,
        goalId: found.goal.goalId,
        observedLocal: `${on}T${at}`,
        note: note.slice(0, 2000) || null,
        entry: entry.entry,
        score: entry.score,
      },
    ];
  });
  return { entries, problems };
}
