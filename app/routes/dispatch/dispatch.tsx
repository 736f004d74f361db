import { Link } from "react-router";
import type { MessageState } from "#server/db/messages.ts";
import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { may } from "#server/access/table.ts";
import { listBatches } from "#server/db/message-batches.ts";
import { countStuck, listMessages } from "#server/db/message-lists.ts";
import { inDigits, plural } from "#core/words/numbers.ts";
import { ChoicesForm } from "#app/ui/choices-form.tsx";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { Select } from "#app/ui/field.tsx";
import { momentWords } from "#app/ui/moment-words.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { MessageLine } from "./message-line.tsx";
import { followsStudents } from "#app/live/what-is-read.ts";
import type { Route } from "./+types/dispatch";

/** What can be chosen, and the states behind it. */
const shown: readonly (readonly [key: string, words: string, states: readonly MessageState[] | null])[] = [
  ["", "All", null],
  ["look", "To look at", null],
  ["way", "On their way", ["waiting", "held", "sending", "deferred"]],
  ["sent", "Sent", ["sent"]],
  ["over", "Refused, given up, unknown", ["refused", "given up", "unknown"]],
  ["cancelled", "Cancelled", ["cancelled"]],
];

const pageSize = 50;

export const handle = followsStudents;

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "messages.read", null, async (scope) => {
    const search = new URL(request.url).searchParams;
    const key = search.get("show") ?? "";
    const [chosen = "", , states = null] = shown.find(([one]) => one === key) ?? [];
    const studentId = search.get("student");
    const before = search.get("before");
    const messages = await listMessages(
      scope,
      {
        ...(states ? { states } : {}),
        ...(chosen === "look" ? { isStuck: true } : {}),
        ...(studentId !== null && isId(studentId) ? { studentId } : {}),
        ...(before !== null && /^\d{1,18}$/.test(before) ? { before } : {}),
      },
      pageSize + 1,
    );
    const more = messages.length > pageSize ? (messages[pageSize - 1]?.place ?? null) : null;
    return {
      ...{ chosen, studentId, more, isLater: before !== null },
      messages: messages.slice(0, pageSize),
      stuck: await countStuck(scope),
      batches: await listBatches(scope, 5),
      mayEditMail: may(scope.actor, "staff.edit", { circleRole: null }),
    };
  });
}

/** Outgoing messages, and what became of each. */
export default function Dispatch({
  loaderData: { chosen, studentId, messages, more, isLater, stuck, batches, mayEditMail },
}: Route.ComponentProps) {
  const ofStudent: Record<string, string> = studentId ? { student: studentId } : {};
  const olderAt = new URLSearchParams({ show: chosen, ...ofStudent, before: more ?? "" }).toString();
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <header className="flex flex-wrap items-end justify-between gap-x-6 gap-y-2 border-b border-base-300 pb-3">
        <div>
          <PageTitle title="Dispatch" />
          <p className="text-soft">Messages that go out by e-mail, and what became of each.</p>
        </div>
        <Link className="btn btn-primary" to="/dispatch/new">
          Write to several
        </Link>
      </header>
      {stuck > 0 && chosen !== "look" ? (
        <p className="mt-4 w-fit rounded-lg border border-base-300 bg-base-200 px-4 py-2">
          <b>
            {inDigits(stuck)} {plural(stuck, "message")} {stuck === 1 ? "waits" : "wait"} for you.
          </b>{" "}
          <Link className="link" to="?show=look">
            Look at {stuck === 1 ? "it" : "them"}
          </Link>
        </p>
      ) : null}
      <ChoicesForm label="Which messages" className="mt-4 flex flex-wrap items-end gap-3">
        <Select
          className="w-64 max-w-full"
          label="Show"
          name="show"
          defaultValue={chosen}
          options={shown.map(([key, words]) => [key, words] as const)}
        />
        {studentId ? <input type="hidden" name="student" value={studentId} /> : null}
        {studentId ? (
          <Link className="link py-2 text-fine" to={`?show=${chosen}`}>
            Of all students
          </Link>
        ) : null}
      </ChoicesForm>
      {messages.length === 0 ? (
        <EmptyState title={chosen === "look" ? "Nothing to look at" : "No messages here"}>
          <p>
            {chosen === "look"
              ? "No message is stuck."
              : "When something is recorded, the people in the circle hear of it as each has chosen under Account, Messages."}
          </p>
        </EmptyState>
      ) : (
        <ul className="mt-3 max-w-[72rem]">
          {messages.map((message) => (
            <MessageLine key={message.messageId} message={message} />
          ))}
        </ul>
      )}
      <p className="mt-3 flex flex-wrap gap-x-5">
        {isLater ? (
          <Link className="link" to={`?${new URLSearchParams({ show: chosen, ...ofStudent }).toString()}`}>
            Newest
          </Link>
        ) : null}
        {more ? (
          <Link className="link" to={`?${olderAt}`}>
            Older messages
          </Link>
        ) : null}
      </p>
      {batches.length > 0 ? (
        <section aria-labelledby="to-many" className="mt-8 max-w-[72rem]">
          <h2 id="to-many" className="font-serif text-[1.15rem] font-semibold">
            Sent to several
          </h2>
          <ul>
            {batches.map((one) => (
              <li key={one.batchId} className="border-t border-base-300 py-1.5">
                <Link className="link" to={`/dispatch/several/${one.batchId}`} dir="auto">
                  {one.title}
                </Link>{" "}
                <span className="text-soft">
                  {momentWords(one.madeAt)} · {inDigits(one.sent)} of {inDigits(one.count)} sent
                </span>
              </li>
            ))}
          </ul>
        </section>
      ) : null}
      <p className="mt-8 text-fine text-soft">
        <Link className="link" to="/account/messages">
          Which messages I want
        </Link>
        {mayEditMail ? (
          <>
            {" · "}
            <Link className="link" to="/school/mail">
              Mail server
            </Link>
            {" · "}
            <Link className="link" to="/school/messages">
              Words of the messages
            </Link>
          </>
        ) : null}
      </p>
    </main>
  );
}
