import * as z from "zod/mini";
import { redirect } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { notFound } from "#server/errors.ts";
import { markAbsence } from "#server/db/students.ts";
import { readForm } from "#app/ui/form-data.ts";
import type { Route } from "./+types/absent-today";

/** Redirects: the student's page shows absences. */
export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "student.read", params.studentId, () =>
    Promise.resolve(redirect(`/students/${params.studentId}`)),
  );
}

/** One touch on a recording screen: absent today, or here after all. */
export async function action({ request, context, params }: Route.ActionArgs) {
  const form = await request.formData();
  return authorize(request, context, "absence.mark", params.studentId, async (scope) => {
    const read = readForm(
      form,
      z.object({ absent: z.enum(["yes", "no"]), back: z.optional(z.literal("today")) }),
    );
    if (!read.ok) notFound();
    const today = scope.today;
    await markAbsence(scope, params.studentId, today, read.values.absent === "yes");
    return redirect(read.values.back ? "/today" : `/students/${params.studentId}`);
  });
}
