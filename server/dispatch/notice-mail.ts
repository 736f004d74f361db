import { v7 as newId } from "uuid";
import type { JobActor } from "../access/actor.ts";
import type { Database } from "../db/connection.ts";
import { listNoticed, type Noticed } from "../db/notices.ts";
import { withScope } from "../db/school.ts";
import { enqueueJob, type NoticeJob, type NoticeKind } from "../jobs/enqueue.ts";
import type { Mailer, Message } from "./mailer.ts";

const told: Record<NoticeKind, { subject: string; text: string }> = {
  question: {
    subject: "a family has a question",
    text: "has a question from the family. Their page, under Family, has it and your answer.",
  },
  held: {
    subject: "something waits for your decision",
    text: "has observations that were sent after their author's part ended. Late records, on their page, lets you accept them or leave them out.",
  },
};

/** What a lead is sent: initials, and where to look. */
export function noticeMessage(notice: NoticeKind, to: Noticed): Omit<Message, "id"> {
  const { subject, text } = told[notice];
  return {
    to: to.email,
    subject: `${to.initials}: ${subject}`,
    text: `Hello ${to.givenName},

${to.initials} (${to.schoolName}) ${text}

Sign in to Gentle Margin to read it. Such messages can be turned off there, under My account.
`,
  };
}

/** Tells the leads of a student that something waits for them: each in a job of their own, so that a message that fails is tried again alone. */
export async function mailNotice(database: Database, mailer: Mailer, job: NoticeJob): Promise<void> {
  const { notice, schoolId, studentId, personId, messageId } = job;
  const actor: JobActor = { kind: "job", schoolId, name: "notice" };
  const to = await withScope(database, actor, studentId, async (scope) => {
    const all = await listNoticed(scope, studentId);
    if (personId !== undefined) return all.find((one) => one.personId === personId);
    for (const one of all)
      await enqueueJob(scope.trx, {
        ...{ queue: "mail", keepFor: 24 },
        data: { notice, schoolId, studentId, personId: one.personId, messageId: newId() },
      });
    return undefined;
  });
  if (to) await mailer.send({ id: messageId ?? newId(), ...noticeMessage(notice, to) });
}
