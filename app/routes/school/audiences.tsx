import { Form, Link, redirect, useSearchParams } from "react-router";
import { type Audience, audienceDefaults, audiences, settledFor } from "#core/report/audience.ts";
import { defineForm } from "#app/kit/define-action.server.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { listAudiences, removeOwnAudience, saveSchoolAudience } from "#server/db/audiences.ts";
import { listStudentsFor } from "#server/db/students.ts";
import { notFound } from "#server/errors.ts";
import { Field, FormProblem } from "#app/ui/field.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import { AudienceForm } from "../audiences/audience-form.tsx";
import { readAudience } from "../audiences/read-audience.ts";
import { audienceWords } from "../editions/edition-words.ts";
import type { Route } from "./+types/audiences";

const audienceIn = (text: string | undefined): Audience =>
  audiences.find((one) => one === (text ?? "team")) ?? notFound();

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "school.edit", null, async (scope) => {
    const audience = audienceIn(params.audience);
    const all = await listAudiences(scope, null);
    const students = await listStudentsFor(scope, "edition.make");
    const asked = new URL(request.url).searchParams.get("student");
    const shown = students.find(({ studentId }) => isId(asked) && studentId === asked) ?? students[0];
    const chosen = all.find((one) => one.audience === audience);
    return {
      ...{
        audience,
        studentId: shown?.studentId ?? null,
        name: chosen?.name ?? "",
        isThere: Boolean(chosen),
      },
      settings: settledFor(audience, chosen?.settings ?? audienceDefaults[audience]),
      hasOwn: all.some((one) => one.audience === "own"),
      audiences: all.map((one) => ({ audience: one.audience, words: audienceWords(one) })),
      students: students.map(({ studentId, name }) => ({ studentId, name })),
    };
  });
}

export const action = defineForm({
  permission: "school.edit",
  async run(scope, { form, typed, params, wrong }) {
    const audience = audienceIn((params as Route.ActionArgs["params"]).audience);
    if (audience === "own" && form.get("intent") === "remove") {
      await removeOwnAudience(scope);
      return redirect("/school/audiences/team");
    }
    const settings = readAudience(typed);
    const name = audience === "own" ? (typed["name"] ?? "").trim().slice(0, 40) : null;
    if (name === "") return wrong({ name: "Give the audience a name." });
    if (settings === null) return wrong({ form: "Choose one of each list." });
    if (settings.sections.length === 0) return wrong({ form: "Choose at least one section." });
    await saveSchoolAudience(scope, audience, settings, name);
    return redirect(`/school/audiences/${audience}`);
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

/** How reports read for each audience at this school, with a student's report beside it. */
export default function SchoolAudiences({ loaderData, actionData }: Route.ComponentProps) {
  const { audience, audiences: all, settings, name, studentId, students, hasOwn, isThere } = loaderData;
  const { busy, problems, typed } = useForm(actionData);
  const [search] = useSearchParams();
  const query = search.size > 0 ? `?${search.toString()}` : "";
  return (
    <>
      <PageTitle title="Who reads reports" className="sr-only" />
      <div className="mb-4 flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <nav aria-label="Audiences" className="flex flex-wrap gap-x-4">
          {[...all, ...(hasOwn ? [] : [{ audience: "own" as const, words: "" }])].map((one) => (
            <Link
              key={one.audience}
              className="page-tab"
              to={`/school/audiences/${one.audience}${query}`}
              aria-current={one.audience === audience ? "page" : undefined}
            >
              {one.words ? `For ${one.words}` : "Add an audience"}
            </Link>
          ))}
        </nav>
        {students.length > 0 ? (
          <Form className="ml-auto flex items-center gap-2" role="search" aria-label="Whose report is shown">
            <select
              className="select w-52"
              name="student"
              aria-label="Student"
              key={studentId}
              defaultValue={studentId ?? ""}
              onChange={({ target }) => target.form?.requestSubmit()}
            >
              {students.map((one) => (
                <option key={one.studentId} value={one.studentId}>
                  {one.name}
                </option>
              ))}
            </select>
            <noscript>
              <button className="btn btn-plain">Show</button>
            </noscript>
          </Form>
        ) : null}
      </div>
      <AudienceForm
        key={`${audience} ${studentId ?? ""} ${isThere}`}
        {...{ audience, settings, studentId, first: null, draft: `school-audience-${audience}` }}
        above={
          <>
            <p className="text-soft">
              For every student of the school. A case manager can change it for one student.
            </p>
            <FormProblem>{problems["form"]}</FormProblem>
            {audience === "own" ? (
              <Field
                label="Name of this audience"
                name="name"
                maxLength={40}
                defaultValue={typed?.["name"] ?? name}
                problem={problems["name"]}
                hint="As it follows “for”: the school board"
              />
            ) : null}
          </>
        }
        busy={busy}
        save="Save for the school"
        more={
          audience === "own" && hasOwn ? (
            <button className="btn btn-plain" name="intent" value="remove" disabled={busy}>
              Remove this audience
            </button>
          ) : null
        }
      />
    </>
  );
}
