import * as z from "zod/mini";
import { Form, Link, redirect } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import {
  cancelMessage,
  correctAddress,
  findMessage,
  leaveMessage,
  noteArrived,
  readMessageText,
  sendMessageAgain,
} from "#server/db/message-lists.ts";
import { isId } from "#server/access/scope.ts";
import { may } from "#server/access/table.ts";
import { Conflict, notFound } from "#server/errors.ts";
import { defineIntents, intent, type Submitted } from "#app/kit/define-action.server.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { useForm } from "#app/kit/use-form.ts";
import { Field, FormProblem } from "#app/ui/field.tsx";
import { email } from "#app/ui/form-data.ts";
import { momentWords } from "#app/ui/moment-words.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { StateOf } from "./message-line.tsx";
import { kindWords } from "./message-words.ts";
import type { Route } from "./+types/message";

const idOf = ({ messageId }: { messageId: string }) => (isId(messageId) ? messageId : notFound());

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "messages.read", null, async (scope) => ({
    message: await findMessage(scope, idOf(params)),
    text: await readMessageText(scope, idOf(params)),
    mayCorrectStaff: may(scope.actor, "staff.edit", { circleRole: null }),
  }));
}

type Sent = Submitted<{ messageId: string }>;
const nothing = z.object({});
const overMeanwhile = "This message has changed since you opened the page. Look at its state above.";

/** Runs what is decided on a message, and comes back to its page. */
async function deciding({ params, wrong }: Sent, decide: () => Promise<void>) {
  try {
    await decide();
  } catch (error) {
    if (error instanceof Conflict) return wrong({ form: overMeanwhile }, 409);
    throw error;
  }
  return redirect(`/dispatch/${params.messageId}`);
}

export const action = defineIntents({
  permission: "messages.read",
  intents: {
    cancel: intent({
      schema: nothing,
      run: (scope, _, sent: Sent) => deciding(sent, () => cancelMessage(scope, idOf(sent.params))),
    }),
    again: intent({
      schema: nothing,
      run: (scope, _, sent: Sent) => deciding(sent, () => sendMessageAgain(scope, idOf(sent.params))),
    }),
    leave: intent({
      schema: nothing,
      run: (scope, _, sent: Sent) => deciding(sent, () => leaveMessage(scope, idOf(sent.params))),
    }),
    arrived: intent({
      schema: nothing,
      run: (scope, _, sent: Sent) => deciding(sent, () => noteArrived(scope, idOf(sent.params))),
    }),
    correct: intent({
      schema: z.object({ email }),
      run: (scope, { email: address }, sent: Sent) =>
        deciding(sent, () => correctAddress(scope, idOf(sent.params), address)),
    }),
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

type Data = Route.ComponentProps["loaderData"];

/** What can be done with a message now. */
function Decide({
  data: { message, mayCorrectStaff },
  busy,
  field,
}: {
  data: Data;
  busy: boolean;
  field: ReturnType<typeof useForm>["field"];
}) {
  const { state, why, reader } = message;
  const button = (intentName: string, words: string, isMain = false) => (
    <button
      className={`btn ${isMain ? "btn-primary" : "btn-plain"}`}
      name="intent"
      value={intentName}
      disabled={busy}
    >
      {words}
    </button>
  );
  const waits = state === "waiting" || state === "held" || state === "deferred";
  const failed = state === "refused" || state === "given up";
  const asksAddress = why === "wrong address" || why === "no address" || why === "not confirmed";
  const mayCorrect = reader.personId === null || mayCorrectStaff;
  if (!waits && !failed && state !== "unknown") return null;
  return (
    <section aria-label="What to do" className="mt-5 grid grid-cols-1 gap-4 rounded-lg bg-base-200 px-4 py-3">
      {state === "unknown" ? (
        <p>
          Nobody knows whether this message arrived, so it is not sent again by itself. Ask {reader.name}.
        </p>
      ) : null}
      {asksAddress && mayCorrect ? (
        <Form method="post" className="flex flex-wrap items-end gap-3" noValidate>
          <Field
            label={`E-mail address of ${reader.name}`}
            type="email"
            className="w-80 max-w-full"
            {...field("email", reader.email)}
          />
          {button(
            "correct",
            why === "not confirmed" ? "The address is right: send" : "Correct and send again",
            true,
          )}
        </Form>
      ) : asksAddress ? (
        <p>An administrator corrects the address of a colleague.</p>
      ) : null}
      <Form method="post" className="flex flex-wrap gap-3">
        {state === "unknown" ? button("arrived", "It arrived") : null}
        {state === "unknown" || (failed && !asksAddress)
          ? button("again", "Send it again")
          : waits && !asksAddress
            ? button("again", "Try now")
            : null}
        {waits ? button("cancel", "Cancel this message") : null}
        {failed ? button("leave", "Leave it so") : null}
      </Form>
      {waits && why === "quiet hours" ? (
        <p className="text-fine text-soft">“Try now” waits for the end of quiet hours all the same.</p>
      ) : null}
    </section>
  );
}

/** One message: to whom, what it said, what became of it, and what can be done. */
export default function MessagePage({ loaderData, actionData }: Route.ComponentProps) {
  const { message, text } = loaderData;
  const { busy, problems, field } = useForm(actionData);
  const { kind, reader, student, subject, to, madeAt, tries, answer, mayDecide, batchId } = message;
  const title = subject ?? kindWords[kind];
  const facts = [
    ["What", kindWords[kind]],
    ["To", [reader.name, to ?? reader.email].filter(Boolean).join(", ")],
    ["Made", momentWords(madeAt)],
    ...(tries > 0 ? [["Tries", String(tries)] as const] : []),
    ...(answer ? [["Answer of the mail server", `“${answer}”`] as const] : []),
  ] as const;
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <p className="text-fine">
        <Link className="link" to="/dispatch">
          Dispatch
        </Link>
        {batchId ? (
          <>
            {" · "}
            <Link className="link" to={`/dispatch/several/${batchId}`}>
              Sent to several
            </Link>
          </>
        ) : null}
        {student ? (
          <>
            {" · "}
            <Link className="link" to={`/dispatch?student=${student.studentId}`}>
              All about {student.initials}
            </Link>
          </>
        ) : null}
      </p>
      <header className="border-b border-base-300 pb-3">
        <PageTitle title={title} />
        <p className="mt-1">
          <StateOf message={message} />
        </p>
      </header>
      <div className="max-w-3xl">
        <div className="mt-4">
          <FormProblem>{problems["form"]}</FormProblem>
        </div>
        <dl className="grid grid-cols-1 gap-x-4 gap-y-1 sm:grid-cols-[12rem_minmax(0,1fr)]">
          {facts.map(([name, value]) => (
            <div key={name} className="contents">
              <dt className="text-soft">{name}</dt>
              <dd className="min-w-0 break-words" dir="auto">
                {value}
              </dd>
            </div>
          ))}
        </dl>
        {mayDecide ? <Decide data={loaderData} {...{ busy, field }} /> : null}
        <section aria-labelledby="text" className="mt-6">
          <h2 id="text" className="font-serif text-[1.15rem] font-semibold">
            Text
          </h2>
          {text === null ? (
            <p className="text-soft">
              {tries === 0
                ? "The text is made when the message is sent."
                : "The text is not shown: it holds a link or code, or is about a student whose circle you are not in."}
            </p>
          ) : (
            <p className="mt-1 border-l-2 border-base-300 pl-4 whitespace-pre-wrap" dir="auto">
              {text}
            </p>
          )}
        </section>
      </div>
    </main>
  );
}
