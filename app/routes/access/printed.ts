import * as z from "zod/mini";
import { data, redirect } from "react-router";
import type { ReadThing } from "#core/words/event-acts.ts";
import { authorize } from "#server/access/authorize.ts";
import { noteReads } from "#server/db/reads.ts";
import type { Route } from "./+types/printed";

const printedSchema = z.object({ page: z.string().check(z.maxLength(300)) });

/** What is on a page, by the word of its address after the student; any other page is the student's. */
const pages: Partial<Record<string, ReadThing>> = {
  ...{ report: "report", editions: "editions", goals: "goals", entries: "goals", incidents: "incidents" },
  ...{ patterns: "incidents", plans: "incidents", jots: "jots", meeting: "meeting", access: "access record" },
  rights: "record rights",
};

/** Nothing is shown here: the way leads to the student. */
export function loader({ request, context, params: { studentId } }: Route.LoaderArgs) {
  return authorize(request, context, "report.read", studentId, () =>
    Promise.resolve(redirect(`/students/${studentId}`)),
  );
}

/** The browser tells that a page about a student is being printed: written down once an hour. */
export async function action({ request, context, params: { studentId } }: Route.ActionArgs) {
  const read = printedSchema.safeParse(Object.fromEntries(await request.formData()));
  return authorize(request, context, "report.read", studentId, async (scope) => {
    if (!read.success) throw data({ kind: "not-found" }, { status: 404 });
    const [, first, , third] = read.data.page.split("/");
    const thing = first === "progress-reports" ? "statements" : (pages[third ?? ""] ?? "student");
    await noteReads(scope, thing, [studentId], { act: "printed", way: "print" });
    return { noted: true };
  });
}
