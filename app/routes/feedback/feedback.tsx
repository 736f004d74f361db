import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { Link, redirect } from "react-router";
import { inDigits } from "#core/words/numbers.ts";
import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { may } from "#server/access/table.ts";
import { listCircleMembers } from "#server/db/circle.ts";
import { askForFeedback, listRounds } from "#server/db/feedback.ts";
import { listFamilies } from "#server/db/message-batches.ts";
import { findStudent } from "#server/db/students.ts";
import { defineAction, type Submitted } from "#app/kit/define-action.server.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { Field, FormProblem, Select } from "#app/ui/field.tsx";
import { id, optionalText, text } from "#app/ui/form-data.ts";
import { shortMomentWords } from "#app/ui/moment-words.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import type { Route } from "./+types/feedback";

/** So many prompts can be asked, the first two of which are needed. */
const prompts = ["prompt1", "prompt2", "prompt3", "prompt4", "prompt5"] as const;

export function loader({ request, context, params: { studentId } }: Route.LoaderArgs) {
  return authorize(request, context, "feedback.read", studentId, async (scope) => {
    const student = await findStudent(scope, studentId);
    const mayAsk = may(scope.actor, "feedback.ask", { circleRole: scope.circleRole });
    const members = (await listCircleMembers(scope, studentId)).filter(({ state }) => state === "now");
    return {
      student: { studentId, name: student.name, initials: student.initials },
      mayAsk,
      roundId: newId(),
      rounds: await listRounds(scope, studentId),
      members: members.map(({ personId, name, position }) => ({ personId, name, position })),
      families: mayAsk
        ? (await listFamilies(scope, [studentId]))
            .filter(({ mayRead }) => mayRead)
            .map(({ guardianId, name }) => ({ guardianId, name }))
        : [],
    };
  });
}

type Sent = Submitted<{ studentId: string }>;

