import { defineIntents, intent, type Submitted } from "#app/kit/define-action.server.ts";
import { useForm } from "#app/kit/use-form.ts";
import { useState } from "react";
import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { Form, Link, redirect } from "react-router";
import { type Choice, type ChoiceList, choiceLists } from "#core/model/choice-lists.ts";
import { alsoAuthorize, authorize } from "#server/access/authorize.ts";
import { Invalid } from "#server/errors.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { copyLists, listChoices, offeredIn, replaceList, starterList } from "#server/db/choices.ts";
import { readStarters } from "#server/db/incident-settings.ts";
import { listStudentsFor } from "#server/db/students.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { FormProblem } from "#app/ui/field.tsx";
import { id, optionalText, readForm, text } from "#app/ui/form-data.ts";
import { readRows, rowName, rowsIn } from "#app/ui/typed-rows.ts";
import { StudentTitle } from "#app/routes/student/student-title.tsx";
import type { Route } from "./+types/choices";

const listed: Record<ChoiceList, { title: string; one: string; hint: string }> = {
  setting: { title: "Where", one: "place", hint: "One is chosen for an incident." },
  antecedent: { title: "Just before", one: "antecedent", hint: "What can be seen, not what is guessed." },
  behavior: {
    title: "Behavior",
    one: "behavior",
    hint: "Define exactly what counts, so that two people record the same.",
  },
  consequence: { title: "Right after", one: "consequence", hint: "What others did, and what followed." },
  "setting event": {
    title: "That day",
    one: "setting event",
    hint: "Conditions earlier in the day or before, such as little sleep.",
  },
};

const schoolLists = async (scope: PersonScope, studentId: string): Promise<Choice[]> => {
  const starters = await readStarters(scope);
  return choiceLists.flatMap((list) => starterList(studentId, list, starters));
};

export function loader({ request, context, params }: Route.LoaderArgs) {
  const { studentId } = params;
  return authorize(request, context, "choices.edit", studentId, async (scope) => {
    const own = await listChoices(scope, studentId);
    const starters = await readStarters(scope);
    return {
      lists: choiceLists.map((list) => ({
        list,
        rows: offeredIn(studentId, list, own, starters),
        isStarter: !own.some((one) => one.list === list && !one.once && !one.retired),
        retired: own.filter((one) => one.list === list && (one.retired || one.once)),
      })),
      others: (await listStudentsFor(scope, "choices.read"))
        .filter((student) => student.studentId !== studentId)
        .map((student) => ({ studentId: student.studentId, name: student.name })),
    };
  });
}

const rowSchema = z.object({
  choiceId: z.optional(z.union([id, z.literal("")])),
  name: text(100, "Give it words, or take the row out."),
  definition: optionalText(1000),
});
const listForm = z.object({ list: z.enum(choiceLists) });
/** Whose lists are copied: a student's, or what the school's lists begin with. */
const copyForm = z.object({ from: z.union([id, z.literal("school")]) });

type Sent = Submitted<{ studentId: string }>;

/** What is wrong within a list is a problem of the whole form. It is thrown again, which takes back what was written before it. */
async function forWholeForm(work: () => Promise<void>): Promise<void> {
  try {
    await work();
  } catch (error) {
    throw error instanceof Invalid ? new Invalid({ form: Object.values(error.problems).join(" ") }) : error;
  }
}

const copy = {
  async run(scope: PersonScope, submitted: Sent) {
    const read = readForm(submitted.form, copyForm);
    if (!read.ok) return submitted.wrong({ from: "Choose whose lists." });
    const { from } = read.values;
    const { studentId } = submitted.params;
    await forWholeForm(async () => {
      const copied =
        from === "school"
          ? await schoolLists(scope, studentId)
          : await listChoices(await alsoAuthorize(scope, "choices.read", from), from);
      await copyLists(scope, copied, studentId);
    });
    return redirect(`/students/${studentId}/choices`);
  },
};

