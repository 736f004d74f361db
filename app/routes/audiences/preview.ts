import { audiences } from "#core/report/audience.ts";
import { authorize } from "#server/access/authorize.ts";
import { notFound } from "#server/errors.ts";
import { readPreview } from "./read-preview.server.ts";
import { readAudience } from "./read-audience.ts";
import type { Route } from "./+types/preview";

/** A student's report as it would read with settings that are being chosen: with their real data, and a few lines of the log. */
export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "edition.make", params.studentId, async (scope) => {
    const { searchParams } = new URL(request.url);
    const audience = audiences.find((one) => one === params.audience) ?? notFound();
    const settings = readAudience(Object.fromEntries(searchParams)) ?? undefined;
    const { report } = await readPreview(scope, params.studentId, audience, settings);
    return { report };
  });
}
