import type { ChangeEvent } from "react";
import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { redirect } from "react-router";
import { defineForm } from "#app/kit/define-action.server.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { SaveBar } from "#app/kit/save-bar.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { type Line, type Rows, sameRow, useWrittenRows } from "#app/kit/use-written-rows.ts";
import { isDate } from "#core/dates/day-number.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import { contentTag } from "#server/db/content-tag.ts";
import { listStaff, saveStaff, type StaffMember } from "#server/db/staff.ts";
import { notFound } from "#server/errors.ts";
import { RegisterLine, RegisterLines } from "#app/ui/register-lines.tsx";
import { Field, FormProblem } from "#app/ui/field.tsx";
import { email, id, optionalDate, optionalText, type Problems, text } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { readRows, rowName, type TypedRow } from "#app/ui/typed-rows.ts";
import type { Route } from "./+types/staff";

type Sent = Route.ComponentProps["actionData"];

const staffRow = z.object({
  personId: z.pipe(
    z._default(z.union([id, z.literal("")]), ""),
    z.transform((given) => given || newId()),
  ),
  givenName: text(100, "What is the given name?"),
  familyName: text(100, "What is the family name?"),
  position: optionalText(100),
  email: z.union([z.literal(""), email]),
  caseManager: z._default(z.enum(["yes", ""]), ""),
  administrator: z._default(z.enum(["yes", ""]), ""),
  leftOn: optionalDate,
  seen: z._default(z.string(), ""),
});

const blank: TypedRow = {
  ...{ personId: "", givenName: "", familyName: "", position: "", email: "" },
  ...{ caseManager: "", administrator: "", leftOn: "", seen: "" },
};

/** A person as the register has them in a form. */
const rowOf = (one: StaffMember): TypedRow => ({
  personId: one.personId,
  givenName: one.givenName,
  familyName: one.familyName,
  position: one.position,
  email: one.email ?? "",
  caseManager: one.caseManager ? "yes" : "",
  administrator: one.role === "administrator" ? "yes" : "",
  leftOn: one.leftOn ?? "",
  seen: contentTag(one),
});

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "school.read", null, async (scope) => {
    const mayEdit = may(scope.actor, "staff.edit", { circleRole: null });
    const staff = await listStaff(scope);
    const { personId } = params;
    if (personId !== undefined && personId !== "new" && !staff.some((one) => one.personId === personId))
      notFound();
    return {
      // Those who may not edit see names and roles, and nothing that only an administrator needs.
      staff: mayEdit
        ? []
        : staff
            .filter(({ leftOn }) => leftOn === null)
            .map((one) => ({
              personId: one.personId,
              name: `${one.givenName} ${one.familyName}`,
              position: one.position,
              roles: rolesOf(rowOf(one)),
            })),
      rows: mayEdit ? staff.map(rowOf) : null,
    };
  });
}

type Read = z.output<typeof staffRow>;

/** What is wrong among the people as they shall stand: two of one address, or nobody who may set up the school. */
function togetherProblems(
  staff: readonly StaffMember[],
  changed: readonly { place: number; person: StaffMember }[],
): Problems {
  const problems: Problems = {};
  const next = staff.map(
    (one) => changed.find(({ person }) => person.personId === one.personId)?.person ?? one,
  );
  for (const { person } of changed)
    if (!staff.some(({ personId }) => personId === person.personId)) next.push(person);
  if (changed.length > 0 && !next.some(({ role, leftOn }) => role === "administrator" && leftOn === null)) {
    const by = changed.find(({ person }) =>
      staff.some(({ personId, role }) => personId === person.personId && role === "administrator"),
    );
    const message = "The school needs an administrator who works here.";
    problems[by ? rowName("person", by.place, "administrator") : "form"] = message;
  }
  for (const { place, person } of changed) {
    // An address that another person gives up with this save is theirs until then.
    const alike =
      person.email !== null &&
      [...staff, ...next].find(
        ({ personId, email: address }) => personId !== person.personId && address === person.email,
      );
    if (alike)
      problems[rowName("person", place, "email")] =
        `This is the address of ${alike.givenName} ${alike.familyName} already.`;
  }
  return problems;
}

const personOf = (row: Read): StaffMember => ({
  personId: row.personId,
  givenName: row.givenName,
  familyName: row.familyName,
  position: row.position ?? "",
  email: row.email || null,
  role: row.administrator === "yes" ? "administrator" : "staff",
  caseManager: row.caseManager === "yes",
  leftOn: row.leftOn,
});

