import { defineForm } from "#app/kit/define-action.server.ts";
import { useForm } from "#app/kit/use-form.ts";
import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { Link, redirect } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { notFound } from "#server/errors.ts";
import { may } from "#server/access/table.ts";
import { listGroups, retireGroup, saveGroup } from "#server/db/groups.ts";
import { listStudents } from "#server/db/students.ts";
import { meetingWords, slotsOf, weeklyRows } from "#core/schedule/timetable.ts";
import { plural } from "#core/words/numbers.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { Field, FormProblem } from "#app/ui/field.tsx";
import { id, readForm, text } from "#app/ui/form-data.ts";
import { RowsEditor } from "#app/ui/rows-editor.tsx";
import { readWeek, typedWeek } from "./weekly-rows.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { KeptForm } from "#app/kit/kept-form.tsx";
import type { Route } from "./+types/groups";

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "school.read", null, async (scope) => {
    const students = (await listStudents(scope)).map(({ studentId, name, initials }) => ({
      studentId,
      name,
      initials,
    }));
    const groups = (await listGroups(scope)).map((group) => ({ ...group, when: meetingWords(group.meets) }));
    const { groupId } = params;
    const open = groups.find((group) => group.groupId === groupId) ?? null;
    if (groupId !== undefined && groupId !== "new" && !open) notFound();
    const mayEdit = may(scope.actor, "school.edit", { circleRole: null });
    return {
      mayEdit,
      students,
      groups,
      open: mayEdit && groupId !== undefined ? open : null,
      editing: mayEdit && groupId !== undefined,
      newGroupId: newId(),
    };
  });
}

const groupForm = z.object({ groupId: id, name: text(60, "What is the group called?") });

export const action = defineForm({
  permission: "school.edit",
  async run(scope, { form, typed, wrong }) {
    const read = readForm(form, groupForm);
    if (read.ok && form.get("intent") === "retire") {
      const today = scope.today;
      await retireGroup(scope, read.values.groupId, today);
      return redirect("/school/groups");
    }
    const week = readWeek(typed, "meets", { named: false });
    const problems = { ...(read.ok ? {} : read.problems), ...week.problems };
    if (!read.ok || Object.keys(problems).length > 0) return wrong(problems);
    await saveGroup(scope, {
      ...read.values,
      meets: slotsOf(week.rows).map(({ weekday, startsAt, endsAt }) => ({ weekday, startsAt, endsAt })),
      studentIds: Object.keys(typed).flatMap((name) =>
        name.startsWith("member.") && id.safeParse(name.slice(7)).success ? [name.slice(7)] : [],
      ),
    });
    return redirect("/school/groups");
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

const fields = [
  { name: "days", label: "Weekdays", type: "weekdays" },
  { name: "startsAt", label: "From", type: "time", className: "w-30" },
  { name: "endsAt", label: "To", type: "time", className: "w-30" },
] as const;

export default function Groups({ loaderData, actionData, params }: Route.ComponentProps) {
  const { groups, students, mayEdit, open, editing, newGroupId } = loaderData;
  const { busy, problems, typed } = useForm(actionData);
  const initials = new Map(students.map((student) => [student.studentId, student]));
  return (
    <div className="grid gap-8 lg:grid-cols-[minmax(0,1fr)_minmax(0,1.2fr)]">
      <PageTitle title="Groups" className="sr-only" />
      <section aria-label="Groups that meet">
        {groups.length === 0 ? (
          <EmptyState title="No groups yet">
            <p>
              A group is a few students who meet at set times: a reading table, adapted PE, a lunch group.
              Data for all of them can then be taken together.
            </p>
          </EmptyState>
        ) : (
          <ul>
            {groups.map((group) => (
              <li key={group.groupId} className="border-b border-base-300 py-2 first:border-t">
                <p className="flex items-baseline gap-3">
                  {mayEdit ? (
                    <Link
                      to={`/school/groups/${group.groupId}`}
                      className="font-serif text-[1.05rem] font-semibold hover:underline"
                      aria-current={group.groupId === open?.groupId ? "true" : undefined}
                      dir="auto"
                    >
                      {group.name}
                    </Link>
                  ) : (
                    <b className="font-serif text-[1.05rem] font-semibold" dir="auto">
                      {group.name}
                    </b>
                  )}
                  <span className="text-fine text-soft">{group.when || "no set times"}</span>
                  {group.studentIds.length > 0 ? (
                    <Link className="link ml-auto text-fine" to={`/sheets?group=${group.groupId}`}>
                      Data sheets
                    </Link>
                  ) : null}
                </p>
                <p className="text-[0.9375rem]">
                  {group.studentIds.map((studentId) => initials.get(studentId)?.initials).join(" · ")}
                  {group.others > 0 ? (
                    <span className="text-soft">
                      {group.studentIds.length > 0 ? " and " : ""}
                      {group.others} {plural(group.others, "student")} in whose circle you are not
                    </span>
                  ) : group.studentIds.length === 0 ? (
                    <span className="text-soft">no members yet</span>
                  ) : null}
                </p>
              </li>
            ))}
          </ul>
        )}
        {mayEdit ? (
          <Link to="/school/groups/new" className="btn btn-plain mt-4">
            New group
          </Link>
        ) : null}
      </section>
      {editing ? (
        <KeptForm
          draft="group"
          method="post"
          className="grid content-start gap-5"
          noValidate
          key={params.groupId}
        >
          <FormProblem>{problems["form"]}</FormProblem>
          <input type="hidden" name="groupId" value={typed?.["groupId"] ?? open?.groupId ?? newGroupId} />
          <Field
            label="Group"
            name="name"
            dir="auto"
            maxLength={60}
            defaultValue={typed?.["name"] ?? open?.name ?? ""}
            problem={problems["name"]}
          />
          <RowsEditor
            prefix="meets"
            title="Meets"
            called="time"
            fields={fields}
            rows={typedWeek(weeklyRows((open?.meets ?? []).map((meeting) => ({ ...meeting, name: "" }))))}
            typed={typed}
            problems={problems}
          />
          <fieldset>
            <legend className="font-serif text-[1.15rem] font-semibold">Students</legend>
            {students.length === 0 ? (
              <p className="text-soft">
                You are in no student’s circle yet; case managers put their own students in.
              </p>
            ) : (
              <div className="mt-1 grid grid-cols-2 gap-x-4">
                {students.map(({ studentId, name }) => (
                  <label key={studentId} className="flex min-h-9 items-center gap-2">
                    <input
                      type="checkbox"
                      name={`member.${studentId}`}
                      className="size-4.5 accent-primary"
                      defaultChecked={
                        typed ? typed[`member.${studentId}`] === "on" : open?.studentIds.includes(studentId)
                      }
                    />
                    {name}
                  </label>
                ))}
              </div>
            )}
          </fieldset>
          <p className="flex flex-wrap gap-2">
            <button className="btn btn-primary h-11 px-6" disabled={busy}>
              {busy ? "Saving …" : "Save the group"}
            </button>
            {open ? (
              <button className="btn btn-plain h-11" name="intent" value="retire" disabled={busy}>
                This group no longer meets
              </button>
            ) : null}
          </p>
        </KeptForm>
      ) : null}
    </div>
  );
}
