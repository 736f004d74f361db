import { Link } from "react-router";
import { authorizeFamily } from "#server/access/authorize-family.ts";
import { listAccessForFamily } from "#server/db/access-record.ts";
import { findCalledName } from "#server/db/family-access.ts";
import { catalogueOf } from "#core/words/catalogues.ts";
import { familyPageWords } from "#core/words/family-page.ts";
import { EventList } from "#app/ui/event-list.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import { FamilyFrame } from "./family-frame.tsx";
import type { Route } from "./+types/family-access";

const pageSize = 100;

export function loader({ request, context, params: { guardianId } }: Route.LoaderArgs) {
  const before = new URL(request.url).searchParams.get("before");
  return authorizeFamily(request, context, "access-record.family", guardianId, async (scope, guardian) => {
    const { language, schoolName } = guardian;
    const { report } = catalogueOf(language);
    const place = before !== null && /^\d{1,18}$/.test(before) ? { before } : {};
    const lines = await listAccessForFamily(scope, place, pageSize + 1);
    return {
      ...{ language, schoolName, isLater: before !== null },
      name: await findCalledName(scope, scope.actor.studentId),
      lines: lines?.slice(0, pageSize) ?? null,
      days: Object.fromEntries(
        (lines ?? []).map(({ at }) => [at.slice(0, 10), report.day(at.slice(0, 10))] as const),
      ),
      more: lines && lines.length > pageSize ? (lines[pageSize - 1]?.place ?? null) : null,
    };
  });
}

/** Who saw the record of their student: for a guardian who asked the school for it. */
export default function FamilyAccess({
  loaderData: { language, schoolName, name, lines, days, more, isLater },
  params: { guardianId },
}: Route.ComponentProps) {
  const words = familyPageWords[language];
  const page = `/family/${guardianId}`;
  return (
    <FamilyFrame language={language} school={schoolName} mayLeave>
      <PageTitle title={words.accessTitle} className="font-serif text-[1.9rem] leading-tight font-semibold" />
      <p className="text-soft" dir="auto">
        {name}
      </p>
      {lines === null ? (
        <p className="mt-4">{words.accessAsk}</p>
      ) : (
        <>
          <p className="mt-2">{words.accessHint}</p>
          <EventList lines={lines} language={language} days={days} />
        </>
      )}
      <p className="mt-6 flex flex-wrap gap-5">
        <Link className="link" to={page}>
          {words.back}
        </Link>
        {isLater ? (
          <Link className="link" to={`${page}/access`}>
            {words.newest}
          </Link>
        ) : null}
        {more ? (
          <Link className="link" to={`${page}/access?before=${more}`}>
            {words.older}
          </Link>
        ) : null}
      </p>
    </FamilyFrame>
  );
}
