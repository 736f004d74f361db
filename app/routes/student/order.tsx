import { defineForm, type Submitted } from "#app/kit/define-action.server.ts";
import { useState } from "react";
import { Form, Link, redirect, useNavigation } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { orderGoals } from "#server/db/goals.ts";
import { findStudent, listGoals } from "#server/db/students.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { FormProblem } from "#app/ui/field.tsx";
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

export const action = defineForm({
  permission: "goal.edit",
  async run(scope, { params, typed, wrong }: Submitted<{ studentId: string }>) {
    const ids = (typed["order"] ?? "").split(",").filter(isId);
    const numbers = ids.map((goalId) => ({ goalId, number: (typed[`number.${goalId}`] ?? "").trim() }));
    if (numbers.some(({ number }) => number.length < 1 || number.length > 12))
      return wrong({ form: "Each goal needs a number of 1 to 12 characters: 1, 2b." });
    await orderGoals(scope, params.studentId, numbers);
    return redirect(`/students/${params.studentId}`);
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

function moved<T>(list: readonly T[], from: number, to: number): T[] {
  const next = [...list];
  next.splice(to, 0, ...next.splice(from, 1));
  return next;
}

type OrderedGoal = Route.ComponentProps["loaderData"]["goals"][number];

function Row({
  goal,
  place,
  last,
  number,
  move,
}: {
  goal: OrderedGoal;
  place: number;
  last: boolean;
  number: string;
  move: (by: -1 | 1) => void;
}) {
  const { ref, isDragging, handle } = useSortableLine(goal.goalId, `${goal.number} ${goal.title}`);
  return (
    <li
      ref={ref}
      className={`grid grid-cols-[2.75rem_5rem_1fr_auto] items-center gap-3 border-b border-base-300 bg-base-100 py-1.5 ${isDragging ? "is-held bg-arrival" : ""}`}
    >
      {handle}
      <input
        className="input w-full text-center font-serif"
        name={`number.${goal.goalId}`}
        aria-label={`Number of ${goal.title}`}
        maxLength={12}
        defaultValue={number}
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
    </li>
  );
}

/** A student's goals in the order and with the numbers of the IEP page. */
export default function Order({ loaderData: { student, goals }, actionData, params }: Route.ComponentProps) {
  const busy = useNavigation().state !== "idle";
  const [order, setOrder] = useState(() => goals.map(({ goalId }) => goalId));
  const ready = useAwake();
  const byId = new Map(goals.map((goal) => [goal.goalId, goal]));
  const problems: Record<string, string> = actionData?.problems ?? {};
  const shift = (from: number, to: number) => setOrder((before) => moved(before, from, to));
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
      <Form method="post" className="max-w-3xl">
        <input type="hidden" name="order" value={order.join(",")} />
        <p className="with-scripts text-fine text-soft">
          Drag a goal by its handle, or focus the handle and use Space, the arrow keys, and Space again.
        </p>
        <Sortable id="order" ids={order} nameOf={(goalId) => byId.get(goalId)?.title ?? ""} onMove={shift}>
          <ol className="mt-2">
            {order.map((goalId, place) => {
              const goal = byId.get(goalId);
              return goal ? (
                <Row
                  key={goalId}
                  goal={goal}
                  place={place}
                  last={place === order.length - 1}
                  number={actionData?.typed?.[`number.${goalId}`] ?? goal.number}
                  move={(by) => shift(place, place + by)}
                />
              ) : null;
            })}
          </ol>
        </Sortable>
        <button className="btn btn-primary mt-4 h-11 px-6" disabled={busy || goals.length === 0}>
          {busy ? "Saving …" : "Save order and numbers"}
        </button>
      </Form>
    </main>
  );
}
