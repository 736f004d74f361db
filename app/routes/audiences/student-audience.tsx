import { Link, redirect, useSearchParams } from "react-router";
import { type Audience, audiences } from "#core/report/audience.ts";
import { defineForm } from "#app/kit/define-action.server.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { authorize } from "#server/access/authorize.ts";
import { listAudiences, saveStudentAudience } from "#server/db/audiences.ts";
import { notFound } from "#server/errors.ts";
import { FormProblem } from "#app/ui/field.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import { audienceWords } from "../editions/edition-words.ts";
import { AudienceForm } from "./audience-form.tsx";
import { readPreview } from "./read-preview.server.ts";
import { readAudience } from "./read-audience.ts";
import type { Route } from "./+types/student-audience";

const audienceIn = (text: string): Audience => audiences.find((one) => one === text) ?? notFound();

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "edition.make", params.studentId, async (scope) => {
    const audience = audienceIn(params.audience);
    const all = await listAudiences(scope, params.studentId);
    const chosen = all.find((one) => one.audience === audience) ?? notFound();
    const { report, initials } = await readPreview(scope, params.studentId, audience);
    return {
      ...{ audience, report, initials, settings: chosen.settings, isStudents: chosen.isStudents },
      audiences: all.map((one) => ({ audience: one.audience, words: audienceWords(one) })),
    };
  });
}

export const action = defineForm({
  permission: "edition.make",
  async run(scope, { form, typed, params, request, wrong }) {
    const { studentId, audience } = params as Route.ActionArgs["params"];
    const key = audienceIn(audience);
    const isReset = form.get("intent") === "school";
    const settings = isReset ? null : readAudience(typed);
    if (!isReset && settings === null) return wrong({ form: "Choose one of each list." });
    if (settings?.sections.length === 0) return wrong({ form: "Choose at least one section." });
    await saveStudentAudience(scope, studentId, key, settings);
    const path = `/students/${studentId}/audiences/${key}`;
    // The form begins anew where the settings are the school's again; else it stays, and says that it is saved.
    return redirect(isReset ? `${path}?again=${scope.now.getTime()}` : path + new URL(request.url).search);
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

/** How a student's reports read for an audience. */
export default function StudentAudience({
  loaderData: { audience, audiences: all, report, initials, settings, isStudents },
  actionData,
  params: { studentId },
}: Route.ComponentProps) {
  const { busy, problems } = useForm(actionData);
  const again = useSearchParams()[0].get("again");
  return (
    <main id="page" className="page-body min-w-0 px-8 py-6 max-sm:px-4">
      <header className="mb-4 flex flex-wrap items-baseline gap-x-5 gap-y-1 border-b border-base-300 pb-2">
        <PageTitle
          title="Who reads the report"
          of={initials}
          className="font-serif text-[1.5rem] font-semibold"
        >
          {report.title}: for {all.find((one) => one.audience === audience)?.words}
        </PageTitle>
        <nav aria-label="Audiences" className="flex flex-wrap gap-x-4">
          {all.map((one) => (
            <Link
              key={one.audience}
              className="page-tab"
              to={`/students/${studentId}/audiences/${one.audience}`}
              aria-current={one.audience === audience ? "page" : undefined}
            >
              For {one.words}
            </Link>
          ))}
        </nav>
        <Link className="link ml-auto" to={`/students/${studentId}/editions/new?for=${audience}`}>
          Make an edition
        </Link>
      </header>
      <AudienceForm
        key={`${audience} ${again ?? ""}`}
        {...{ audience, settings, studentId, first: report, draft: `audience-${audience}` }}
        above={
          <>
            <p className="rounded-lg bg-arrival px-3 py-1.5">
              {isStudents
                ? "These settings are this student’s own."
                : "These are the school’s settings. What you change here is for this student."}
            </p>
            <FormProblem>{problems["form"]}</FormProblem>
          </>
        }
        busy={busy}
        save="Save for this student"
        more={
          isStudents ? (
            <button className="btn btn-plain" name="intent" value="school" disabled={busy}>
              Use the school’s settings
            </button>
          ) : null
        }
      />
    </main>
  );
}
