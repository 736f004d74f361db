import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { Form, Link, redirect } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { makeEdition } from "#server/db/editions.ts";
import { readSchoolLocale } from "#server/db/locale.ts";
import { writeIn } from "#server/locale.ts";
import type { ReportDocument } from "#core/report/document.ts";
import { defineAction } from "#app/kit/define-action.server.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { ReportSheet } from "#app/report/report-sheet.tsx";
import { ChooseReport } from "#app/routes/report/choose-report.tsx";
import { FormProblem } from "#app/ui/field.tsx";
import { id } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { NamesFound } from "./names-found.tsx";
import { namesFound, readWhole, withoutData } from "./read-whole.server.ts";
import type { Route } from "./+types/new-edition";

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "edition.make", params.studentId, async (scope) => {
    const { spans, report, ...whole } = await readWhole(scope, params.studentId, new URL(request.url).search);
    return {
      ...whole,
      report: withoutData(report),
      editionId: newId(),
      spans: spans.map(({ key, words }) => ({ key, words })),
      names: await namesFound(scope, params.studentId, report),
    };
  });
}

export const action = defineAction({
  permission: "edition.make",
  schema: z.object({ editionId: id, kept: z.optional(z.literal("yes")) }),
  async run(scope, { editionId, kept }, { params, request, wrong }) {
    const { studentId } = params as Route.ActionArgs["params"];
    // An edition is the school's, whoever makes it.
    writeIn(await readSchoolLocale(scope));
    const { report } = await readWhole(scope, studentId, new URL(request.url).search);
    const names = await namesFound(scope, studentId, report);
    if (names.length > 0 && kept !== "yes")
      return wrong({ kept: "Look at each of these names first, and keep those that may stay." });
    await makeEdition(scope, { studentId, editionId }, report);
    return redirect(`/students/${studentId}/editions/${editionId}`);
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

/** How many goals have a progress statement that is ready: the others are frozen without one. */
function ReadyStatements({ report }: { report: ReportDocument }) {
  const goals = report.sections.flatMap(({ blocks }) =>
    blocks.flatMap((block) => (block.kind === "goal" && block.statements ? [block.statements] : [])),
  );
  const ready = goals.filter((statements) => statements.length > 0).length;
  if (goals.length === 0 || ready === goals.length) return null;
  return (
    <p className="mt-1 text-fine">
      Progress statements that are ready: {ready} of {goals.length} goals.{" "}
      <Link className="link" to="/progress-reports">
        Write the others
      </Link>
    </p>
  );
}

/** What would be frozen, as its readers will see it, and what is to be looked at before. */
export default function NewEdition({
  loaderData: { report, spans, chosen, order, audience, audiences, initials, names, next, editionId },
  actionData,
  params: { studentId },
}: Route.ComponentProps) {
  const { busy, problems, typed } = useForm(actionData);
  return (
    <main id="page" className="page-body min-w-0 px-8 py-6 max-sm:px-4">
      <div className="no-print mx-auto mb-5 max-w-[58rem] rounded-lg bg-base-200 px-4 py-3">
        <p className="font-serif text-[1.15rem] font-semibold">
          Edition {next} for {audiences.find((one) => one.audience === audience)?.words}
        </p>
        <p className="mb-2 text-soft">
          Below is what will be frozen. Later corrections change the running report, and not this edition.
        </p>
        <ChooseReport {...{ spans, chosen, order, audience, audiences }} />
        <p className="mt-1 text-fine">
          <Link className="link" to={`/students/${studentId}/audiences/${audience}`}>
            How it reads for this audience
          </Link>
        </p>
        <ReadyStatements report={report} />
        <Form method="post" className="mt-3 grid gap-3">
          <input type="hidden" name="editionId" value={typed?.["editionId"] ?? editionId} />
          {names.length > 0 ? <NamesFound {...{ studentId, names }} problem={problems["kept"]} /> : null}
          <div className="flex flex-wrap gap-2">
            <button className="btn btn-primary" disabled={busy}>
              Make edition {next}
            </button>
            <Link className="btn btn-plain" to={`/students/${studentId}/editions`}>
              Cancel
            </Link>
          </div>
          <FormProblem>{problems["form"]}</FormProblem>
        </Form>
      </div>
      <ReportSheet
        report={report}
        studentId={studentId}
        heading={
          <PageTitle title="New edition" of={initials} className="text-[1.9rem] leading-tight font-semibold">
            {report.title}
          </PageTitle>
        }
      />
    </main>
  );
}
