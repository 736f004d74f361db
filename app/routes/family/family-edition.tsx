import { Link } from "react-router";
import { authorizeFamily } from "#server/access/authorize-family.ts";
import { findEdition } from "#server/db/editions.ts";
import { noteFamilyOpened } from "#server/db/guardians.ts";
import { notFound } from "#server/errors.ts";
import { familyPageWords } from "#core/words/family-page.ts";
import { ReportPathsContext } from "#app/report/report-paths.ts";
import { ReportSheet } from "#app/report/report-sheet.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import { withoutData } from "#app/routes/editions/read-whole.server.ts";
import { FamilyFrame } from "./family-frame.tsx";
import { pathsOfFamily } from "./paths-of-family.ts";
import { editionsForFamily } from "./shared-with-family.server.ts";
import type { Route } from "./+types/family-edition";

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorizeFamily(
    request,
    context,
    "report.read",
    params.guardianId,
    async (scope, { language, schoolName }) => {
      const shared = await editionsForFamily(scope);
      const edition = shared.find(({ editionId }) => editionId === params.editionId) ?? notFound();
      await noteFamilyOpened(scope);
      const { document } = await findEdition(scope, scope.actor.studentId, edition.editionId);
      return { language, schoolName, studentId: scope.actor.studentId, document: withoutData(document) };
    },
  );
}

/** One report as it was given to the family. */
export default function FamilyEdition({
  loaderData: { language, schoolName, studentId, document },
  params: { guardianId },
}: Route.ComponentProps) {
  const words = familyPageWords[language];
  return (
    <FamilyFrame language={language} school={schoolName} mayLeave>
      <p className="no-print mb-3 flex flex-wrap items-center gap-4">
        <Link className="link inline-flex min-h-11 items-center" to={`/family/${guardianId}`}>
          {words.back}
        </Link>
        <button type="button" className="btn btn-plain with-scripts" onClick={() => window.print()}>
          {words.print}
        </button>
      </p>
      <ReportPathsContext value={pathsOfFamily(guardianId)}>
        <ReportSheet
          report={document}
          studentId={studentId}
          heading={<PageTitle title={document.title} className="text-[1.6rem] leading-tight font-semibold" />}
        />
      </ReportPathsContext>
    </FamilyFrame>
  );
}