export const action = defineAction({
  permission: "feedback.ask",
  schema: z.looseObject({
    roundId: id,
    title: text(200, "What is it about?"),
    to: z.string().check(z.regex(/^(person|guardian) [0-9a-f-]{36}$/, "Choose who gets it.")),
    prompt1: text(300, "Write the first question."),
    prompt2: text(300, "Write a second question."),
    ...{ prompt3: optionalText(300), prompt4: optionalText(300), prompt5: optionalText(300) },
  }),
  async run(scope, { roundId, title, to, ...values }, { params: { studentId }, form, wrong }: Sent) {
    const [kind, readerId = ""] = to.split(" ");
    const circle = (await listCircleMembers(scope, studentId)).filter(({ state }) => state === "now");
    const inCircle = new Set(circle.map(({ personId }) => personId));
    const families = await listFamilies(scope, [studentId]);
    const isKnown =
      kind === "person"
        ? inCircle.has(readerId)
        : families.some(({ guardianId, mayRead }) => guardianId === readerId && mayRead);
    if (!isKnown) return wrong({ to: "Choose who gets it." });
    const askedIds = form.getAll("asked").filter((one): one is string => isId(one) && inCircle.has(one));
    if (askedIds.length === 0) return wrong({ asked: "Choose at least one person." });
    await askForFeedback(scope, {
      ...{ roundId, studentId, title, askedIds: [...new Set(askedIds)] },
      to: kind === "person" ? { personId: readerId } : { guardianId: readerId },
      prompts: prompts.flatMap((name) => values[name] ?? []),
    });
    return redirect(`/students/${studentId}/feedback/${roundId}`);
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

type Data = Route.ComponentProps["loaderData"];

function Rounds({ rounds, studentId }: { rounds: Data["rounds"]; studentId: string }) {
  return (
    <ul className="mt-3 max-w-[52rem]">
      {rounds.map(({ roundId, title, to, by, madeAt, sentAt, isClosed, asked, answered, mine }) => (
        <li key={roundId} className="border-t border-base-300 py-2">
          <Link
            className="link font-serif font-semibold"
            to={`/students/${studentId}/feedback/${roundId}`}
            dir="auto"
          >
            {title}
          </Link>{" "}
          {mine === "asked" && !isClosed ? <b>your answer is wanted</b> : null}
          <p className="text-fine text-soft" dir="auto">
            For {to} · asked by {by}, {shortMomentWords(madeAt)} · {inDigits(answered)} of {inDigits(asked)}{" "}
            answered
            {sentAt ? ` · sent ${shortMomentWords(sentAt)}` : isClosed ? " · closed" : ""}
          </p>
        </li>
      ))}
    </ul>
  );
}

function Ask({
  data: { members, families, roundId },
  sent,
}: {
  data: Data;
  sent: ReturnType<typeof useForm>;
}) {
  const { busy, problems, typed, field } = sent;
  return (
    <section aria-labelledby="ask" className="mt-8">
      <h2 id="ask" className="text-lg font-bold">
        Ask for feedback
      </h2>
      <p className="mt-1 max-w-[44rem] text-[0.9375rem] text-soft">
        Colleagues answer each for themselves. You look at the answers, choose their order and whether names
        are shown, and send them as one message.
      </p>
      <KeptForm draft="feedback" method="post" className="mt-3 grid max-w-3xl grid-cols-1 gap-3" noValidate>
        <input type="hidden" name="roundId" value={typed?.["roundId"] ?? roundId} />
        <Field
          label="About"
          hint="As “the picture strip you made”"
          maxLength={200}
          dir="auto"
          {...field("title")}
        />
        <Select
          label="Goes to"
          {...field("to")}
          options={[
            ["", "Choose who gets it"],
            ...members.map(({ personId, name }) => [`person ${personId}`, name] as const),
            ...families.map(
              ({ guardianId, name }) => [`guardian ${guardianId}`, `${name} (family)`] as const,
            ),
          ]}
        />
        {prompts.map((name, place) => (
          <Field
            key={name}
            label={`Question ${place + 1}${place < 2 ? "" : " (optional)"}`}
            maxLength={300}
            dir="auto"
            {...field(name, place === 0 ? "What works well?" : place === 1 ? "What would you change?" : "")}
          />
        ))}
        <fieldset className="min-w-0" aria-describedby={problems["asked"] ? "asked-problem" : undefined}>
          <legend className="font-bold">Who is asked</legend>
          <div className="grid grid-cols-1 gap-x-6 sm:grid-cols-2">
            {members.map(({ personId, name, position }) => (
              <label key={personId} className="flex min-h-11 cursor-pointer items-center gap-3">
                <input
                  type="checkbox"
                  name="asked"
                  value={personId}
                  aria-invalid={problems["asked"] ? true : undefined}
                />
                <span dir="auto">
                  {name} <span className="text-fine text-soft">{position}</span>
                </span>
              </label>
            ))}
          </div>
          {problems["asked"] ? (
            <p id="asked-problem" className="text-fine font-bold text-error">
              {problems["asked"]}
            </p>
          ) : null}
        </fieldset>
        <FormProblem>{problems["form"]}</FormProblem>
        <button className="btn btn-primary w-fit" disabled={busy}>
          Ask them
        </button>
      </KeptForm>
    </section>
  );
}

/** Feedback that is gathered about what somebody made or showed for a student. */
export default function Feedback({ loaderData, actionData }: Route.ComponentProps) {
  const { student, rounds, mayAsk } = loaderData;
  const sent = useForm(actionData);
  return (
    <main id="page" className="page-body min-w-0 px-8 py-6 max-sm:px-4">
      <p className="text-fine">
        <Link className="link" to={`/students/${student.studentId}/editions`}>
          Editions
        </Link>
      </p>
      <header className="border-b border-base-300 pb-3">
        <PageTitle title="Feedback" of={student.initials} />
        <p className="text-soft" dir="auto">
          {student.name}
        </p>
      </header>
      {rounds.length === 0 ? (
        <EmptyState title="No feedback yet">
          <p>
            {mayAsk
              ? "Ask colleagues below what they think of something that was made or shown; it goes to one reader as one message."
              : "When you are asked for feedback about this student, it is here."}
          </p>
        </EmptyState>
      ) : (
        <Rounds rounds={rounds} studentId={student.studentId} />
      )}
      {mayAsk ? <Ask data={loaderData} sent={sent} /> : null}
    </main>
  );
}
