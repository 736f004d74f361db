import { enter, requirePerson } from "#server/access/enter.ts";
import { may } from "#server/access/table.ts";
import { personOf, readToken } from "#server/auth/session.ts";
import { withSchool } from "#server/db/school.ts";
import { keepReadable } from "#server/db/students.ts";
import { liveStream } from "#server/live/stream.ts";
import type { Route } from "./+types/live";

/** The stream of changes. With `?student=` it speaks of that student only, and is "not found" outside the circle. */
export async function loader({ request, context }: Route.LoaderArgs) {
  const only = new URL(request.url).searchParams.get("student");
  await enter(request, context, only === null ? "live.read" : "student.read", only, () => Promise.resolve());
  const { schoolId } = await requirePerson(request, context);
  const token = readToken(request, context.secure);
  return liveStream({
    hub: context.hub,
    schoolId,
    signal: request.signal,
    async readable(students) {
      const person = await personOf(context.database, token, { touch: false });
      if (!person || !may(person, "live.read", { part: null })) return null;
      const asked = only === null ? students : students.filter((student) => student === only);
      if (asked.length === 0) return [];
      return withSchool(context.database, person, null, (trx) =>
        keepReadable({ person, part: null, trx }, asked),
      );
    },
  });
}
