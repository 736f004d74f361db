import * as z from "zod/mini";
import { authorize } from "#server/access/authorize.ts";
import { readHashedNames, rememberNoName } from "#server/db/names.ts";
import { listStudents } from "#server/db/students.ts";
import { data } from "react-router";
import type { Route } from "./+types/names";

/** The names of the school as hashes, for the notes of the students this person knows. */
export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "names.read", null, async (scope) => {
    const students = await listStudents(scope);
    return readHashedNames(
      scope,
      students.map(({ studentId }) => studentId),
    );
  });
}

const remembered = z.object({
  studentId: z.uuid(),
  form: z.string().check(z.minLength(1), z.maxLength(100)),
});

/** Remembers that a word names nobody in the record of a student. */
export async function action({ request, context }: Route.ActionArgs) {
  const read = remembered.safeParse(Object.fromEntries(await request.formData()));
  const studentId = read.success ? read.data.studentId : null;
  return authorize(request, context, "names.remember", studentId, async (scope) => {
    if (!read.success) throw data({ kind: "not-found" }, { status: 404 });
    await rememberNoName(scope, read.data.studentId, read.data.form);
    return { saved: true };
  });
}
