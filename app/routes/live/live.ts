import { readToken } from "#server/auth/session.ts";
import { guarded } from "#server/access/answer.ts";
import { authorize, isTurned, viewNow } from "#server/access/authorize.ts";
import { liveStream } from "#server/live/stream.ts";
import type { Route } from "./+types/live";

/** Processes that serve one school may differ by so much in their clocks. */
const clocksDifferMs = 1000;

/** The moment from which the stream goes on: of the last message heard, else of the page. */
function sinceOf(request: Request): number | null {
  const said = request.headers.get("Last-Event-ID") ?? new URL(request.url).searchParams.get("since");
  return said !== null && /^\d{1,15}$/.test(said) ? Number(said) - clocksDifferMs : null;
}

/**
 * The stream of changes. With `?since=`, or the browser's `Last-Event-ID`, it begins with what changed since that moment. With `?student=` it speaks of that student only, and is "not found" outside the circle. With `?whose=` it is no
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
    since: sinceOf(request),
    async look() {
      const view = await viewNow(request, context);
      if (view === null || only === null) return view;
      return { ...view, students: view.students.filter((student) => student === only) };
    },
  });
}
