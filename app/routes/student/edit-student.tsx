import { defineIntents, intent, type Submitted } from "#app/kit/define-action.server.ts";
import { useForm } from "#app/kit/use-form.ts";
import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { Form, Link, redirect } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { Invalid, notFound } from "#server/errors.ts";
import type { PersonScope } from "#server/access/scope.ts";
import {
  addStudent,
  changeStudent,
  findStudent,
  listAbsences,
  listCaseManagers,
  listStudents,
  markAbsence,
} from "#server/db/students.ts";
import { listGroups, saveMemberships } from "#server/db/groups.ts";
import { meetingWords } from "#core/schedule/timetable.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { Field, FormProblem, Select } from "#app/ui/field.tsx";
import { date, id, optionalDate, optionalText, text } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { NobodyYet } from "./nobody-yet.tsx";
import type { Route } from "./+types/edit-student";

const studentForm = z.object({
  studentId: id,
  givenName: text(100, "What is the student called? One name is enough."),
  familyName: z._default(z.string().check(z.trim(), z.maxLength(100, "At most 100 characters.")), ""),
  preferredName: optionalText(100),
  alias: optionalText(24),
  initials: optionalText(12),
  grade: z._default(z.string().check(z.trim(), z.maxLength(12, "At most 12 characters.")), ""),
  iepFrom: optionalDate,
  iepTo: optionalDate,
  leftOn: optionalDate,
  lead: z.optional(z.string()),
  another: z.optional(z.string()),
});
const absenceForm = z.object({
  on: date,
  intent: z.enum(["absent", "present"]),
});

export function loader({ request, context, params }: Route.LoaderArgs) {
  const { studentId } = params;
  if (studentId === undefined)
    return authorize(request, context, "student.add", null, async (scope) => {
      const managers = await listCaseManagers(scope);
      return {
        student: null,
        newStudentId: newId(),
        alike: null,
        today: scope.today,
        absences: [],
        groups: [],
        // A case manager adds students to her own caseload; an administrator chooses the case manager.
        managers: scope.actor.caseManager ? [] : managers,
        isNobodys: managers.length === 0,
      };
    });
  return authorize(request, context, "student.edit", studentId, async (scope) => ({
    student: await findStudent(scope, studentId),
    newStudentId: studentId,
    alike: await sameInitials(scope, studentId),
    today: scope.today,
    groups: (await listGroups(scope)).map(({ groupId, name, meets, studentIds }) => ({
      groupId,
      name,
      when: meetingWords(meets),
      member: studentIds.includes(studentId),
    })),
    absences: (await listAbsences(scope, studentId)).map((on) => ({ on, said: dateWithYear(on) })),
    managers: [],
    isNobodys: false,
  }));
}

/** Whoever of the person's students has the same initials as this one. */
async function sameInitials(scope: PersonScope, studentId: string): Promise<string | null> {
  const students = await listStudents(scope);
  const mine = students.find((one) => one.studentId === studentId)?.initials;
  return students.find((one) => one.studentId !== studentId && one.initials === mine)?.name ?? null;
}

function initialsHint(student: { initials: string } | null, alike: string | null): string {
  if (alike) return `${alike} has ${student?.initials} too: other initials tell them apart.`;
  return "Leave blank to use initials.";
}

const fold = (name: string) => name.trim().toLocaleLowerCase();

interface StudentParams {
  studentId?: string;
}
type Sent = Submitted<StudentParams>;

const saveAbsence = intent({
  schema: absenceForm,
  permission: "absence.mark",
  async run(scope, { on, intent: wanted }, { params }: Sent) {
    const studentId = params.studentId ?? notFound();
    await markAbsence(scope, studentId, on, wanted === "absent");
    return redirect(`/students/${studentId}/edit#absences`);
  },
});

const saveStudent = intent({
  schema: studentForm,
  async run(scope, values, { params: { studentId }, typed }: Sent) {
    const { studentId: newStudentId, lead, another, ...content } = values;
    if (content.iepFrom && content.iepTo && content.iepTo <= content.iepFrom)
      throw new Invalid({ iepTo: "The IEP ends before it begins." });
    if (studentId !== undefined) {
      await changeStudent(scope, studentId, content);
      const groups = Object.keys(typed).flatMap((name) =>
        name.startsWith("group.") && id.safeParse(name.slice(6)).success ? [name.slice(6)] : [],
      );
      await saveMemberships(scope, studentId, groups);
      return redirect(`/students/${studentId}`);
    }
    const alike = (await listStudents(scope)).find(
      (one) =>
        one.studentId !== newStudentId &&
        fold(one.givenName) === fold(content.givenName) &&
        fold(one.familyName) === fold(content.familyName),
    );
    if (alike && another !== "yes")
      throw new Invalid({
        another: `${alike.name} is on your caseload already. If this is another student, please say so.`,
      });
    const managers = await listCaseManagers(scope);
    const leadId = scope.actor.caseManager ? scope.actor.personId : lead;
    if (!leadId || !managers.some(({ personId }) => personId === leadId))
      throw new Invalid({ lead: "Whose caseload is it?" });
    await addStudent(scope, newStudentId, content, leadId);
    return redirect(leadId === scope.actor.personId ? `/students/${newStudentId}` : "/caseload");
  },
});

