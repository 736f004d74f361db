import { defineForm, type Submitted } from "#app/kit/define-action.server.ts";
import { useForm } from "#app/kit/use-form.ts";
import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { Link, redirect } from "react-router";
import { type Choice, type ChoiceList, choiceLists, fieldOfList } from "#core/model/choice-lists.ts";
import { alsoAuthorize, authorize } from "#server/access/authorize.ts";
import { Invalid } from "#server/errors.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { copyLists, listChoices, offeredIn, replaceList, starterList } from "#server/db/choices.ts";
import { readStarters } from "#server/db/incident-settings.ts";
import { listStudentsFor } from "#server/db/students.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { SaveBar } from "#app/kit/save-bar.tsx";
import { FormProblem, Select } from "#app/ui/field.tsx";
import { id, optionalText, type Problems, readForm, text } from "#app/ui/form-data.ts";
import { addedSince, readRows, type TypedRow } from "#app/ui/typed-rows.ts";
import { WrittenList } from "#app/ui/written-list.tsx";
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

/** Behavior first, since its definitions take the most work; then what stands around it. */
const shown = ["behavior", "antecedent", "consequence", "setting", "setting event"] as const;
const rowOf = ({ choiceId, name, definition }: Pick<Choice, "choiceId" | "name" | "definition">) => ({
  ...{ choiceId, name },
  definition: definition ?? "",
});
const blank: TypedRow = { choiceId: "", name: "", definition: "" };

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
      lists: shown.map((list) => ({
        list,
        rows: offeredIn(studentId, list, own, starters).map(rowOf),
        isStarter: !own.some((one) => one.list === list && !one.once && !one.retired),
        retired: own.filter((one) => one.list === list && (one.retired || one.once)).map(rowOf),
      })),
      others: (await listStudentsFor(scope, "choices.read"))
        .filter((student) => student.studentId !== studentId)
        .map((student) => ({ studentId: student.studentId, name: student.name })),
    };
  });
}

const rowSchema = z.object({
  choiceId: z.optional(z.union([id, z.literal("")])),
  name: text(100, "Give it words, or take the line out."),
  definition: optionalText(1000),
});
/** Whose lists are copied: a student's, or what the school's lists begin with. */
const copyForm = z.object({ from: z.union([id, z.literal("school")]) });

type Sent = Submitted<{ studentId: string }>;

/** What is wrong within a list is said beside it. It is thrown again, which takes back what was written before it. */
async function besideItsList(work: () => Promise<void>): Promise<void> {
  try {
    await work();
  } catch (error) {
    if (!(error instanceof Invalid)) throw error;
    const problems = Object.entries(error.problems);
    throw new Invalid(
      Object.fromEntries(problems.map(([name, problem]) => [name.replace(" ", "-"), problem])),
    );
  }
}

/** Saves the lists that were changed: one that was left as it was offered goes on following the school's. */
async function saveLists(scope: PersonScope, { params: { studentId }, typed }: Sent): Promise<Problems> {
  const read = choiceLists.map((list) => ({ list, ...readRows(typed, fieldOfList(list), rowSchema) }));
  const problems: Problems = Object.fromEntries(read.flatMap((one) => Object.entries(one.problems)));
  if (Object.keys(problems).length > 0) return problems;
  const own = await listChoices(scope, studentId);
  const starters = await readStarters(scope);
  for (const { list, values } of read) {
    const sent = values.map(({ value: { choiceId, name, definition } }) => ({
      choiceId: choiceId || newId(),
      ...{ name, definition },
    }));
    const now = offeredIn(studentId, list, own, starters);
    const more = addedSince(
      ...([typed, fieldOfList(list), now, sent.map(({ choiceId }) => choiceId)] as const),
      ({ choiceId }) => choiceId,
    );
    const rows = [...sent, ...more];
    const isSame = JSON.stringify(rows.map(rowOf)) === JSON.stringify(now.map(rowOf));
    if (!isSame) await replaceList(scope, studentId, list, rows);
  }
  return {};
}

