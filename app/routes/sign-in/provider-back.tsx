import { Link, redirect, redirectDocument } from "react-router";
import { guarded } from "#server/access/answer.ts";
import { authorize } from "#server/access/authorize.ts";
import { endAtProvider, endTrial, readSent, sentCookie } from "#server/auth/provider.ts";
import { browserOf, personOf, signedInHeaders } from "#server/auth/session.ts";
import { recordEvent } from "#server/db/events.ts";
import { withScope } from "#server/db/school.ts";
import { notFound } from "#server/errors.ts";
import { TitlePage } from "#app/ui/title-page.tsx";
import { ownPath } from "./own-path.ts";
import { providerProblem } from "./provider-words.ts";
import type { Route } from "./+types/provider-back";

/** Where a browser comes back to from the identity provider of a school. */
export function loader({ request, context }: Route.LoaderArgs) {
  return guarded(async () => {
    const { database, secure } = context;
    const back = new URL(request.url);
    const named = back.searchParams.get("problem");
    if (named !== null) return { why: providerProblem(named) };
    const sent = readSent(request, secure);
    const over = { "Set-Cookie": sentCookie(null, secure) };
    const failed = (problem: string) => redirect(`/sign-in/provider?problem=${problem}`, { headers: over });
    if (!sent) return { why: providerProblem("not-finished") };
    if (sent.isTest) {
      await authorize(request, context, "staff.edit", null, (scope) =>
        scope.schoolId === sent.schoolId ? Promise.resolve(null) : notFound(),
      );
      const tried = await endTrial(database, sent, back);
      const outcome =
        "email" in tried ? `tested=${encodeURIComponent(tried.email)}` : `problem=${tried.problem}`;
      throw redirect(`/school/provider?${outcome}`, { headers: over });
    }
    const ended = await endAtProvider(database, sent, back, browserOf(request, context));
    if (!ended.ok) throw failed(ended.problem);
    const person = ended.joined ? await personOf(database, ended.token) : null;
    if (person)
      await withScope(database, person, null, (scope) =>
        recordEvent(scope, { thing: "person", act: "joined", thingId: person.personId, studentId: null }),
      );
    const headers = signedInHeaders(ended, secure);
    headers.append("Set-Cookie", sentCookie(null, secure));
    throw redirectDocument(ownPath(sent.to), { headers });
  }, context.pulse);
}

export default function ProviderBack({ loaderData: { why } }: Route.ComponentProps) {
  return (
    <TitlePage title="Not signed in" lead="What you saw in the room, in the report by the time you look up.">
      <p className="mb-5">{why ?? providerProblem("not-finished")}</p>
      <Link className="btn btn-primary w-full" to="/sign-in">
        To the sign-in
      </Link>
    </TitlePage>
  );
}
