import { useState } from "react";
import * as z from "zod/mini";
import { Link, redirect } from "react-router";
import { listed } from "#core/words/lists.ts";
import { plural } from "#core/words/numbers.ts";
import { defineForm } from "#app/kit/define-action.server.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { SaveBar } from "#app/kit/save-bar.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { addToCircles, listCircles, listWorking } from "#server/db/circle.ts";
import { listGroupMembers } from "#server/db/groups.ts";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { FormProblem } from "#app/ui/field.tsx";
import { optionalDate, readForm } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { GivenPartFields } from "../circle/given-part.tsx";
import { PickPeople } from "../circle/pick-people.tsx";
import type { Route } from "./+types/circles";

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "circles.edit", null, async (scope) => {
    const students = await listCircles(scope);
    const mine = new Set(students.map(({ studentId }) => studentId));
    return {
      students,
      today: scope.today,
      people: await listWorking(scope),
      groups: (await listGroupMembers(scope)).flatMap(({ groupId, name, studentIds }) => {
        const own = studentIds.filter((studentId) => mine.has(studentId));
        return own.length > 0 ? { groupId, name, studentIds: own } : [];
      }),
    };
  });
}

const givenForm = z.looseObject({
  circleRole: z.enum(["lead", "record", "read"], "Choose what they may do."),
  fromOn: optionalDate,
  toOn: optionalDate,
});

export const action = defineForm({
  permission: "circles.edit",
  async run(scope, { form, wrong }) {
    const read = readForm(form, givenForm);
    const ids = (name: string) => form.getAll(name).filter(isId);
    const [personIds, studentIds] = [ids("personId"), ids("studentId")];
    const problems = {
      ...(read.ok ? {} : read.problems),
      ...(personIds.length === 0 ? { people: "Choose at least one person." } : {}),
      ...(studentIds.length === 0 ? { students: "Choose at least one student." } : {}),
    };
    if (!read.ok || Object.keys(problems).length > 0) return wrong(problems);
    const { circleRole, fromOn, toOn } = read.values;
    const from = fromOn ?? scope.today;
    if (toOn !== null && toOn < from) return wrong({ toOn: "The last day lies before the first." });
    const outcome = await addToCircles(scope, studentIds, personIds, { circleRole, fromOn: from, toOn });
    if (outcome === "needs a lead")
      return wrong(
        { form: "One of these students would have no lead without an end. Add another lead first." },
        409,
      );
    if (outcome === "not theirs to change")
      return wrong({
        students: "You may change the circles of these students no longer. Open the page again.",
      });
    if (outcome !== "saved") return wrong({ people: "Choose people who work at the school now." });
    return redirect("/school/circles");
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

type LoaderData = Route.ComponentProps["loaderData"];

/** The students to be ticked, one by one or a group at once, each with who is in the circle now. */
function PickStudents({
  students,
  groups,
  problem,
}: Pick<LoaderData, "students" | "groups"> & { problem: string | undefined }) {
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set());
  const set = (studentIds: readonly string[], isIn: boolean) => {
    const next = new Set(ticked);
    for (const studentId of studentIds)
      if (isIn) next.add(studentId);
      else next.delete(studentId);
    setTicked(next);
  };
  return (
    <fieldset aria-describedby={problem ? "students-says" : undefined}>
      <legend className="text-fine font-bold">Students</legend>
      {groups.length > 0 ? (
        <p className="with-scripts mt-1 flex flex-wrap gap-x-4 gap-y-1">
          {groups.map(({ groupId, name, studentIds }) => {
            const isIn = studentIds.every((studentId) => ticked.has(studentId));
            return (
              <label key={groupId} className="flex min-h-8 cursor-pointer items-center gap-2 text-fine">
                <input
                  type="checkbox"
                  className="size-4.5 accent-primary"
                  checked={isIn}
                  onChange={() => set(studentIds, !isIn)}
                />
                <span dir="auto">all of {name}</span>
              </label>
            );
          })}
        </p>
      ) : null}
      <ul className="mt-1">
        {students.map(({ studentId, name, leads, others }) => (
          <li key={studentId} className="flex flex-wrap items-center gap-x-3 border-b border-base-300">
            <label className="flex min-h-10 cursor-pointer items-center gap-2">
              <input
                type="checkbox"
                name="studentId"
                value={studentId}
                className="size-4.5 accent-primary"
                checked={ticked.has(studentId)}
                aria-invalid={problem ? true : undefined}
                onChange={() => set([studentId], !ticked.has(studentId))}
              />
              <b className="font-serif text-[1.05rem] font-semibold" dir="auto">
                {name}
              </b>
            </label>
            <span className={leads.length === 0 ? "text-fine font-bold text-error" : "text-fine text-soft"}>
              {leads.length === 0 ? "no lead" : `${plural(leads.length, "lead")}: ${listed(leads)}`}
              {others > 0 ? ` and ${others} ${plural(others, "other")}` : ""}
            </span>
            <Link className="link ml-auto text-fine" to={`/students/${studentId}/circle`}>
              Circle<span className="sr-only"> of {name}</span>
            </Link>
          </li>
        ))}
      </ul>
      {problem ? (
        <p id="students-says" className="mt-1 text-fine font-bold text-error">
          {problem}
        </p>
      ) : null}
    </fieldset>
  );
}

/** Who is around which student, and people brought into several circles at once. */
export default function Circles({
  loaderData: { students, people, groups, today },
  actionData,
}: Route.ComponentProps) {
  const { busy, problems, typed } = useForm(actionData);
  return (
    <>
      <PageTitle title="Circles" className="sr-only" />
      {students.length === 0 ? (
        <EmptyState title="No circles to change">
          <p>You can change the circles of the students whom you lead.</p>
        </EmptyState>
      ) : (
        <KeptForm draft="circles" method="post" noValidate>
          <p className="mb-2 max-w-[46rem] text-[0.9375rem] text-soft">
            Only who is in a student’s circle sees the student. Tick students, choose people, and add them to
            all of these circles at once. A person who is in one already gets the part that is chosen here.
          </p>
          <FormProblem>{problems["form"]}</FormProblem>
          <div className="grid grid-cols-1 gap-x-10 gap-y-6 lg:grid-cols-[minmax(0,1fr)_20rem]">
            <PickStudents {...{ students, groups }} problem={problems["students"]} />
            <div className="grid content-start gap-3">
              <PickPeople people={people} problem={problems["people"]} />
              <GivenPartFields {...{ today, typed, problems }} />
            </div>
          </div>
          <SaveBar busy={busy}>Add to these circles</SaveBar>
        </KeptForm>
      )}
    </>
  );
}
