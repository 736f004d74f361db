import { redirect } from "react-router";
import type { MessageKind } from "#core/dispatch/message-kinds.ts";
import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { noteOpened } from "#server/db/message-lists.ts";
import type { MessageAbout } from "#server/db/messages.ts";
import type { Route } from "./+types/go";

/** Where a message about a student leads: to the one thing, or to the student where there are several. */
function pathTo(kind: MessageKind, studentId: string | null, { things = [], goalId }: MessageAbout): string {
  if (kind === "due") return "/today";
  if (studentId === null) return "/caseload";
  const student = `/students/${studentId}`;
  const [only] = things.length === 1 ? things : [];
  switch (kind) {
    case "entry":
      return only ? `${student}/entries/${only}` : student;
    case "incident":
    case "harm":
      return only ? `${student}/incidents/${only}` : `${student}/incidents`;
    case "jot":
      return only ? `${student}/jots/${only}` : student;
    case "finding":
      return goalId ? `${student}/goals/${goalId}` : `${student}/patterns`;
    case "edition":
      return only ? `${student}/editions/${only}` : `${student}/editions`;
    case "statement":
      return "/progress-reports";
    case "question":
      return `${student}/family`;
    case "held":
      return `${student}/held`;
    case "ask":
      return only ? `${student}/feedback/${only}` : `${student}/feedback`;
    default:
      return student;
  }
}

/**
 * The link of a message to a member of staff: notes that its reader opened it, and leads to what it is about. To anybody else who may sign in it
 * says nothing, and leads to their caseload.
 */
export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "messages.read", null, async (scope) => {
    const { messageId } = params;
    const opened = isId(messageId)
      ? await noteOpened(scope, messageId, { personId: scope.actor.personId })
      : null;
    return redirect(opened ? pathTo(opened.kind, opened.studentId, opened.about) : "/caseload");
  });
}
