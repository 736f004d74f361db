import { Link } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import { listReleased } from "#server/db/releases.ts";
import { listEditions } from "#server/db/editions.ts";
import { listSentOut } from "#server/db/message-lists.ts";
import { findStudent } from "#server/db/students.ts";
import { reportEn } from "#core/words/en/report.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { sentOutWords } from "#app/ui/sent-out-words.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { audienceNames, replacesWords, shareWays } from "./edition-words.ts";
import type { Route } from "./+types/editions";

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "edition.read", params.studentId, async (scope) => {
    const student = await findStudent(scope, params.studentId);
    return {
      studentId: params.studentId,
      ...{ name: student.name, initials: student.initials },
      editions: (await listEditions(scope, params.studentId)).map((edition) => ({
        ...edition,
        covers: reportEn.span(edition.span.from, edition.span.to),
      })),
      released: (await listReleased(scope, params.studentId)).map(
        ({ entryId, sentence, note, on, page }) => ({
          ...{ entryId, sentence, note, on, page },
        }),
      ),
      sentOut: await listSentOut(scope, params.studentId, 20),
      mayMake: may(scope.actor, "edition.make", { circleRole: scope.circleRole }),
    };
  });
}

/** The frozen reports of a student, the newest first. */
export default function Editions({
  loaderData: { studentId, name, initials, editions, released, sentOut, mayMake },
}: Route.ComponentProps) {
  return (
    <main id="page" className="page-body min-w-0 px-8 py-6 max-sm:px-4">
      <header className="flex flex-wrap items-start justify-between gap-3 border-b border-base-300 pb-4">
        <div>
          <PageTitle title="Editions" of={initials} />
          <p className="text-soft" dir="auto">
            {name}
          </p>
        </div>
        <div className="flex flex-wrap gap-2">
          {mayMake ? (
            <Link className="btn btn-primary" to={`/students/${studentId}/editions/new`}>
              Make an edition
            </Link>
          ) : null}
          {mayMake ? (
            <Link className="btn btn-plain" to={`/students/${studentId}/editions/new?for=file&span=all`}>
              Full record
            </Link>
          ) : null}
          <Link className="btn btn-plain" to={`/students/${studentId}/feedback`}>
            Feedback
          </Link>
          <Link className="btn btn-plain" to={`/students/${studentId}/report`}>
            Report
          </Link>
        </div>
      </header>
      {editions.length === 0 ? (
        <EmptyState title="No edition yet">
          <p>
            An edition is a frozen copy of the report: dated, numbered, and the same whenever it is opened.
            Make one for a meeting or a reporting period.
          </p>
        </EmptyState>
      ) : (
        <ol className="mt-2 max-w-[52rem]">
          {editions.map((edition) => (
            <li key={edition.editionId} className="border-b border-base-300 py-3">
              <Link className="font-serif text-[1.15rem] font-semibold" to={edition.editionId}>
                Edition {edition.number} for {audienceNames[edition.audience]}
              </Link>
              <p className="text-soft">
                {edition.covers} · made {dateWithYear(edition.madeOn)} by {edition.by}
              </p>
              {edition.replaces ? <p>{replacesWords(edition)}</p> : null}
              {edition.replacedBy === null ? null : (
                <p className="text-soft">Replaced by edition {edition.replacedBy}.</p>
              )}
              {edition.shares.map(({ how, on, note, by }) => (
                <p key={`${how} ${on} ${note ?? ""}`} className="text-fine text-soft" dir="auto">
                  {[shareWays[how], dateWithYear(on), note, by].filter(Boolean).join(" · ")}
                </p>
              ))}
            </li>
          ))}
        </ol>
      )}
      {released.length > 0 ? (
        <section aria-label="Released to the family" className="mt-8 max-w-[52rem]">
          <h2 className="font-serif text-[1.15rem] font-semibold">Released to the family</h2>
          <p className="text-soft">
            Single entries and jots that the case manager has released, apart from any edition, as the family
            reads them.
          </p>
          <ul className="mt-1">
            {released.map(({ entryId, sentence, note, on, page }) => (
              <li key={entryId} className="border-t border-base-300 py-1.5" dir="auto">
                <Link className="link" to={`/students/${studentId}/${page}`}>
                  {dateWithYear(on)}
                </Link>{" "}
                {sentence} {note}
              </li>
            ))}
          </ul>
        </section>
      ) : null}
      {sentOut.length > 0 ? (
        <section aria-labelledby="sent" className="mt-8 max-w-[46rem]">
          <h2 id="sent" className="text-lg font-bold">
            Sent to the family by e-mail
          </h2>
          <ul className="mt-1">
            {sentOut.map((one) => (
              <li key={one.messageId} className="border-t border-base-300 py-1.5" dir="auto">
                {mayMake ? (
                  <Link className="link" to={`/dispatch/${one.messageId}`}>
                    {sentOutWords(one)}
                  </Link>
                ) : (
                  sentOutWords(one)
                )}
              </li>
            ))}
          </ul>
        </section>
      ) : null}
    </main>
  );
}
