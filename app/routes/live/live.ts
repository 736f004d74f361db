import { readToken } from "#server/auth/session.ts";
import { authorize, dayNow, readableNow } from "#server/access/authorize.ts";
import { liveStream } from "#server/live/stream.ts";
import type { Route } from "./+types/live";

/** The stream of changes. With `?student=` it speaks of that student only, and is "not found" outside the circle. */
export async function loader({ request, context }: Route.LoaderArgs) {
  const only = new URL(request.url).searchParams.get("student");
  const { schoolId, personId } = await authorize(
    request,
    context,
    only === null ? "live.read" : "student.read",
    only,
    ({ schoolId: school, actor }) => Promise.resolve({ schoolId: school, personId: actor.personId }),
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
