import { readToken } from "#server/auth/session.ts";
import { guarded } from "#server/access/answer.ts";
import { authorize, dayNow, isTurned, readableNow } from "#server/access/authorize.ts";
import { liveStream } from "#server/live/stream.ts";
import type { Route } from "./+types/live";

/**
 * The stream of changes. With `?student=` it speaks of that student only, and is "not found" outside the circle. With `?whose=` it is no
 * stream: it answers 409 where another tab has turned to another school of the same account, else 204.
 */
export async function loader({ request, context }: Route.LoaderArgs) {
  const { searchParams } = new URL(request.url);
  const whose = searchParams.get("whose");
  if (whose !== null)
    return guarded(
      async () => new Response(null, { status: (await isTurned(request, context, whose)) ? 409 : 204 }),
      context.pulse,
    );
  const only = searchParams.get("student");
  const { schoolId, personId } = await authorize(
    request,
    context,
    only === null ? "live.read" : "student.read",
    only,
    ({ schoolId: school, actor }) => Promise.resolve({ schoolId: school, personId: actor.personId }),
    { shows: false },
  );
  return liveStream({
    hub: context.hub,
    ...{ schoolId, personId },
    session: readToken(request, context.secure) ?? "",
    signal: context.gone,
    day: () => dayNow(request, context),
    readable: (students) =>
      readableNow(
        request,
        context,
        only === null ? students : students.filter((student) => student === only),
      ),
  });
}
