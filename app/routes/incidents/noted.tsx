import * as z from "zod/mini";
import { Link, redirect } from "react-router";
import { patternLine } from "#core/report/pattern-line.ts";
import { shortDate, timeOfDay } from "#core/words/dates.ts";
import { authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import { isId } from "#server/access/scope.ts";
import { notFound } from "#server/errors.ts";
import { changePatternNote, findPatternNote } from "#server/db/pattern-notes.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { readForm } from "#app/ui/form-data.ts";
import { TakenOut } from "../student/taken-out.tsx";
import { StudentTitle } from "#app/routes/student/student-title.tsx";
import type { Route } from "./+types/noted";

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "incident.read", params.studentId, async (scope) => {
    const noteId = isId(params.patternId) ? params.patternId : notFound();
    const { author, authorId, on, time, removed, ...note } = await findPatternNote(
      scope,
      params.studentId,
      noteId,
    );
    return {
      ...{ author, removed },
      said: patternLine(note),
      when: `${shortDate(on)}, ${timeOfDay(time)}`,
      mayChange: may(scope.actor, "entry.remove", { circleRole: scope.circleRole, authorId }),
    };
  });
}

const form = z.object({ intent: z.enum(["remove", "restore"]) });

export async function action({ request, context, params }: Route.ActionArgs) {
  const posted = await request.formData();
  const { studentId } = params;
  return authorize(request, context, "entry.remove", studentId, async (scope) => {
    const noteId = isId(params.patternId) ? params.patternId : notFound();
    const read = readForm(posted, form);
    if (read.ok)
      await changePatternNote(
        scope,
        { studentId, noteId },
        read.values.intent === "remove" ? "removed" : "restored",
      );
    return redirect(`/students/${studentId}/noted/${noteId}`);
  });
}

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

/** A pattern sentence that was added to the report can be removed and restored. */
export default function NotedPage({
  loaderData: { author, when, said, removed, mayChange },
  params: { studentId },
}: Route.ComponentProps) {
  return (
    <section aria-label="A pattern to check" className="max-w-2xl py-5">
      <StudentTitle title={`Pattern added ${when}`} />
      <p className="text-fine text-soft">
        <Link className="link" to={`/students/${studentId}/patterns`}>
          Patterns
        </Link>{" "}
        · added to the report {when} · {author}
      </p>
      <TakenOut {...{ said, removed, mayChange }} />
    </section>
  );
}
