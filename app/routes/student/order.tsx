import { defineForm, type Submitted } from "#app/kit/define-action.server.ts";
import * as z from "zod/mini";
import { Link, redirect } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { orderGoals } from "#server/db/goals.ts";
import { findStudent, listGoals } from "#server/db/students.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { SaveBar } from "#app/kit/save-bar.tsx";
import { useForm } from "#app/kit/use-form.ts";
import { type Line, useWrittenRows } from "#app/kit/use-written-rows.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { FormProblem } from "#app/ui/field.tsx";
import { id, type Problems, text } from "#app/ui/form-data.ts";
import { say } from "#app/ui/say.ts";
import { readRows, rowName } from "#app/ui/typed-rows.ts";
import type { Route } from "./+types/order";
import { Sortable, useSortableLine } from "#app/ui/sortable.tsx";
import { useAwake } from "#app/ui/use-awake.ts";
import { PageTitle } from "#app/ui/page-title.tsx";

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "goal.edit", params.studentId, async (scope) => {
    const student = await findStudent(scope, params.studentId);
    const goals = await listGoals(scope, params.studentId);
    return {
      student: { name: student.name, initials: student.initials },
      goals: goals.map(({ goalId, number, title, parentId }) => ({
        goalId,
        number,
        title,
        under: parentId !== null,
      })),
    };
  });
}

const goalRow = z.object({ goalId: id, number: text(12, "Give it a number: 1, 2b.") });

export const action = defineForm({
  permission: "goal.edit",
  async run(scope, { params, typed, wrong }: Submitted<{ studentId: string }>) {
    const { values, problems } = readRows(typed, "goal", goalRow);
    if (Object.keys(problems).length > 0) return wrong(problems);
    await orderGoals(
      scope,
      params.studentId,
      values.map(({ value }) => value),
    );
    return redirect(`/students/${params.studentId}`);
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

type OrderedGoal = Route.ComponentProps["loaderData"]["goals"][number];

function Row({
  goal,
  line,
  place,
  last,
  set,
  move,
}: {
  goal: OrderedGoal;
  line: Line;
  place: number;
  last: boolean;
  set: (number: string) => void;
  move: (by: -1 | 1) => void;
}) {
  const { ref, isDragging, handle } = useSortableLine(line.key, `${goal.number} ${goal.title}`);
  const problem = line.wrong["number"] ?? line.wrong["goalId"];
  return (
    <li
      ref={ref}
      className={`border-b border-base-300 bg-base-100 py-1.5 ${isDragging ? "is-held bg-arrival" : ""}`}
    >
      <div className="grid grid-cols-[2.75rem_5rem_1fr_auto] items-center gap-3">
        {handle}
        <input type="hidden" name={rowName("goal", place, "goalId")} value={goal.goalId} />
        <input
          className="input w-full text-center font-serif"
          name={rowName("goal", place, "number")}
          aria-label={`Number of ${goal.title}`}
          aria-invalid={problem ? true : undefined}
          aria-describedby={problem ? `goal-${place}-says` : undefined}
          maxLength={12}
          value={line.row["number"] ?? ""}
          onChange={({ target }) => set(target.value)}
        />
        <span className={`min-w-0 truncate ${goal.under ? "pl-6 text-soft" : ""}`} dir="auto">
          {goal.title}
        </span>
        <span className="with-scripts flex gap-1">
          <button
            type="button"
            className="btn btn-plain btn-sm"
            disabled={place === 0}
            onClick={() => move(-1)}
            aria-label={`${goal.title} one up`}
          >
            ↑
          </button>
          <button
            type="button"
            className="btn btn-plain btn-sm"
            disabled={last}
            onClick={() => move(1)}
            aria-label={`${goal.title} one down`}
          >
            ↓
          </button>
        </span>
      </div>
      {problem ? (
        <p id={`goal-${place}-says`} className="text-fine font-bold text-error">
          {problem}
        </p>
      ) : null}
    </li>
  );
}

function Places({
  goals,
  typed,
  problems,
}: {
  goals: readonly OrderedGoal[];
  typed: Readonly<Record<string, string>> | undefined;
  problems: Problems;
}) {
  const rows = useWrittenRows("goal", {
    rows: goals.map(({ goalId, number }) => ({ goalId, number })),
    ...{ blank: null, typed, problems },
  });
  const { lines } = rows;
  const goalOf = (line: Line | undefined) => goals.find(({ goalId }) => goalId === line?.row["goalId"]);
  return (
    <Sortable
      id="order"
      ids={lines.map(({ key }) => key)}
      nameOf={(key) => goalOf(lines.find((line) => line.key === key))?.title ?? ""}
      onMove={rows.move}
    >
      <ol className="mt-2" {...rows.around}>
        {lines.map((line, place) => {
          const goal = goalOf(line);
          return goal ? (
            <Row
              key={line.key}
              {...{ goal, line, place }}
              last={place === lines.length - 1}
              set={(number) => rows.set(line.key, { number })}
              move={(by) => {
                rows.move(place, place + by);
                say(`${goal.title} is at place ${place + by + 1} of ${lines.length}`);
              }}
            />
          ) : null;
        })}
      </ol>
    </Sortable>
  );
}

/** A student's goals in the order and with the numbers of the IEP page. */
export default function Order({ loaderData: { student, goals }, actionData, params }: Route.ComponentProps) {
  const { busy, problems, typed } = useForm(actionData);
  const ready = useAwake();
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4" data-ready={ready || undefined}>
      <header className="mb-3 flex flex-wrap items-baseline gap-x-4">
        <PageTitle title="Order and numbers" of={student.initials} />
        <p className="text-fine text-soft" dir="auto">
          {student.name}, as on the IEP page
        </p>
        <Link to={`/students/${params.studentId}`} className="btn btn-plain btn-sm ml-auto">
          Cancel
        </Link>
      </header>
      <FormProblem>{problems["form"]}</FormProblem>
      <KeptForm draft="order" method="post" className="max-w-3xl" noValidate>
        <p className="with-scripts text-fine text-soft">
          Drag a goal by its handle, or focus the handle and use Space, the arrow keys, and Space again.
        </p>
        <Places {...{ goals, typed, problems }} />
        {goals.length > 0 ? <SaveBar busy={busy}>Save order and numbers</SaveBar> : null}
      </KeptForm>
    </main>
  );
}
