import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { data, Link, redirect } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { Invalid } from "#server/errors.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { addStudent, listCaseManagers, listStudents } from "#server/db/students.ts";
import { readNames } from "#core/model/read-names.ts";
import { plural } from "#core/words/numbers.ts";
import { defineIntents, intent, type Submitted } from "#app/kit/define-action.server.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { useForm } from "#app/kit/use-form.ts";
import { Field, FormProblem, Select, TextArea } from "#app/ui/field.tsx";
import { id, text } from "#app/ui/form-data.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { readRows, rowName, rowsIn } from "#app/ui/typed-rows.ts";
import { NobodyYet } from "./nobody-yet.tsx";
import type { Route } from "./+types/several-students";

const most = 200;
const short = (limit: number) =>
  z._default(z.string().check(z.trim(), z.maxLength(limit, `At most ${limit} characters.`)), "");
const rowSchema = z.object({
  studentId: id,
  given: text(100, "What is the student called? One name is enough."),
  family: short(100),
  grade: short(12),
});

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "student.add", null, async (scope) => {
    const managers = await listCaseManagers(scope);
    return {
      // A case manager adds students to her own caseload; an administrator chooses the case manager.
      managers: scope.actor.caseManager ? [] : managers,
      isNobodys: managers.length === 0,
    };
  });
}

const fold = (given: string, family: string) =>
  `${given} ${family}`.trim().replaceAll(/\s+/g, " ").toLocaleLowerCase();

/** The names of this person's students, to tell who is known. */
async function knownNames(scope: PersonScope): Promise<ReadonlySet<string>> {
  return new Set((await listStudents(scope)).map(({ givenName, familyName }) => fold(givenName, familyName)));
}

/** Shows what was read of the list, a row each; nothing is saved yet. */
const readList = intent({
  schema: z.object({
    names: z.string().check(z.maxLength(20_000, "This is too long for one list: at most 20,000 characters.")),
  }),
  async run(scope, { names }, { typed }: Submitted<object>) {
    const read = readNames(names);
    if (read.length === 0) throw new Invalid({ names: "Write or paste at least one name." });
    if (read.length > most)
      throw new Invalid({ names: `These are ${read.length} names; at most ${most} at once.` });
    const known = await knownNames(scope);
    const seen = new Set<string>();
    const rows = read.map(({ given, family, grade }, at): [string, string][] => {
      const name = fold(given, family);
      const is = known.has(name) ? "known" : seen.has(name) ? "twice" : "new";
      seen.add(name);
      const fields = { studentId: newId(), given, family, grade, is, ...(is === "new" ? { add: "on" } : {}) };
      return Object.entries(fields).map(([field, value]) => [rowName("row", at, field), value]);
    });
    const bare = Object.entries(typed).filter(([name]) => !name.startsWith("row."));
    return data({ problems: {}, typed: Object.fromEntries([...bare, ...rows.flat()]) });
  },
});

const addAll = intent({
  schema: z.object({ lead: z.optional(z.string()) }),
  async run(scope, { lead }, { typed }: Submitted<object>) {
    const chosen = Object.fromEntries(
      rowsIn(typed, "row")
        .filter(({ row }) => row["add"] === "on")
        .flatMap(({ index, row }) =>
          Object.entries(row).map(([field, value]) => [rowName("row", index, field), value]),
        ),
    );
    const { values, problems } = readRows(chosen, "row", rowSchema);
    if (Object.keys(problems).length > 0) {
      // Problems are counted among the chosen rows; the page shows all of them.
      const places = rowsIn(chosen, "row").map(({ index }) => index);
      throw new Invalid(
        Object.fromEntries(
          Object.entries(problems).map(([name, said]) => {
            const [start = "", place = "", field = ""] = name.split(".");
            return [rowName(start, places[Number(place)] ?? 0, field), said];
          }),
        ),
      );
    }
    if (values.length === 0) throw new Invalid({ form: "Tick at least one student." });
    const leadId = scope.actor.caseManager ? scope.actor.personId : lead;
    if (!(await listCaseManagers(scope)).some(({ personId }) => personId === leadId))
      throw new Invalid({ lead: "Whose caseload is it?" });
    const none = {
      preferredName: null,
      alias: null,
      initials: null,
      iepFrom: null,
      iepTo: null,
      leftOn: null,
    };
    for (const { value } of values)
      await addStudent(
        scope,
        value.studentId,
        { ...none, givenName: value.given, familyName: value.family, grade: value.grade },
        leadId ?? "",
      );
    return redirect(`/caseload?added=${values.length}`);
  },
});

