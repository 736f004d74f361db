import * as z from "zod/mini";
import { Form, Link, redirect } from "react-router";
import { feedbackNames, feedbackOrders, gatherFeedback, orderFor } from "#core/dispatch/gather-feedback.ts";
import { listed } from "#core/words/lists.ts";
import { inDigits } from "#core/words/numbers.ts";
import { authorize } from "#server/access/authorize.ts";
import { isId, type PersonScope } from "#server/access/scope.ts";
import { may } from "#server/access/table.ts";
import { answerFeedback, closeFeedback, findRound, sendFeedback } from "#server/db/feedback.ts";
import { findNamesIn } from "#server/db/names.ts";
import { findStudent } from "#server/db/students.ts";
import { Conflict, notFound } from "#server/errors.ts";
import { defineIntents, intent, type Submitted } from "#app/kit/define-action.server.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { Field, FormProblem, Select, TextArea } from "#app/ui/field.tsx";
import { shortMomentWords } from "#app/ui/moment-words.ts";
import { NamesLookedAt } from "#app/ui/names-looked-at.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import type { Route } from "./+types/one-feedback";

const idOf = (roundId: string | undefined) => (isId(roundId) ? roundId : notFound());

export function loader({ request, context, params: { studentId, roundId } }: Route.LoaderArgs) {
  return authorize(request, context, "feedback.read", studentId, async (scope) => {
    const student = await findStudent(scope, studentId);
    return {
      student: { studentId, initials: student.initials },
      round: await findRound(scope, studentId, idOf(roundId)),
      mayAsk: may(scope.actor, "feedback.ask", { circleRole: scope.circleRole }),
    };
  });
}

type Params = { studentId: string; roundId: string };
type Sent = Submitted<Params>;
const here = ({ studentId, roundId }: Params) => redirect(`/students/${studentId}/feedback/${roundId}`);

const answering = intent({
  schema: z.looseObject({}),
  permission: "feedback.read",
  async run(scope, _, { params, form, wrong }: Sent) {
    const { studentId } = params;
    const { prompts } = await findRound(scope, studentId, idOf(params.roundId));
    const texts = prompts.map((_prompt, place) => {
      const typed = form.get(`answer${place}`);
      return typeof typed === "string" ? typed.trim() : "";
    });
    const long = texts.findIndex((one) => one.length > 2000);
    if (long >= 0) return wrong({ [`answer${long}`]: "At most 2,000 characters." });
    if (texts.every((one) => one === "")) return wrong({ answer0: "Answer at least one question." });
    try {
      await answerFeedback(scope, studentId, idOf(params.roundId), texts);
    } catch (error) {
      if (error instanceof Conflict)
        return wrong({ form: "This is closed now: no more answers are taken." }, 409);
      throw error;
    }
    return here(params);
  },
});

const choosing = z.looseObject({
  order: z.enum(feedbackOrders, "Choose an order."),
  names: z.enum(feedbackNames, "Choose one."),
  subject: z
    .string()
    .check(z.trim(), z.minLength(1, "Write a subject."), z.maxLength(200, "At most 200 characters.")),
  namesLookedAt: z._default(z.enum(["yes", ""]), ""),
});

/** The text as it would go out: of the answers that are ticked. */
async function gathered(scope: PersonScope, { params, form }: Sent, values: z.output<typeof choosing>) {
  const roundId = idOf(params.roundId);
  const round = await findRound(scope, params.studentId, roundId);
  const ticked = new Set(form.getAll("include"));
  const text = gatherFeedback(
    round.prompts,
    round.answers.filter(({ personId }) => ticked.has(personId)),
    { order: values.order, names: values.names, seed: roundId },
  );
  return { round, text };
}

const previewing = intent({
  schema: choosing,
  async run(scope, values, sent: Sent) {
    const { text } = await gathered(scope, sent, values);
    if (text === "") return sent.wrong({ form: "No answer is ticked." });
    return { typed: sent.typed, preview: text, included: sent.form.getAll("include").filter(isId) };
  },
});

