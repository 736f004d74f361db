import type { MessageKind } from "#core/dispatch/message-kinds.ts";
import type { ListedMessage } from "#server/db/message-lists.ts";
import { timeOfDay } from "#core/words/dates.ts";
import { shortMomentWords } from "#app/ui/moment-words.ts";

/** What each kind of message is called. */
export const kindWords: Readonly<Record<MessageKind, string>> = {
  invitation: "Invitation",
  reset: "New password",
  code: "Code for the family’s page",
  test: "Test message",
  harm: "Injury, restraint or seclusion",
  entry: "New entries",
  incident: "New incidents",
  jot: "New jots",
  finding: "Something to look at",
  edition: "Report shared",
  due: "Data due",
  statement: "Progress statement to write",
  question: "Question from the family",
  answer: "Answer to a family",
  held: "Late records",
  digest: "Summary",
  receipt: "Receipt",
  words: "Words of a colleague",
  ask: "Feedback wanted",
  feedback: "Feedback",
};

/** Why a message waits, is over or was cancelled. */
const whyWords: Readonly<Record<string, string>> = {
  "quiet hours": "quiet hours",
  "daily limit": "the day’s limit is reached",
  "not confirmed": "the address is not confirmed",
  "wrong address": "the address was refused",
  "no address": "there is no address",
  "no mail server": "no mail server is set",
  "no answer": "the mail server gave no answer after it had the text",
  "process ended": "the server was stopped while it sent this",
  refused: "the mail server does not take it",
  template: "a field of its template has no value",
  "nothing left": "what it was about is gone",
  "not in the circle": "the reader no longer hears of this student",
  "no access": "the guardian may not read",
  "no consent": "the guardian has not agreed to e-mail",
  left: "the reader has left the school",
  gone: "the reader is gone",
  "by a person": "by a colleague",
  "confirmed by a person": "a colleague confirmed it",
};

type Told = Pick<ListedMessage, "state" | "why" | "nextAt" | "overAt" | "openedAt">;

/** What became of a message, in a word. */
export const messageStateWords: Readonly<Record<ListedMessage["state"], string>> = {
  waiting: "Waiting",
  held: "Held",
  sending: "Being sent",
  sent: "Sent",
  deferred: "Put off",
  refused: "Refused",
  "given up": "Given up",
  unknown: "Unknown",
  cancelled: "Cancelled",
};

/** What there is to know beside the state: why, and when it goes on. */
export function stateDetails({ state, why, nextAt, overAt, openedAt }: Told): string {
  const reason = why === null ? null : (whyWords[why] ?? why);
  const at = (moment: string | null) => (moment === null ? "" : shortMomentWords(moment));
  const opened =
    openedAt?.slice(0, 10) === overAt?.slice(0, 10) ? timeOfDay(openedAt?.slice(11, 16) ?? "") : at(openedAt);
  switch (state) {
    case "sent":
      return [at(overAt), ...(openedAt ? [`opened ${opened}`] : []), ...(reason ? [reason] : [])].join(" · ");
    case "deferred":
      return `next try ${at(nextAt)}`;
    case "held":
      return [reason, nextAt ? `goes ${at(nextAt)}` : null].filter(Boolean).join(" · ");
    case "waiting":
    case "sending":
      return "";
    default:
      return [reason, at(overAt)].filter(Boolean).join(" · ");
  }
}

/** The shape beside a state: never told by color alone. */
export const stateMarks: Readonly<Record<ListedMessage["state"], string>> = {
  ...{ waiting: "◌", held: "◫", sending: "◍", sent: "●", deferred: "↻" },
  ...{ refused: "✕", "given up": "✕", unknown: "?", cancelled: "–" },
};