export const action = defineIntents({
  permission: "student.add",
  intents: { read: readList, add: addAll },
  otherwise: "read",
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

const states: Readonly<Record<string, string>> = {
  known: "on your caseload already",
  twice: "twice in this list",
};

/** Several students at once, from a list of names: read first, looked over, then added. */
export default function SeveralStudents({
  loaderData: { managers, isNobodys },
  actionData,
}: Route.ComponentProps) {
  const { busy, problems, typed, field } = useForm(actionData);
  if (isNobodys) return <NobodyYet title="Several students" />;
  const rows = rowsIn(typed ?? {}, "row");
  const ticked = rows.filter(({ row }) => row["add"] === "on").length;
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <header className="mb-4 flex flex-wrap items-baseline gap-x-4 border-b border-base-300 pb-4">
        <PageTitle title="Several students" />
        <Link to="/caseload" className="btn btn-plain btn-sm ml-auto">
          Cancel
        </Link>
      </header>
      <KeptForm draft="several" method="post" className="grid max-w-3xl gap-4" noValidate>
        <FormProblem>{problems["form"]}</FormProblem>
        <TextArea
          label="Names, one per line"
          rows={8}
          dir="auto"
          placeholder={"Given Family, 3\nFamily, Given\nGiven"}
          hint="Pasted from a list or a table. A grade may follow. Nothing is saved before you have looked at what was read."
          {...field("names")}
        />
        <button
          className={`btn w-fit ${rows.length > 0 ? "btn-plain" : "btn-primary"}`}
          name="intent"
          value="read"
          disabled={busy}
        >
          {rows.length > 0 ? "Read the list again" : "Read the list"}
        </button>
        {rows.length > 0 ? (
          <fieldset key={JSON.stringify(rows.map(({ row }) => row["studentId"]))}>
            <legend className="font-serif text-[1.15rem] font-semibold">
              {rows.length} {plural(rows.length, "name")}, {ticked} new
            </legend>
            <ul className="mt-2">
              {rows.map(({ index, row }) => (
                <li
                  key={index}
                  className="grid grid-cols-[2.75rem_1fr_1fr_5rem] items-start gap-x-2 border-t border-base-300 py-1.5 max-sm:grid-cols-[2.75rem_1fr]"
                >
                  <input type="hidden" name={rowName("row", index, "studentId")} value={row["studentId"]} />
                  <input type="hidden" name={rowName("row", index, "is")} value={row["is"]} />
                  <label className="mt-5 grid size-11 cursor-pointer place-items-center max-sm:row-span-3">
                    <input
                      type="checkbox"
                      className="size-5 accent-primary"
                      name={rowName("row", index, "add")}
                      defaultChecked={row["add"] === "on"}
                      aria-label={`Add ${row["given"]} ${row["family"]}`}
                    />
                  </label>
                  {(
                    [
                      ["given", "Given name", 100],
                      ["family", "Family name", 100],
                      ["grade", "Grade", 12],
                    ] as const
                  ).map(([part, label, limit]) => (
                    <Field
                      key={part}
                      label={label}
                      name={rowName("row", index, part)}
                      maxLength={limit}
                      dir="auto"
                      defaultValue={row[part] ?? ""}
                      problem={problems[rowName("row", index, part)]}
                    />
                  ))}
                  {states[row["is"] ?? ""] ? (
                    <p className="col-span-3 col-start-2 text-fine font-bold max-sm:col-span-1">
                      {states[row["is"] ?? ""]}; tick it if this is another student of the same name
                    </p>
                  ) : null}
                </li>
              ))}
            </ul>
            {managers.length > 0 ? (
              <Select
                label="On the caseload of"
                {...field("lead", "")}
                className="mt-3 max-w-sm"
                options={[
                  ["", "Choose …"],
                  ...managers.map(({ personId, name }): [string, string] => [personId, name]),
                ]}
              />
            ) : null}
            <button className="btn btn-primary mt-4 h-11 px-6" name="intent" value="add" disabled={busy}>
              {busy ? "Adding …" : "Add those ticked"}
            </button>
          </fieldset>
        ) : null}
      </KeptForm>
    </main>
  );
}
