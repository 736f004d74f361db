import * as z from "zod/mini";
import { Form, Link, redirect } from "react-router";
import { inDigits, plural } from "#core/words/numbers.ts";
import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { cancelBatch, findBatch } from "#server/db/message-batches.ts";
import { listMessages } from "#server/db/message-lists.ts";
import { notFound } from "#server/errors.ts";
import { defineIntents, intent, type Submitted } from "#app/kit/define-action.server.ts";
import { useProgress } from "#app/kit/use-progress.ts";
import { momentWords } from "#app/ui/moment-words.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { MessageLine } from "./message-line.tsx";
import type { Route } from "./+types/several";

const most = 500;

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "messages.many", null, async (scope) => {
    const batchId = isId(params.batchId) ? params.batchId : notFound();
    return {
      batch: await findBatch(scope, batchId),
      messages: (await listMessages(scope, { batchId }, most)).toReversed(),
    };
  });
}

export const action = defineIntents({
  permission: "messages.many",
  intents: {
    cancel: intent({
      schema: z.object({}),
      async run(scope, _, { params }: Submitted<{ batchId: string }>) {
        await cancelBatch(scope, isId(params.batchId) ? params.batchId : notFound());
        return redirect(`/dispatch/several/${params.batchId}`);
      },
    }),
  },
});

/** What became of a message to several. */
export default function Several({ loaderData: { batch, messages } }: Route.ComponentProps) {
  const { title, madeAt, count, sent, waiting, isCancelled, out } = batch;
  useProgress(waiting > 0);
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <p className="text-fine">
        <Link className="link" to="/dispatch">
          Dispatch
        </Link>
      </p>
      <header className="border-b border-base-300 pb-3">
        <PageTitle title={title} />
        <p className="text-soft">
          To {inDigits(count)} {plural(count, "person", "people")} · {momentWords(madeAt)}
        </p>
      </header>
      <section aria-label="How far it is" className="mt-4 max-w-[40rem] rounded-lg bg-base-200 px-4 py-3">
        <p role="status" className="font-serif text-[1.15rem] font-semibold">
          {inDigits(sent)} of {inDigits(count)} sent
          {waiting > 0 ? `, ${inDigits(waiting)} on ${waiting === 1 ? "its" : "their"} way` : ""}
          {isCancelled ? ". What had not gone was cancelled." : ""}
        </p>
        <progress
          className="reading-bar mt-2 w-full"
          aria-label="Messages sent"
          value={sent}
          max={Math.max(1, count)}
          hidden={waiting === 0}
        />
        {waiting > 0 ? (
          <Form method="post" className="mt-2">
            <button className="btn btn-plain" name="intent" value="cancel">
              Cancel what has not gone
            </button>
          </Form>
        ) : null}
      </section>
      <ul className="mt-4 max-w-[72rem]">
        {messages.map((message) => (
          <MessageLine key={message.messageId} message={message} />
        ))}
      </ul>
      {out.length > 0 ? (
        <section aria-labelledby="out" className="mt-6 max-w-[72rem]">
          <h2 id="out" className="font-serif text-[1.15rem] font-semibold">
            Was not sent to
          </h2>
          <ul>
            {out.map(({ name, why }, place) => (
              <li key={place} className="border-t border-base-300 py-1.5">
                <span className="font-serif font-semibold" dir="auto">
                  {name}
                </span>{" "}
                <span className="text-soft">{why}</span>
              </li>
            ))}
          </ul>
        </section>
      ) : null}
    </main>
  );
}
