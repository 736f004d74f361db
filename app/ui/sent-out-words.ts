import type { SentOut } from "#server/db/message-lists.ts";
import { timeOfDay } from "#core/words/dates.ts";
import { shortMomentWords } from "./moment-words.ts";

const whatWords: Readonly<Partial<Record<SentOut["kind"], string>>> = {
  edition: "report",
  answer: "answer",
  feedback: "feedback",
};

/** "Report sent to Marisol Reyes, Nov 26, 2:10 PM, opened 7:45 PM" */
export function sentOutWords({ kind, to, sentAt, openedAt }: SentOut): string {
  const what = whatWords[kind] ?? "message";
  const opened =
    openedAt === null
      ? ""
      : `, opened ${openedAt.slice(0, 10) === sentAt.slice(0, 10) ? timeOfDay(openedAt.slice(11, 16)) : shortMomentWords(openedAt)}`;
  return `${what.charAt(0).toUpperCase()}${what.slice(1)} sent to ${to}, ${shortMomentWords(sentAt)}${opened}`;
}
