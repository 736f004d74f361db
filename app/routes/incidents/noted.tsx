import * as z from "zod/mini";
import { Link, redirect } from "react-router";
import { patternLine } from "#core/report/pattern-line.ts";
import { shortDate } from "#core/words/dates.ts";
import { enter } from "#server/access/enter.ts";
import { may } from "#server/access/table.ts";
import { isId, notFound } from "#server/access/visit.ts";
import { changePatternNote, findPatternNote } from "#server/db/pattern-notes.ts";
import { keepTypedOffline } from "#app/recording/keep-typed-offline.ts";
import { readForm } from "#app/ui/form-data.ts";
import { TakenOut } from "../student/taken-out.tsx";
import type { Route } from "./+types/noted";

export function loader({ request, context, params }: Route.LoaderArgs) {
  return enter(request, context, "incident.read", params.studentId, async (visit) => {
    const noteId = isId(params.patternId) ? params.patternId : notFound();
    const { author, authorId, on, time, removed, ...note } = await findPatternNote(
      visit,
      params.studentId,
      noteId,
    );
    return {
      ...{ author, removed },
      said: patternLine(note),
      when: `${shortDate(on)}, ${time}`,
      mayChange: may(visit.person, "entry.remove", { part: visit.part, authorId }),
    };
  });
}

const form = z.object({ intent: z.enum(["remove", "restore"]) });

export async function action({ request, context, params }: Route.ActionArgs) {
  const posted = await request.formData();
  const { studentId } = params;
  return enter(request, context, "entry.remove", studentId, async (visit) => {
    const noteId = isId(params.patternId) ? params.patternId : notFound();
    const read = readForm(posted, form);
    if (read.ok)
      await changePatternNote(
        visit,
        { studentId, noteId },
        read.values.intent === "remove" ? "removed" : "restored",
      );
    return redirect(`/students/${studentId}/noted/${noteId}`);
  });
}

export async function clientAction({ serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction());
}

/** A sentence of the patterns that somebody put into the report: taken out, put back. */
export default function NotedPage({
  loaderData: { author, when, said, removed, mayChange },
  params: { studentId },
}: Route.ComponentProps) {
  return (
    <section aria-label="A pattern to check" className="max-w-2xl py-5">
      <p className="text-fine text-soft">
        <Link className="link" to={`/students/${studentId}/patterns`}>
          Patterns
        </Link>{" "}
        · put into the report {when} · {author}
      </p>
      <TakenOut {...{ said, removed, mayChange }} />
    </section>
  );
}
