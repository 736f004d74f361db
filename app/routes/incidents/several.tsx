import "#app/names/load-names.ts";
import { TimeInput } from "#app/ui/time-input.tsx";
import { defineForm, type Submitted } from "#app/kit/define-action.server.ts";
import { useForm } from "#app/kit/use-form.ts";
import { useState } from "react";
import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { data, Link, redirect } from "react-router";
import { emptyChosen, emptyDetails } from "#core/incidents/blank.ts";
import type { Choice, ChoiceList } from "#core/model/choice-lists.ts";
import type { ChosenChoices } from "#core/model/incident-content.ts";
import { authorize } from "#server/access/authorize.ts";
import { listChoices, offeredIn } from "#server/db/choices.ts";
import { readStarters } from "#server/db/incident-settings.ts";
import { saveIncident } from "#server/db/incidents.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { Field, FormProblem } from "#app/ui/field.tsx";
import { date, id, optionalText, type Problems, readForm, typedTime } from "#app/ui/form-data.ts";
import { readRows, rowName, rowsIn, type TypedRow } from "#app/ui/typed-rows.ts";
import { StudentTitle } from "#app/routes/student/student-title.tsx";
import { KeptForm } from "#app/kit/kept-form.tsx";
import type { Route } from "./+types/several";

const columns: readonly (readonly [list: ChoiceList, title: string, none: string])[] = [
  ["setting", "Where", "Not recorded"],
  ["antecedent", "Just before", "Not recorded"],
  ["behavior", "What was done", "nothing yet"],
  ["consequence", "Right after", "Not recorded"],
];
const emptyRows = 4;

const offeredTo = async (scope: PersonScope, studentId: string): Promise<Choice[]> => {
  const own = await listChoices(scope, studentId);
  const starters = await readStarters(scope);
  return columns.flatMap(([list]) => offeredIn(studentId, list, own, starters));
};

export function loader({ request, context, params }: Route.LoaderArgs) {
  const { studentId } = params;
  return authorize(request, context, "incident.record", studentId, async (scope) => ({
    choices: (await offeredTo(scope, studentId)).map(({ choiceId, list, name }) => ({
      choiceId,
      list,
      name,
    })),
    today: scope.today,
    ids: Array.from({ length: 40 }, () => newId()),
  }));
}

const choice = z._default(z.union([z.literal(""), id]), "");
const rowSchema = z.object({
  id,
  at: typedTime(null),
  setting: choice,
  antecedent: choice,
  behavior: z.string().check(z.minLength(1, "Say what the student did.")),
  consequence: choice,
  note: optionalText(2000),
});
const dayForm = z.object({ on: date });

/** A row says something once more than its id and its empty fields are there. */
const said = (row: TypedRow) => Object.entries(row).some(([field, value]) => field !== "id" && value !== "");

export const action = defineForm({
  permission: "incident.record",
  async run(scope, { params, form, typed, wrong }: Submitted<{ studentId: string }>) {
    const { studentId } = params;
    const day = readForm(form, dayForm);
    const rows = Object.fromEntries(
      rowsIn(typed, "row")
        .filter(({ row }) => said(row))
        .flatMap(({ index, row }) =>
          Object.entries(row).map(([field, value]) => [rowName("row", index, field), value]),
        ),
    );
    const read = readRows(rows, "row", rowSchema);
    const problems: Problems = { ...(day.ok ? {} : day.problems), ...read.problems };
    const today = scope.today;
    if (day.ok && day.values.on > today) problems["on"] = "This day is yet to come.";
    if (read.values.length === 0 && Object.keys(problems).length === 0)
      problems["form"] = "Fill in at least one row.";
    if (!day.ok || Object.keys(problems).length > 0)
      // Rows come back one after the other, as their problems are named.
      return data({ problems, typed: { on: typed["on"] ?? "", ...renumbered(rows) } }, { status: 422 });
    const offered = await offeredTo(scope, studentId);
    for (const { value } of read.values) {
      const chosen: ChosenChoices = emptyChosen();
      for (const [list] of columns) {
        const found = offered.find(
          (one) => one.list === list && one.choiceId === value[list as keyof typeof value],
        );
        if (found) chosen[list] = [{ choiceId: found.choiceId, name: found.name }];
      }
      if (chosen.behavior.length === 0)
        return wrong(
          { form: "A choice was removed from the lists in the meantime. Check the rows again." },
          409,
        );
      const outcome = await saveIncident(scope, studentId, {
        ...{ incidentId: value.id, chosen, details: emptyDetails, ongoing: false, observerId: null },
        note: value.note,
        time:
          value.at === "" ? { on: day.values.on, period: null } : { local: `${day.values.on}T${value.at}` },
      });
      if (outcome === "conflict")
        return wrong({ form: "One of these was saved before with other words. Open it from the list." }, 409);
    }
    return redirect(`/students/${studentId}/incidents`);
  },
});

