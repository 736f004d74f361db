import { Link } from "react-router";
import type { ListedMessage } from "#server/db/message-lists.ts";
import { kindWords, stateDetails, stateMarks, messageStateWords } from "./message-words.ts";

/** What became of a message: a shape, a word, and what there is to know beside it. */
export function StateOf({ message }: { message: ListedMessage }) {
  const { state } = message;
  const asksLook = state === "refused" || state === "given up" || state === "unknown";
  const details = stateDetails(message);
  return (
    <span className="min-w-0">
      <span aria-hidden="true" className="inline-block w-5 text-center">
        {stateMarks[state]}
      </span>
      <b className={asksLook ? "underline decoration-2 underline-offset-4" : ""}>
        {messageStateWords[state]}
      </b>
      {details ? <span className="text-soft"> {details}</span> : null}
    </span>
  );
}

/** One message of a list. */
export function MessageLine({ message }: { message: ListedMessage }) {
  const { messageId, kind, reader, student, subject } = message;
  return (
    <li className="grid grid-cols-1 gap-x-4 border-t border-base-300 py-2 md:grid-cols-[minmax(0,14rem)_minmax(0,1fr)_minmax(0,26rem)]">
      <span className="min-w-0 truncate font-serif font-semibold" dir="auto">
        {reader.name}
      </span>
      <span className="min-w-0">
        <Link className="link" to={`/dispatch/${messageId}`} dir="auto">
          {subject ?? `${student ? `${student.initials}: ` : ""}${kindWords[kind]}`}
          <span className="sr-only"> to {reader.name}</span>
        </Link>
        {message.answer && message.state !== "sent" ? (
          <span className="block text-fine text-soft" dir="auto">
            “{message.answer}”
          </span>
        ) : null}
      </span>
      <StateOf message={message} />
    </li>
  );
}