export const action = defineIntents({
  permission: ({ params }: Sent) => (params.studentId === undefined ? "student.add" : "student.edit"),
  intents: { absent: saveAbsence, present: saveAbsence, save: saveStudent },
  otherwise: "save",
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

export default function EditStudent({ loaderData, actionData }: Route.ComponentProps) {
  const { student, newStudentId, alike, absences, groups, managers, isNobodys, today } = loaderData;
  const { busy, problems, typed, field } = useForm(actionData);
  if (isNobodys) return <NobodyYet title="New student" />;
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <header className="mb-4 flex flex-wrap items-baseline gap-x-4 border-b border-base-300 pb-4">
        {student ? (
          <PageTitle title="Details" of={student.initials}>
            {student.name}
          </PageTitle>
        ) : (
          <PageTitle title="New student" />
        )}
        <Link
          to={student ? `/students/${student.studentId}` : "/caseload"}
          className="btn btn-plain btn-sm ml-auto"
        >
          Cancel
        </Link>
      </header>
      <FormProblem>{problems["form"]}</FormProblem>
      <KeptForm draft="student" method="post" className="grid max-w-2xl gap-4" noValidate>
        <input type="hidden" name="studentId" value={newStudentId} />
        <div className="grid grid-cols-2 gap-3 max-sm:grid-cols-1">
          <Field label="Given name" {...field("givenName", student?.givenName)} dir="auto" maxLength={100} />
          <Field
            label="Family name"
            {...field("familyName", student?.familyName)}
            dir="auto"
            maxLength={100}
            hint="Optional."
          />
          <Field
            label="Preferred name"
            {...field("preferredName", student?.preferredName)}
            dir="auto"
            maxLength={100}
            hint="Used in the report instead of the given name."
          />
          <Field
            label="Alias on recording screens"
            {...field("alias", student?.alias)}
            dir="auto"
            maxLength={24}
            hint="Others can see those screens. Without an alias they show initials."
          />
        </div>
        <div className="grid grid-cols-4 gap-3 max-sm:grid-cols-1">
          <Field
            label="Initials"
            {...field("initials", student?.ownInitials)}
            dir="auto"
            maxLength={12}
            hint={initialsHint(student, alike)}
          />
          <Field label="Grade" {...field("grade", student?.grade)} maxLength={12} />
          <Field label="IEP from" {...field("iepFrom", student?.iepFrom)} type="date" />
          <Field label="IEP to" {...field("iepTo", student?.iepTo)} type="date" />
        </div>
        {managers.length > 0 ? (
          <Select
            label="On the caseload of"
            {...field("lead", "")}
            className="max-w-sm"
            options={[
              ["", "Choose …"],
              ...managers.map(({ personId, name }): [string, string] => [personId, name]),
            ]}
          />
        ) : null}
        {student ? (
          <Field
            label="Left the school on"
            {...field("leftOn", student.leftOn)}
            type="date"
            className="w-56"
            hint="The records are not deleted; the student leaves the caseload."
          />
        ) : null}
        {groups.length > 0 ? (
          <fieldset>
            <legend className="text-fine font-bold">Groups</legend>
            <div className="grid grid-cols-2 gap-x-4 max-sm:grid-cols-1">
              {groups.map(({ groupId, name, when, member }) => (
                <label key={groupId} className="flex min-h-9 items-center gap-2">
                  <input
                    type="checkbox"
                    name={`group.${groupId}`}
                    className="size-4.5 accent-primary"
                    defaultChecked={typed ? typed[`group.${groupId}`] === "on" : member}
                  />
                  <span dir="auto">{name}</span>
                  <span className="text-fine text-soft">{when}</span>
                </label>
              ))}
            </div>
          </fieldset>
        ) : null}
        {problems["another"] ? (
          <div role="alert" className="rounded-lg border border-warning px-4 py-2">
            <p className="font-bold text-warning">{problems["another"]}</p>
            <label className="flex min-h-8 items-center gap-2">
              <input type="checkbox" name="another" value="yes" className="size-4.5 accent-primary" />
              This is another student of the same name
            </label>
          </div>
        ) : null}
        <button className="btn btn-primary h-11 w-fit px-6" disabled={busy}>
          {busy ? "Saving …" : student ? "Save" : "Add the student"}
        </button>
      </KeptForm>
      {student ? (
        <section id="absences" aria-label="Absences" className="mt-8 max-w-2xl border-t border-base-300 pt-4">
          <h2 className="font-serif text-[1.15rem] font-semibold">Absences</h2>
          <p className="text-fine text-soft">Days absent do not count as observed in rates and due dates.</p>
          <Form method="post" className="mt-3 flex flex-wrap items-start gap-3" noValidate>
            <Field label="Absent on" name="on" type="date" defaultValue={today} problem={problems["on"]} />
            <button className="btn btn-plain mt-6" name="intent" value="absent" disabled={busy}>
              Note it
            </button>
          </Form>
          {absences.length === 0 ? (
            <p className="mt-3 text-soft">None noted.</p>
          ) : (
            <ul className="mt-3 grid gap-1">
              {absences.map(({ on, said }) => (
                <li key={on}>
                  <Form method="post" className="flex items-center gap-4 border-b border-base-300 py-1">
                    <input type="hidden" name="on" value={on} />
                    <span className="w-32">{said}</span>
                    <button className="link min-h-8 text-fine" name="intent" value="present">
                      was present after all
                    </button>
                  </Form>
                </li>
              ))}
            </ul>
          )}
        </section>
      ) : null}
    </main>
  );
}