const sending = intent({
  schema: choosing,
  async run(scope, values, sent: Sent) {
    const { params, wrong } = sent;
    const { text } = await gathered(scope, sent, values);
    if (text === "") return wrong({ form: "No answer is ticked." });
    const finds = (await findNamesIn(scope, params.studentId, [values.subject, text])).flat();
    if (finds.length > 0 && values.namesLookedAt !== "yes")
      return wrong({
        names: `${listed([...new Set(finds.map(({ text: name }) => `“${name}”`))])} may name another student.`,
      });
    try {
      await sendFeedback(scope, params.studentId, idOf(params.roundId), {
        subject: values.subject,
        words: text,
      });
    } catch (error) {
      if (error instanceof Conflict) return wrong({ form: "This has been sent already." }, 409);
      throw error;
    }
    return here(params);
  },
});

const closing = intent({
  schema: z.object({ closed: z.enum(["yes", "no"]) }),
  async run(scope, { closed }, { params }: Sent) {
    await closeFeedback(scope, params.studentId, idOf(params.roundId), closed === "yes");
    return here(params);
  },
});

export const action = defineIntents({
  permission: "feedback.ask",
  intents: { answer: answering, preview: previewing, send: sending, close: closing },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

type Data = Route.ComponentProps["loaderData"];
type Sending = ReturnType<typeof useForm>;

/** One's own answers: they can be changed until it is sent. */
function OwnAnswer({ round, sent }: { round: Data["round"]; sent: Sending }) {
  const { busy, field } = sent;
  return (
    <section aria-labelledby="own" className="mt-5 max-w-3xl">
      <h2 id="own" className="text-lg font-bold">
        Your answer
      </h2>
      <p className="text-[0.9375rem] text-soft">
        Only who leads the circle reads it before it goes to {round.to}. They may send it without your name.
      </p>
      <KeptForm
        draft={`answer-${round.roundId}`}
        method="post"
        className="mt-2 grid grid-cols-1 gap-3"
        noValidate
      >
        {round.prompts.map((prompt, place) => (
          <TextArea
            key={place}
            label={prompt}
            maxLength={2000}
            dir="auto"
            {...field(`answer${place}`, round.own?.[place])}
          />
        ))}
        <button className="btn btn-primary w-fit" name="intent" value="answer" disabled={busy}>
          {round.own ? "Save my answer again" : "Save my answer"}
        </button>
      </KeptForm>
    </section>
  );
}

const orderWords = { "as they came": "As they came", "by name": "By name", mixed: "Mixed" } as const;
const namesWords = { names: "With names", initials: "With initials", none: "Without names" } as const;

/** What was answered, and how it is sent. */
function Gather({
  round,
  sent,
  preview,
}: {
  round: Data["round"];
  sent: Sending;
  preview: { preview: string; typed: Readonly<Record<string, string>>; included: readonly string[] } | null;
}) {
  const { busy, problems, typed, field } = sent;
  const now = typed ?? preview?.typed;
  const held = now
    ? orderFor((now["order"] ?? "mixed") as "mixed", (now["names"] ?? "names") as "names")
    : null;
  return (
    <section aria-labelledby="gather" className="mt-6 max-w-3xl">
      <h2 id="gather" className="text-lg font-bold">
        What was answered{" "}
        <span className="font-normal text-soft">
          {inDigits(round.answered)} of {inDigits(round.asked)}
        </span>
      </h2>
      {round.waiting.length > 0 ? (
        <p className="text-[0.9375rem] text-soft" dir="auto">
          Not yet: {listed(round.waiting)}
        </p>
      ) : null}
      {round.answers.length === 0 ? null : (
        <Form method="post" className="mt-2 grid grid-cols-1 gap-3" preventScrollReset noValidate>
          <ul>
            {round.answers.map(({ personId, name, texts }) => (
              <li key={personId} className="border-t border-base-300 py-2">
                <label className="flex min-h-11 w-fit cursor-pointer items-center gap-3">
                  <input
                    type="checkbox"
                    name="include"
                    value={personId}
                    defaultChecked={preview ? preview.included.includes(personId) : true}
                  />
                  <b dir="auto">{name}</b>
                </label>
                <dl className="pl-8">
                  {round.prompts.map((prompt, place) =>
                    texts[place] ? (
                      <div key={place} className="mt-1">
                        <dt className="text-fine text-soft" dir="auto">
                          {prompt}
                        </dt>
                        <dd className="font-serif whitespace-pre-wrap" dir="auto">
                          {texts[place]}
                        </dd>
                      </div>
                    ) : null,
                  )}
                </dl>
              </li>
            ))}
          </ul>
          <Field
            label="Subject"
            maxLength={200}
            dir="auto"
            {...field("subject", preview?.typed["subject"] ?? round.title)}
          />
          <div className="grid grid-cols-1 gap-3 sm:grid-cols-2">
            <Select
              label="Order"
              {...field("order", preview?.typed["order"] ?? "as they came")}
              options={feedbackOrders.map((one) => [one, orderWords[one]] as const)}
            />
            <Select
              label="Names"
              {...field("names", preview?.typed["names"] ?? "names")}
              options={feedbackNames.map((one) => [one, namesWords[one]] as const)}
            />
          </div>
          {held !== null && held !== now?.["order"] ? (
            <p className="text-fine text-soft">
              Without names they are mixed: an order by name would say who is who.
            </p>
          ) : null}
          <NamesLookedAt problem={problems["names"]} />
          <FormProblem>{problems["form"]}</FormProblem>
          {preview ? (
            <section aria-labelledby="preview" className="rounded-lg bg-base-200 px-4 py-3">
              <h3 id="preview" className="text-fine font-bold">
                As {round.to} reads it
              </h3>
              <p className="mt-1 whitespace-pre-wrap" dir="auto">
                {preview.preview}
              </p>
            </section>
          ) : null}
          <div className="flex flex-wrap gap-3">
            <button className="btn btn-primary" name="intent" value="send" disabled={busy}>
              Send to {round.to}
            </button>
            <button className="btn btn-plain" name="intent" value="preview" disabled={busy}>
              Preview
            </button>
          </div>
        </Form>
      )}
      <Form method="post" className="mt-4">
        <input type="hidden" name="closed" value={round.isClosed ? "no" : "yes"} />
        <button className="btn btn-plain btn-sm" name="intent" value="close" disabled={busy}>
          {round.isClosed ? "Open it for answers again" : "Close it without sending"}
        </button>
      </Form>
    </section>
  );
}

/** One round of feedback: for who is asked their own answer, for who leads the circle all of them. */
export default function OneFeedback({
  loaderData: { student, round, mayAsk },
  actionData,
}: Route.ComponentProps) {
  const sent = useForm(actionData && "problems" in actionData ? actionData : undefined);
  const preview = actionData && "preview" in actionData ? actionData : null;
  const { title, to, by, madeAt, sentAt, isClosed, mine, messageId } = round;
  return (
    <main id="page" className="page-body min-w-0 px-8 py-6 max-sm:px-4">
      <p className="text-fine">
        <Link className="link" to={`/students/${student.studentId}/feedback`}>
          Feedback
        </Link>
      </p>
      <header className="border-b border-base-300 pb-3">
        <PageTitle title={title} of={student.initials} />
        <p className="text-soft" dir="auto">
          For {to} · asked by {by}, {shortMomentWords(madeAt)}
          {sentAt ? ` · sent ${shortMomentWords(sentAt)}` : isClosed ? " · closed" : ""}
        </p>
      </header>
      {sentAt && messageId && mayAsk ? (
        <p className="mt-4">
          It was sent.{" "}
          <Link className="link" to={`/dispatch/${messageId}`}>
            What became of the message
          </Link>
        </p>
      ) : null}
      {mine !== null && !isClosed ? <OwnAnswer {...{ round, sent }} /> : null}
      {mine !== null && isClosed && round.own ? (
        <section aria-labelledby="own" className="mt-5 max-w-3xl">
          <h2 id="own" className="text-lg font-bold">
            Your answer
          </h2>
          {round.prompts.map((prompt, place) =>
            round.own?.[place] ? (
              <p key={place} className="mt-1" dir="auto">
                <span className="text-fine text-soft">{prompt}</span> {round.own[place]}
              </p>
            ) : null,
          )}
        </section>
      ) : null}
      {mayAsk && !sentAt ? <Gather {...{ round, sent, preview }} /> : null}
    </main>
  );
}
