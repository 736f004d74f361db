import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { Form, Link, redirect } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { may } from "#server/access/table.ts";
import { findEdition, noteShare } from "#server/db/editions.ts";
import { findStudent } from "#server/db/students.ts";
import { notFound } from "#server/errors.ts";
import { reportEn } from "#core/words/en/report.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { defineAction } from "#app/kit/define-action.server.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { ReportSheet } from "#app/report/report-sheet.tsx";
import { Field, fieldProps, FormProblem, Select } from "#app/ui/field.tsx";
import { date, id, optionalText } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { audienceWords, replacesWords, shareWays } from "./edition-words.ts";
import { withoutData } from "./read-whole.server.ts";
import type { Route } from "./+types/edition";

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "edition.read", params.studentId, async (scope) => {
    const editionId = isId(params.editionId) ? params.editionId : notFound();
    const { document, edition } = await findEdition(scope, params.studentId, editionId);
    const { initials } = await findStudent(scope, params.studentId);
    return {
      covers: reportEn.span(edition.span.from, edition.span.to),
      ...{ edition, document: withoutData(document), initials, shareId: newId(), today: scope.today },
      mayFile: may(scope.actor, "file.make", { circleRole: scope.circleRole }),
      mayShare: may(scope.actor, "edition.share", { circleRole: scope.circleRole }),
    };
  });
}

const ways = Object.keys(shareWays) as (keyof typeof shareWays)[];

export const action = defineAction({
  permission: "edition.share",
  schema: z.object({ shareId: id, how: z.enum(ways), on: date, note: optionalText(300) }),
  async run(scope, { shareId, how, on, note }, { params }: { params: Route.ActionArgs["params"] }) {
    const { studentId, editionId } = params;
    if (!isId(editionId)) notFound();
    await noteShare(scope, { studentId, editionId, shareId }, { how, on, note });
    return redirect(`/students/${studentId}/editions/${editionId}`);
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

/** One frozen report as it was, and how it was given to others. */
export default function EditionPage({
  loaderData: { covers, edition, document, initials, shareId, today, mayShare, mayFile },
  actionData,
  params: { studentId },
}: Route.ComponentProps) {
  const { busy, problems, typed } = useForm(actionData);
  const field = fieldProps(typed, problems);
  const replaces = replacesWords(edition);
  return (
    <main id="page" className="page-body min-w-0 px-8 py-6 max-sm:px-4">
      <div className="no-print mx-auto mb-5 max-w-[58rem] rounded-lg bg-base-200 px-4 py-3">
        <div className="flex flex-wrap items-start gap-2">
          <p className="min-w-64 flex-1">
            <b>
              Edition {edition.number} for{" "}
              {audienceWords({ audience: edition.audience, name: document.audienceName })}
            </b>{" "}
            · {covers} · made {dateWithYear(edition.madeOn)} by {edition.by}
          </p>
          <button type="button" className="btn btn-plain with-scripts" onClick={() => window.print()}>
            Print
          </button>
          {mayFile ? (
            <Link className="btn btn-plain" to={`/students/${studentId}/files?edition=${edition.editionId}`}>
              Files
            </Link>
          ) : null}
          <Link className="btn btn-plain" to={`/students/${studentId}/editions`}>
            Editions
          </Link>
        </div>
        {replaces ? <p>{replaces}</p> : null}
        {edition.replacedBy === null ? null : (
          <p className="font-bold">A later one, edition {edition.replacedBy}, replaces this edition.</p>
        )}
        {edition.shares.length > 0 ? (
          <ul aria-label="Shared">
            {edition.shares.map(({ how, on, note, by }) => (
              <li key={`${how} ${on} ${note ?? ""}`} dir="auto">
                {[shareWays[how], dateWithYear(on), note, by].filter(Boolean).join(" · ")}
              </li>
            ))}
          </ul>
        ) : null}
        {mayShare ? (
          <details className="mt-1" open={Object.keys(problems).length > 0 || undefined}>
            <summary className="w-fit cursor-pointer py-1 text-fine font-bold text-soft">
              Note how it was shared
            </summary>
            <Form method="post" className="mt-1 flex flex-wrap items-start gap-3">
              <input type="hidden" name="shareId" value={typed?.["shareId"] ?? shareId} />
              <Select
                label="How"
                options={ways.map((way) => [way, shareWays[way]] as const)}
                {...field("how", "printed")}
              />
              <Field label="On" type="date" {...field("on", today)} />
              <Field
                label="With whom, or why"
                className="min-w-56 flex-1"
                hint="Optional."
                maxLength={300}
                {...field("note")}
              />
              <button className="btn btn-primary mt-6" disabled={busy}>
                Save
              </button>
            </Form>
            <FormProblem>{problems["form"]}</FormProblem>
          </details>
        ) : null}
        <p className="mt-1 text-fine break-all text-soft">
          SHA-256 {edition.sha256} ·{" "}
          <a className="link" href={`/students/${studentId}/editions/${edition.editionId}/content`} download>
            the content it is made from
          </a>
        </p>
      </div>
      <ReportSheet
        report={document}
        studentId={studentId}
        heading={
          <PageTitle
            title={`Edition ${edition.number}`}
            of={initials}
            className="text-[1.9rem] leading-tight font-semibold"
          >
            {document.title}
          </PageTitle>
        }
      />
    </main>
  );
}
