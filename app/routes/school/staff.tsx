import { defineAction } from "#app/kit/define-action.server.ts";
import { useForm } from "#app/kit/use-form.ts";
import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { Link, redirect } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { Invalid, notFound } from "#server/errors.ts";
import { may } from "#server/access/table.ts";
import { listStaff, saveStaff } from "#server/db/staff.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { Field, FormProblem } from "#app/ui/field.tsx";
import { email, id, optionalDate, optionalText, text } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { KeptForm } from "#app/kit/kept-form.tsx";
import type { Route } from "./+types/staff";

const staffForm = z.object({
  personId: id,
  givenName: text(100, "What is the given name?"),
  familyName: text(100, "What is the family name?"),
  position: optionalText(100),
  email: z.union([z.literal(""), email]),
  caseManager: z.optional(z.literal("yes")),
  administrator: z.optional(z.literal("yes")),
  leftOn: optionalDate,
});

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "school.read", null, async (scope) => {
    const mayEdit = may(scope.actor, "staff.edit", { circleRole: null });
    const staff = await listStaff(scope);
    const { personId } = params;
    const open = staff.find((one) => one.personId === personId) ?? null;
    if (personId !== undefined && personId !== "new" && !open) notFound();
    return {
      mayEdit,
      // Those who may not edit see names and roles, and nothing that only an administrator needs.
      staff: staff
        .filter(({ leftOn }) => mayEdit || leftOn === null)
        .map((one) => ({
          personId: one.personId,
          name: `${one.givenName} ${one.familyName}`,
          position: one.position,
          caseManager: one.caseManager,
          administrator: one.role === "administrator",
          left: one.leftOn && dateWithYear(one.leftOn),
        })),
      open: mayEdit ? open : null,
      editing: mayEdit && personId !== undefined,
      newPersonId: newId(),
    };
  });
}

export const action = defineAction({
  permission: "staff.edit",
  schema: staffForm,
  async run(scope, values) {
    const { administrator, caseManager, email: address, position, ...content } = values;
    const staff = await listStaff(scope);
    const remains = staff.some(
      (one) => one.personId !== content.personId && one.role === "administrator" && one.leftOn === null,
    );
    if (!remains && (administrator !== "yes" || content.leftOn !== null))
      throw new Invalid({ administrator: "The school needs an administrator who works here." });
    const alike =
      address !== "" && staff.find((one) => one.personId !== content.personId && one.email === address);
    if (alike)
      throw new Invalid({
        email: `This is the address of ${alike.givenName} ${alike.familyName} already.`,
      });
    await saveStaff(scope, {
      ...content,
      position: position ?? "",
      email: address || null,
      role: administrator === "yes" ? "administrator" : "staff",
      caseManager: caseManager === "yes",
    });
    return redirect("/school/staff");
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

export default function Staff({ loaderData, actionData, params }: Route.ComponentProps) {
  const { staff, mayEdit, open, editing, newPersonId } = loaderData;
  const { busy, problems, typed, field } = useForm(actionData);
  const tick = (name: string, label: string, there: boolean | undefined) => (
    <div>
      <label className="flex min-h-9 items-center gap-2">
        <input
          type="checkbox"
          name={name}
          value="yes"
          className="size-4.5 accent-primary"
          defaultChecked={typed ? typed[name] === "yes" : there}
        />
        {label}
      </label>
      {problems[name] ? <p className="text-fine font-bold text-error">{problems[name]}</p> : null}
    </div>
  );
  return (
    <div className="grid gap-8 lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]">
      <PageTitle title="Staff" className="sr-only" />
      <section aria-label="People of the school">
        <ul>
          {staff.map((one) => (
            <li
              key={one.personId}
              className={`flex flex-wrap items-baseline gap-x-3 border-b border-base-300 py-1.5 first:border-t ${one.left ? "text-soft" : ""}`}
            >
              {mayEdit ? (
                <Link
                  to={`/school/staff/${one.personId}`}
                  className="font-serif text-[1.05rem] font-semibold hover:underline"
                  aria-current={one.personId === open?.personId ? "true" : undefined}
                  dir="auto"
                >
                  {one.name}
                </Link>
              ) : (
                <b className="font-serif text-[1.05rem] font-semibold" dir="auto">
                  {one.name}
                </b>
              )}
              <span className="text-[0.9375rem]">{one.position}</span>
              <span className="ml-auto text-fine text-soft">
                {[
                  one.caseManager && one.position !== "Case manager" && "carries a caseload",
                  one.administrator && "administrator",
                  one.left && `left on ${one.left}`,
                ]
                  .filter(Boolean)
                  .join(", ")}
              </span>
            </li>
          ))}
        </ul>
        {mayEdit ? (
          <Link to="/school/staff/new" className="btn btn-plain mt-4">
            New person
          </Link>
        ) : null}
      </section>
      {editing ? (
        <KeptForm
          draft="person"
          method="post"
          className="grid content-start gap-4"
          noValidate
          key={params.personId}
        >
          <FormProblem>{problems["form"]}</FormProblem>
          <input type="hidden" name="personId" value={typed?.["personId"] ?? open?.personId ?? newPersonId} />
          <div className="grid grid-cols-2 gap-3">
            <Field label="Given name" {...field("givenName", open?.givenName)} dir="auto" maxLength={100} />
            <Field
              label="Family name"
              {...field("familyName", open?.familyName)}
              dir="auto"
              maxLength={100}
            />
            <Field label="Position" {...field("position", open?.position)} maxLength={100} />
            <Field
              label="E-mail"
              {...field("email", open?.email)}
              type="email"
              hint="The administrator of Gentle Margin opens the account for this address."
            />
          </div>
          {tick("caseManager", "Carries a caseload (case manager)", open?.caseManager)}
          {tick(
            "administrator",
            "Administrator: sets up the school and its staff",
            open?.role === "administrator",
          )}
          {open ? (
            <Field
              label="Left the school on"
              {...field("leftOn", open.leftOn)}
              type="date"
              className="w-56"
              hint="The last day this person can sign in. Their records are not deleted."
            />
          ) : null}
          <button className="btn btn-primary h-11 w-fit px-6" disabled={busy}>
            {busy ? "Saving …" : "Save"}
          </button>
        </KeptForm>
      ) : null}
    </div>
  );
}