const save = intent({
  schema: listForm,
  async run(scope, { list }, submitted: Sent) {
    const { studentId } = submitted.params;
    const { values, problems } = readRows(submitted.typed, "row", rowSchema);
    if (Object.keys(problems).length > 0) return submitted.wrong(problems);
    const rows = values.map(({ value: { choiceId, name, definition } }) => ({
      choiceId: choiceId || newId(),
      ...{ name, definition },
    }));
    await forWholeForm(async () => {
      await replaceList(scope, studentId, list, rows);
    });
    return redirect(`/students/${studentId}/choices#${list.replace(" ", "-")}`);
  },
});

export const action = defineIntents({
  permission: "choices.edit",
  intents: { copy, save },
  otherwise: "save",
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

interface Row {
  key: string;
  choiceId: string;
  name: string;
  definition: string;
}
const rowOf = ({ choiceId, name, definition }: Pick<Choice, "choiceId" | "name" | "definition">): Row => ({
  ...{ key: choiceId, choiceId, name },
  definition: definition ?? "",
});
let made = 0;
const blankRow = (): Row => ({ key: `new ${(made += 1)}`, choiceId: "", name: "", definition: "" });

function ListEditor({
  list,
  rows: there,
  isStarter,
  retired,
  typed,
  problems,
  busy,
}: {
  list: ChoiceList;
  rows: readonly Choice[];
  isStarter: boolean;
  retired: readonly Choice[];
  typed: Record<string, string> | undefined;
  problems: Record<string, string>;
  busy: boolean;
}) {
  const { title, one, hint } = listed[list];
  const [rows, setRows] = useState<readonly Row[]>(() =>
    typed
      ? rowsIn(typed, "row").map(({ row }) => ({
          ...blankRow(),
          choiceId: row["choiceId"] ?? "",
          name: row["name"] ?? "",
          definition: row["definition"] ?? "",
        }))
      : [...there.map(rowOf), { ...blankRow(), key: "new" }],
  );
  const set = (key: string, part: Partial<Row>) =>
    setRows(rows.map((row) => (row.key === key ? { ...row, ...part } : row)));
  const move = (at: number, by: 1 | -1) => {
    const next = [...rows];
    const [row] = next.splice(at, 1);
    if (row) next.splice(at + by, 0, row);
    setRows(next);
  };
  const back = retired.filter(({ choiceId }) => !rows.some((row) => row.choiceId === choiceId));
  return (
    <Form method="post" id={list.replace(" ", "-")} className="border-t border-base-300 py-5" noValidate>
      <h2 className="font-serif text-[1.15rem] font-semibold">{title}</h2>
      <p className="text-fine text-soft">
        {hint}
        {isStarter ? " Words to start from: change them, then save." : ""}
      </p>
      <input type="hidden" name="list" value={list} />
      {problems["form"] ? <FormProblem>{problems["form"]}</FormProblem> : null}
      <ol className="mt-2 grid gap-2">
        {rows.map((row, at) => (
          <li key={row.key} className="grid gap-1">
            <div className="flex flex-wrap items-start gap-2">
              <input type="hidden" name={rowName("row", at, "choiceId")} value={row.choiceId} />
              <input
                className="input w-72 max-sm:w-full"
                name={rowName("row", at, "name")}
                aria-label={`${one} ${at + 1}`}
                aria-invalid={problems[rowName("row", at, "name")] ? true : undefined}
                dir="auto"
                maxLength={100}
                placeholder={row.choiceId === "" ? `another ${one}` : undefined}
                value={row.name}
                onChange={({ target }) => set(row.key, { name: target.value })}
              />
              {list === "behavior" ? (
                <textarea
                  className="textarea field-sizing-content min-h-10 min-w-60 flex-1"
                  name={rowName("row", at, "definition")}
                  aria-label={`What counts as ${row.name || `${one} ${at + 1}`}`}
                  placeholder="what exactly counts"
                  rows={1}
                  dir="auto"
                  maxLength={1000}
                  value={row.definition}
                  onChange={({ target }) => set(row.key, { definition: target.value })}
                />
              ) : (
                <input type="hidden" name={rowName("row", at, "definition")} value={row.definition} />
              )}
              <span className="with-scripts flex">
                <button
                  type="button"
                  className="row-tool"
                  aria-label={`Move ${row.name || one} up`}
                  disabled={at === 0}
                  onClick={() => move(at, -1)}
                >
                  ↑
                </button>
                <button
                  type="button"
                  className="row-tool"
                  aria-label={`Move ${row.name || one} down`}
                  disabled={at === rows.length - 1}
                  onClick={() => move(at, 1)}
                >
                  ↓
                </button>
                <button
                  type="button"
                  className="row-tool"
                  aria-label={`Take ${row.name || one} out`}
                  title="Remove: earlier incidents do not change"
                  onClick={() => setRows(rows.filter(({ key }) => key !== row.key))}
                >
                  ×
                </button>
              </span>
            </div>
            {problems[rowName("row", at, "name")] ? (
              <p role="alert" className="text-fine font-bold text-error">
                {problems[rowName("row", at, "name")]}
              </p>
            ) : null}
          </li>
        ))}
      </ol>
      <div className="mt-2 flex flex-wrap gap-2">
        <button
          type="button"
          className="btn btn-plain with-scripts"
          onClick={() => setRows([...rows, blankRow()])}
        >
          Another {one}
        </button>
        <button className="btn btn-primary" disabled={busy}>
          Save this list
        </button>
      </div>
      {back.length > 0 ? (
        <details className="mt-2 text-fine text-soft">
          <summary className="min-h-8 cursor-pointer">
            Not offered any more, or words of one incident: {back.length}
          </summary>
          <ul className="mt-1 flex flex-wrap gap-2">
            {back.map((choice) => (
              <li key={choice.choiceId}>
                <button
                  type="button"
                  className="btn btn-plain btn-sm"
                  onClick={() => setRows([...rows.filter(({ name }) => name !== ""), rowOf(choice)])}
                >
                  {choice.name}: offer it again
                </button>
              </li>
            ))}
          </ul>
        </details>
      ) : null}
    </Form>
  );
}

/** What a student's incidents are made of: their own words, in their own order, with what counts as each behavior. */
export default function Choices({ loaderData, actionData, params }: Route.ComponentProps) {
  const { lists, others } = loaderData;
  const { busy, problems, typed } = useForm(actionData);
  return (
    <section aria-label="Choice lists" className="max-w-4xl py-5">
      <p className="text-fine text-soft">
        <Link className="link" to={`/students/${params.studentId}/incidents`}>
          Incidents
        </Link>
      </p>
      <StudentTitle title="Choice lists" className="mt-1 font-serif text-xl font-semibold" />
      <p className="mt-1 max-w-[44rem] text-soft">
        The choices for this student’s incidents. A new wording also changes earlier incidents; a removed
        choice does not leave them.
      </p>
      <Form method="post" className="mt-3 mb-4 flex flex-wrap items-end gap-2">
        <label className="grid gap-1 text-fine font-bold">
          Add the lists of
          <select className="select w-64 font-normal" name="from" defaultValue="">
            <option value="">choose</option>
            <option value="school">the school, to start with</option>
            {others.map(({ studentId, name }) => (
              <option key={studentId} value={studentId}>
                {name}
              </option>
            ))}
          </select>
        </label>
        <button className="btn btn-plain" name="intent" value="copy" disabled={busy}>
          Copy what is not here yet
        </button>
        {problems["from"] ? (
          <p role="alert" className="text-fine font-bold text-error">
            {problems["from"]}
          </p>
        ) : null}
      </Form>
      {lists.map(({ list, rows, isStarter, retired }) => {
        const mine = typed?.["list"] === list;
        return (
          <ListEditor
            // Keyed so that it is rebuilt after a save and after an error.
            key={`${list} ${rows.map((row) => `${row.choiceId}${row.name}${row.definition ?? ""}`).join()} ${mine ? JSON.stringify(typed) : ""}`}
            {...{ list, rows, isStarter, retired, busy }}
            typed={mine ? typed : undefined}
            problems={mine ? problems : {}}
          />
        );
      })}
    </section>
  );
}
