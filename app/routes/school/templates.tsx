import { kindNames } from "#core/measures/kind-names.ts";
import { Form, Link } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { may } from "#server/access/table.ts";
import { listCircleRoles, listStudents } from "#server/db/students.ts";
import { findTemplate, listTemplates, type Template } from "#server/db/templates.ts";
import { criterionWords } from "#core/criteria/criterion-words.ts";
import { groupBy } from "#core/lists/group-by.ts";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { Field } from "#app/ui/field.tsx";
import { WithBlanks } from "#app/goal-set-up/with-blanks.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import type { Route } from "./+types/templates";

const fold = (text: string) => text.toLocaleLowerCase();

function toRow(template: Template, mayChange: boolean) {
  const { measure, criterion } = template.setUp;
  return {
    templateId: template.templateId,
    title: template.title,
    area: template.area || "Other",
    wording: template.wording,
    measured: [kindNames[measure.kind].name, criterion && criterionWords(criterion, measure)]
      .filter(Boolean)
      .join(", "),
    madeBy: template.madeBy,
    mayChange,
  };
}

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "template.read", null, async (scope) => {
    const search = new URL(request.url).searchParams;
    const asked = (search.get("q") ?? "").trim().slice(0, 100);
    const words = fold(asked).split(/\s+/).filter(Boolean);
    const students = await listStudents(scope);
    const roles = new Map(
      (
        await listCircleRoles(
          scope,
          students.map(({ studentId }) => studentId),
        )
      ).map(({ studentId, circleRole }) => [studentId, circleRole]),
    );
    const mine = students
      .filter(({ studentId }) => may(scope.actor, "goal.edit", { circleRole: roles.get(studentId) ?? null }))
      .map(({ studentId, name, calledName }) => ({ studentId, name, calledName }));
    const all = await listTemplates(scope);
    const rows = all
      .filter(({ title, area, wording }) => {
        const text = fold(`${title} ${area} ${wording}`);
        return words.every((word) => text.includes(word));
      })
      .map((template) =>
        toRow(
          template,
          may(scope.actor, "template.change", { circleRole: null, authorId: template.madeById }),
        ),
      );
    const removedId = search.get("removed");
    const removed = isId(removedId) ? await findTemplate(scope, removedId) : null;
    return {
      asked,
      inAll: all.length,
      areas: [...groupBy(rows, ({ area }) => area)],
      students: mine,
      target: mine.find(({ studentId }) => studentId === search.get("for")) ?? null,
      removed: removed?.removed ? { templateId: removed.templateId, title: removed.title } : null,
    };
  });
}

type LoaderData = Awaited<ReturnType<typeof loader>>;
type Row = LoaderData["areas"][number][1][number];

function TemplateRow({ row, students, target }: { row: Row } & Pick<LoaderData, "students" | "target">) {
  const use = (studentId: string) => `/students/${studentId}/goals/new?template=${row.templateId}`;
  return (
    <li className="border-t border-base-300 py-3">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h3 className="font-serif text-[1.05rem] font-semibold" dir="auto">
          {row.mayChange ? (
            <Link to={`/school/templates/${row.templateId}`} className="hover:underline">
              {row.title}
            </Link>
          ) : (
            row.title
          )}
        </h3>
        <span className="text-fine text-soft">{row.measured}</span>
        <span className="ml-auto text-fine text-soft">{row.madeBy}</span>
      </div>
      <p className="max-w-[46rem] font-serif leading-relaxed break-words" dir="auto">
        <WithBlanks text={row.wording} />
      </p>
      {target ? (
        <p className="mt-2">
          <Link to={use(target.studentId)} className="btn btn-plain btn-sm">
            Use it for {target.calledName}
          </Link>
        </p>
      ) : students.length > 0 ? (
        <details className="mt-1">
          <summary className="w-fit cursor-pointer py-1 text-fine font-bold text-soft hover:text-base-content">
            Use it for …<span className="sr-only"> {row.title}</span>
          </summary>
          <p className="mt-1 flex flex-wrap gap-2">
            {students.map(({ studentId, name }) => (
              <Link key={studentId} to={use(studentId)} className="btn btn-plain btn-sm" dir="auto">
                {name}
              </Link>
            ))}
          </p>
        </details>
      ) : null}
    </li>
  );
}

/** The school's library of goals with blanks. */
export default function Templates({ loaderData }: Route.ComponentProps) {
  const { areas, asked, inAll, students, target, removed } = loaderData;
  return (
    <>
      <PageTitle title="Goal templates" className="sr-only" />
      {removed ? (
        <Form
          method="post"
          action={`/school/templates/${removed.templateId}`}
          className="mb-4 flex flex-wrap items-center gap-3 rounded-lg bg-arrival px-4 py-2"
          role="status"
        >
          <span>“{removed.title}” is no longer in the library. Goals made from it stay.</span>
          <button className="btn btn-plain btn-sm" name="intent" value="restore">
            Take that back
          </button>
        </Form>
      ) : null}
      <div className="mb-4 flex flex-wrap items-end gap-3">
        {inAll > 0 ? (
          <Form method="get" className="flex items-end gap-2" role="search">
            {target ? <input type="hidden" name="for" value={target.studentId} /> : null}
            <Field label="Find a template" name="q" type="search" defaultValue={asked} maxLength={100} />
            <button className="btn btn-plain">Find</button>
          </Form>
        ) : null}
        <Link to="/school/templates/new" className="btn btn-plain ml-auto">
          New template
        </Link>
      </div>
      {target ? (
        <p className="mb-3">
          For a goal of <b>{target.name}</b>.{" "}
          <Link to={`/students/${target.studentId}/goals/new`} className="link">
            Without a template
          </Link>
        </p>
      ) : null}
      {inAll === 0 ? (
        <EmptyState title="No templates yet">
          <p>
            A template is a goal without a student: its wording with blanks such as {"{student}"} and{" "}
            {"{date}"}, and how it is measured. Everyone at the school may add one and use those of others.
          </p>
          <p>Write a new one, or keep a goal you have as a template: the link is at the end of its set-up.</p>
        </EmptyState>
      ) : areas.length === 0 ? (
        <EmptyState title={`Nothing about “${asked}”`}>
          <p>
            No template has all of these words in its title, area, and wording.{" "}
            <Link to={target ? `?for=${target.studentId}` : "."} className="link">
              Show all {inAll}
            </Link>
          </p>
        </EmptyState>
      ) : (
        areas.map(([area, rows]) => (
          <section key={area} aria-label={area} className="mb-5">
            <h2 className="mb-1 text-fine font-bold tracking-wide text-soft">{area}</h2>
            <ul className="border-b border-base-300">
              {rows.map((row) => (
                <TemplateRow key={row.templateId} row={row} students={students} target={target} />
              ))}
            </ul>
          </section>
        ))
      )}
    </>
  );
}