export const action = defineForm({
  permission: "staff.edit",
  async run(scope, { typed, wrong }) {
    const { values, problems } = readRows(typed, "person", staffRow);
    const staff = await listStaff(scope);
    // Who is as they were when the page was opened was not touched, whatever another administrator did since.
    const changed = values
      .map(({ place, value }) => ({ place, seen: value.seen, person: personOf(value) }))
      .filter(({ seen, person }) => contentTag(person) !== seen);
    for (const { place, seen, person } of changed) {
      const now = staff.find(({ personId }) => personId === person.personId);
      if (now && contentTag(now) !== seen && contentTag(now) !== contentTag(person))
        problems[rowName("person", place, "givenName")] ??=
          "Another administrator changed this person in the meantime. Open Staff again in another tab and compare.";
    }
    if (Object.keys(problems).length === 0) Object.assign(problems, togetherProblems(staff, changed));
    if (Object.keys(problems).length > 0) return wrong(problems);
    for (const { person } of changed) await saveStaff(scope, person);
    return redirect("/school/staff");
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

function rolesOf(row: TypedRow): string {
  return [
    row["caseManager"] === "yes" && row["position"] !== "Case manager" && "carries a caseload",
    row["administrator"] === "yes" && "administrator",
    row["leftOn"] && isDate(row["leftOn"]) && `left on ${dateWithYear(row["leftOn"])}`,
  ]
    .filter(Boolean)
    .join(", ");
}

/** What the line of a person says, open or closed. */
function Head({ row }: { row: TypedRow }) {
  return (
    <>
      <b className="font-serif text-[1.05rem] font-semibold" dir="auto">
        {row["givenName"]} {row["familyName"]}
      </b>
      <span className="text-[0.9375rem]">{row["position"]}</span>
      <span className="ml-auto text-fine text-soft">{rolesOf(row)}</span>
    </>
  );
}

function Person({ line, at, rows, isOpen }: { line: Line; at: number; rows: Rows; isOpen: boolean }) {
  const { row, wrong } = line;
  const isNew = row["seen"] === "";
  const isBlank = rows.isBlank(row);
  const called = [row["givenName"], row["familyName"]].filter(Boolean).join(" ") || "new person";
  const set = (part: TypedRow) => rows.set(line.key, { personId: row["personId"] || newId(), ...part });
  const name = (field: string) => rowName("person", at, field);
  const field = (of: string) => ({
    name: name(of),
    value: row[of] ?? "",
    problem: wrong[of],
    onChange: ({ target }: ChangeEvent<HTMLInputElement>) => set({ [of]: target.value }),
  });
  const tick = (of: string, label: string) => (
    <div>
      <label className="flex min-h-9 items-center gap-2">
        <input
          type="checkbox"
          name={name(of)}
          value="yes"
          className="size-4.5 accent-primary"
          checked={row[of] === "yes"}
          aria-describedby={wrong[of] ? `${of}-${at}-says` : undefined}
          onChange={({ target }) => set({ [of]: target.checked ? "yes" : "" })}
        />
        {label}
      </label>
      {wrong[of] ? (
        <p id={`${of}-${at}-says`} className="text-fine font-bold text-error">
          {wrong[of]}
        </p>
      ) : null}
    </div>
  );
  return (
    <RegisterLine
      line={line}
      isOpen={isOpen}
      isChanged={!isBlank && !rows.from.some((one) => sameRow(one, row))}
      className={row["leftOn"] ? "text-soft" : ""}
      head={isBlank ? <span className="text-soft italic">Another person</span> : <Head row={row} />}
    >
      {() => (
        <div role="group" aria-label={called} className="grid gap-4">
          <input type="hidden" name={name("personId")} value={row["personId"]} />
          <input type="hidden" name={name("seen")} value={row["seen"]} />
          <div className="grid gap-3 sm:grid-cols-2">
            <Field label="Given name" {...field("givenName")} dir="auto" maxLength={100} />
            <Field label="Family name" {...field("familyName")} dir="auto" maxLength={100} />
            <Field label="Position" {...field("position")} dir="auto" maxLength={100} />
            <Field
              label="E-mail"
              {...field("email")}
              type="email"
              hint="The administrator of Gentle Margin opens the account for this address."
            />
          </div>
          <div>
            {tick("caseManager", "Carries a caseload (case manager)")}
            {tick("administrator", "Administrator: sets up the school and its staff")}
          </div>
          {isNew ? null : (
            <Field
              label="Left the school on"
              {...field("leftOn")}
              type="date"
              className="w-56"
              hint="The last day this person can sign in. Their records are not deleted."
            />
          )}
        </div>
      )}
    </RegisterLine>
  );
}

function Register({
  people,
  openId,
  sent,
}: {
  people: readonly TypedRow[];
  openId: string | undefined;
  sent: Sent;
}) {
  const { busy, problems, typed } = useForm(sent);
  return (
    <KeptForm draft="staff" method="post" className="max-w-4xl" noValidate>
      <FormProblem>{problems["form"]}</FormProblem>
      <People {...{ people, openId, problems, typed }} />
      <SaveBar busy={busy}>Save the staff</SaveBar>
    </KeptForm>
  );
}

function People({
  people,
  openId,
  ...came
}: { people: readonly TypedRow[]; openId: string | undefined } & Pick<
  ReturnType<typeof useForm>,
  "typed" | "problems"
>) {
  const rows = useWrittenRows("person", { rows: people, blank, ...came });
  return (
    <RegisterLines {...rows.around}>
      {rows.lines.map((line, at) => (
        <Person
          key={line.key}
          {...{ line, at, rows }}
          isOpen={openId !== undefined && line.row["personId"] === (openId === "new" ? "" : openId)}
        />
      ))}
    </RegisterLines>
  );
}

/** Who works at the school. An administrator changes people in their lines, and saves the register once. */
export default function Staff({ loaderData: { staff, rows }, actionData, params }: Route.ComponentProps) {
  return (
    <>
      <PageTitle title="Staff" className="sr-only" />
      <section aria-label="People of the school">
        {rows ? (
          <Register people={rows} openId={params.personId} sent={actionData} />
        ) : (
          <ul className="entry-lines max-w-4xl">
            {staff.map(({ personId, name, position, roles }) => (
              <li
                key={personId}
                className="flex flex-wrap items-baseline gap-x-3 border-b border-base-300 py-2"
              >
                <b className="font-serif text-[1.05rem] font-semibold" dir="auto">
                  {name}
                </b>
                <span className="text-[0.9375rem]">{position}</span>
                <span className="ml-auto text-fine text-soft">{roles}</span>
              </li>
            ))}
          </ul>
        )}
      </section>
    </>
  );
}