export const action = defineForm({
  permission: "choices.edit",
  async run(scope, submitted: Sent) {
    const { form, params, wrong } = submitted;
    const { studentId } = params;
    const isCopy = form.get("intent") === "copy";
    const read = readForm(form, copyForm);
    if (isCopy && !read.ok) return wrong({ from: "Choose whose lists." });
    let problems: Problems = {};
    await besideItsList(async () => {
      problems = await saveLists(scope, submitted);
      if (Object.keys(problems).length > 0 || !isCopy || !read.ok) return;
      const { from } = read.values;
      const copied =
        from === "school"
          ? await schoolLists(scope, studentId)
          : await listChoices(await alsoAuthorize(scope, "choices.read", from), from);
      await copyLists(scope, copied, studentId);
    });
    return Object.keys(problems).length > 0 ? wrong(problems) : redirect(`/students/${studentId}/choices`);
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
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
      <p className="mt-1 mb-4 max-w-[44rem] text-soft">
        The choices for this student’s incidents. A new wording also changes earlier incidents; a line taken
        out stays in them.
      </p>
      <KeptForm draft="lists" method="post" noValidate key={params.studentId}>
        <FormProblem>{problems["form"]}</FormProblem>
        <div className="grid gap-x-10 gap-y-7 sm:grid-cols-2">
          {lists.map(({ list, rows, isStarter, retired }) => {
            const { title, one, hint } = listed[list];
            const isBehavior = list === "behavior";
            return (
              <WrittenList
                key={list}
                prefix={fieldOfList(list)}
                identity="choiceId"
                className={isBehavior ? "sm:col-span-2" : ""}
                {...{ title, one, rows, blank, typed, problems }}
                hint={`${hint}${isStarter ? " Words to start from: change them, then save." : ""}`}
                beside={
                  isBehavior
                    ? (line, name, set) => (
                        <textarea
                          className="written beside"
                          name={name("definition")}
                          aria-label={`What counts as ${line.row["name"] || "it"}`}
                          placeholder="what exactly counts"
                          rows={1}
                          dir="auto"
                          maxLength={1000}
                          value={line.row["definition"] ?? ""}
                          onChange={({ target }) => set({ definition: target.value })}
                        />
                      )
                    : undefined
                }
              >
                {(append, shownLines) => (
                  <Retired
                    retired={retired.filter(
                      ({ choiceId }) => !shownLines.some(({ row }) => row["choiceId"] === choiceId),
                    )}
                    append={append}
                  />
                )}
              </WrittenList>
            );
          })}
        </div>
        <div className="mt-7 flex flex-wrap items-end gap-2">
          <Select
            label="Add the lists of"
            name="from"
            className="w-64 max-w-full"
            defaultValue=""
            problem={problems["from"]}
            options={[
              ["", "choose"],
              ["school", "the school, to start with"],
              ...others.map(({ studentId, name }) => [studentId, name] as const),
            ]}
          />
          <button
            className="btn btn-plain h-auto min-h-10 shrink py-1 whitespace-normal"
            name="intent"
            value="copy"
            disabled={busy}
          >
            Save, and copy what is not here yet
          </button>
        </div>
        <SaveBar busy={busy}>Save the lists</SaveBar>
      </KeptForm>
    </section>
  );
}

/** Choices that are no longer offered, or were words of one incident: they can be offered again. */
function Retired({
  retired,
  append,
}: {
  retired: readonly (TypedRow & { choiceId: string; name: string })[];
  append: (rows: readonly TypedRow[]) => void;
}) {
  if (retired.length === 0) return null;
  return (
    <details className="mt-2 text-fine text-soft">
      <summary className="min-h-8 cursor-pointer">
        Not offered any more, or words of one incident: {retired.length}
      </summary>
      <ul className="mt-1 flex flex-wrap gap-2">
        {retired.map((choice) => (
          <li key={choice.choiceId}>
            <button type="button" className="btn btn-plain btn-sm" onClick={() => append([choice])}>
              {choice.name}: offer it again
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}