/** The same rows, numbered one after the other. */
function renumbered(typed: Readonly<Record<string, string>>): Record<string, string> {
  return Object.fromEntries(
    rowsIn(typed, "row").flatMap(({ row }, index) =>
      Object.entries(row).map(([field, value]) => [rowName("row", index, field), value]),
    ),
  );
}

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

/** Several incidents of one day, a row each: for the end of a bad morning. */
export default function Several({ loaderData, actionData, params: { studentId } }: Route.ComponentProps) {
  const { choices, today, ids } = loaderData;
  const [more, setMore] = useState(0);
  const { busy, problems, typed } = useForm(actionData);
  const back = typed ? rowsIn(typed, "row").map(({ row }) => row) : [];
  const rows = Array.from(
    { length: Math.max(emptyRows, back.length + 1) + more },
    (_, at): TypedRow => back[at] ?? {},
  );
  return (
    <section aria-label="Several incidents" className="py-5">
      <StudentTitle title="Several incidents of one day" className="font-serif text-xl font-semibold" />
      <p className="mt-1 text-soft">
        A row each, in any order. Add more about each one on its own page afterwards.
      </p>
      <KeptForm
        draft="several"
        onMissing={() => setMore((before) => before + 1)}
        method="post"
        className="mt-3 grid gap-3"
        key={JSON.stringify(typed ?? {})}
        noValidate
      >
        <FormProblem>{problems["form"]}</FormProblem>
        <Field
          label="Day"
          type="date"
          name="on"
          max={today}
          className="w-44"
          defaultValue={typed?.["on"] ?? today}
          problem={problems["on"]}
        />
        <ol className="grid gap-3">
          {rows.map((row, index) => {
            const name = (field: string) => rowName("row", index, field);
            const wrong = [
              ...new Set(["at", "behavior", "note", "id"].flatMap((one) => problems[name(one)] ?? [])),
            ];
            const says = wrong.length > 0 ? `row-${index}-says` : undefined;
            return (
              <li key={row["id"] ?? ids[index] ?? index} className="border-t border-base-300 pt-2">
                <fieldset className="flex flex-wrap items-end gap-2">
                  <legend className="sr-only">Incident {index + 1}</legend>
                  <input type="hidden" name={name("id")} value={row["id"] ?? ids[index] ?? ""} />
                  <label>
                    <span className="block text-fine font-bold">Time</span>
                    <TimeInput
                      className="input w-32"
                      name={name("at")}
                      value={row["at"] ?? ""}
                      aria-invalid={problems[name("at")] ? true : undefined}
                      aria-describedby={says}
                    />
                  </label>
                  {columns.map(([list, title, none]) => (
                    <label key={list} className="min-w-0">
                      <span className="block text-fine font-bold">{title}</span>
                      <select
                        className="select w-[9.6rem]"
                        name={name(list)}
                        defaultValue={row[list] ?? ""}
                        aria-invalid={problems[name(list)] ? true : undefined}
                        aria-describedby={says}
                      >
                        <option value="">{none}</option>
                        {choices
                          .filter((one) => one.list === list)
                          .map((one) => (
                            <option key={one.choiceId} value={one.choiceId}>
                              {one.name}
                            </option>
                          ))}
                      </select>
                    </label>
                  ))}
                  <div className="w-full">
                    <label>
                      <span className="block text-fine font-bold">Note</span>
                      <input
                        className="input w-full"
                        name={name("note")}
                        maxLength={2000}
                        dir="auto"
                        defaultValue={row["note"] ?? ""}
                        aria-describedby={says}
                      />
                    </label>
                    <names-under about={studentId} />
                  </div>
                </fieldset>
                {wrong.length > 0 ? (
                  <p id={says} className="mt-1 text-fine font-bold text-error">
                    {wrong.join(" ")}
                  </p>
                ) : null}
              </li>
            );
          })}
        </ol>
        <p className="flex flex-wrap gap-3">
          <button className="btn btn-primary h-11" disabled={busy}>
            {busy ? "Saving …" : "Save them"}
          </button>
          {rows.length < ids.length ? (
            <button
              type="button"
              className="btn btn-plain with-scripts h-11"
              onClick={() => setMore(more + 1)}
            >
              Another row
            </button>
          ) : null}
          <Link className="btn btn-plain h-11" to={`/students/${studentId}/incidents`}>
            Not now
          </Link>
        </p>
      </KeptForm>
    </section>
  );
}
