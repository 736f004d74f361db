import * as z from "zod/mini";
import { Form, Link, redirect } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { decideHeldItem, type HeldItem, listHeldItems } from "#server/db/held-items.ts";
import { findStudent, listGoals } from "#server/db/students.ts";
import { Invalid, notFound } from "#server/errors.ts";
import { type Measure, readEntry } from "#core/measures/measure.ts";
import { entryLine, notMeasuredLine } from "#core/report/entry-line.ts";
import { plural } from "#core/words/numbers.ts";
import { defineIntents, intent, type Submitted } from "#app/kit/define-action.server.ts";
import { useForm } from "#app/kit/use-form.ts";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { FormProblem } from "#app/ui/field.tsx";
import { id } from "#app/ui/form-data.ts";
import { momentWords } from "#app/ui/moment-words.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { keepReady, madeReady } from "../recording/keep-item.server.ts";
import type { Route } from "./+types/held";

/** What an item says, as its line of the report will. */
function wordsOf(
  { item }: HeldItem,
  goals: ReadonlyMap<string, { title: string; measure: Measure }>,
): string {
  const goal = "goalId" in item ? goals.get(item.goalId) : undefined;
  const title = goal?.title ?? "A goal that is there no longer";
  const note = "note" in item ? (item.note?.trim() ?? "") : "";
  const sentence = () => {
    switch (item.kind) {
      case "entry":
      case "second": {
        const read = goal && readEntry(goal.measure, item.entry);
        return goal && read?.ok
          ? entryLine(title, { ...read, measure: goal.measure }, null).sentence
          : `${title}.`;
      }
      case "not measured":
        return notMeasuredLine(title, item.reason, null).sentence;
      case "incident":
        return "An incident.";
      case "jot":
        return "A jot.";
      case "picture":
        return "A picture of a jot.";
      case "absent":
        return "Absent.";
      case "watched":
        return "A day for incidents.";
      default:
        return `${title}: all-day tally.`;
    }
  };
  return [sentence(), note].filter(Boolean).join(" ");
}

export function loader({ request, context, params: { studentId } }: Route.LoaderArgs) {
  return authorize(request, context, "held.decide", studentId, async (scope) => {
    const student = await findStudent(scope, studentId);
    const goals = new Map((await listGoals(scope, studentId)).map((goal) => [goal.goalId, goal]));
    return {
      student: { studentId, name: student.name, initials: student.initials },
      items: (await listHeldItems(scope, studentId)).map((held) => ({
        ...{ itemId: held.itemId, by: held.by, observedAt: held.observedAt, receivedAt: held.receivedAt },
        words: wordsOf(held, goals),
      })),
    };
  });
}

/** Saves an item as its person's own, as it would have been saved in time. Answers why not, or null. */
async function accept(scope: PersonScope, studentId: string, held: HeldItem): Promise<string | null> {
  const theirs: PersonScope = { ...scope, actor: held.person, circleRole: "record" };
  const { item, person } = held;
  const observer = "observer" in item ? item.observer : undefined;
  const at = new Date(held.at);
  const ready = await madeReady(item, scope.schoolId);
  const observerId = observer && observer.personId !== person.personId ? observer.personId : null;
  const answer = await keepReady(theirs, ready, at, observerId);
  if (answer.outcome === "refused") return answer.why;
  if (answer.outcome === "not allowed") return "The goal is there no longer.";
  await decideHeldItem(scope, studentId, held.itemId, "accepted");
  return null;
}

type Params = Submitted<{ studentId: string }>;
const one = z.object({ itemId: id });

const accepting = intent({
  schema: z.object({ itemId: z.union([id, z.literal("all")]) }),
  async run(scope, { itemId }, { params: { studentId } }: Params) {
    const waiting = await listHeldItems(scope, studentId);
    const chosen = itemId === "all" ? waiting : waiting.filter((held) => held.itemId === itemId);
    if (chosen.length === 0) notFound();
    for (const held of chosen) {
      const why = await accept(scope, studentId, held);
      if (why !== null) throw new Invalid({ form: `Not accepted, of ${held.by}: ${why}` });
    }
    return redirect(`/students/${studentId}/held`);
  },
});

const leavingOut = intent({
  schema: one,
  async run(scope, { itemId }, { params: { studentId } }: Params) {
    await decideHeldItem(scope, studentId, itemId, "left out");
    return redirect(`/students/${studentId}/held`);
  },
});

export const action = defineIntents({
  permission: "held.decide",
  intents: { accept: accepting, "leave out": leavingOut },
});

/** What people recorded before their part in the circle ended, and sent after it: a lead accepts it or leaves it out. */
export default function Held({ loaderData: { student, items }, actionData }: Route.ComponentProps) {
  const { busy, problems } = useForm(actionData);
  const button = (itemId: string, value: string, label: string, about: string, look = "btn-plain") => (
    <Form method="post" preventScrollReset>
      <input type="hidden" name="itemId" value={itemId} />
      <button className={`btn btn-sm ${look}`} name="intent" value={value} disabled={busy}>
        {label}
        <span className="sr-only"> {about}</span>
      </button>
    </Form>
  );
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <header className="mb-4 flex flex-wrap items-baseline gap-x-4 border-b border-base-300 pb-2">
        <PageTitle title={`Late records of ${student.name}`} />
        <Link className="btn btn-plain btn-sm ml-auto" to={`/students/${student.studentId}`}>
          Back to {student.initials}
        </Link>
      </header>
      <FormProblem>{problems["form"]}</FormProblem>
      {items.length === 0 ? (
        <EmptyState title="Nothing waits here">
          <p>
            What a colleague recorded without a network before their part in the circle ended comes here when
            their device is on the network again.
          </p>
        </EmptyState>
      ) : (
        <>
          <p className="max-w-3xl text-[0.9375rem]">
            {items.length} {plural(items.length, "record was", "records were")} made before a part in the
            circle ended and sent after it. What you accept is in the report as its author’s own; what you
            leave out counts nowhere.
          </p>
          <ul className="mt-3 max-w-4xl">
            {items.map(({ itemId, by, observedAt, receivedAt, words }) => (
              <li
                key={itemId}
                className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-base-300 py-2"
              >
                <div className="min-w-0 flex-1 basis-72">
                  <p className="font-serif text-[1.05rem]" dir="auto">
                    {words}
                  </p>
                  <p className="text-fine text-soft">
                    {by}, {momentWords(observedAt)} · received {momentWords(receivedAt)}
                  </p>
                </div>
                <div className="flex gap-2">
                  {button(itemId, "accept", "Accept", `of ${by}`, "btn-primary")}
                  {button(itemId, "leave out", "Leave out", `of ${by}`)}
                </div>
              </li>
            ))}
          </ul>
          {items.length > 1 ? (
            <div className="mt-3">{button("all", "accept", "Accept all", "records that wait")}</div>
          ) : null}
        </>
      )}
    </main>
  );
}
