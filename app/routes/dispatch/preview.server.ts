import { v7 as newId } from "uuid";
import type { MessageKind } from "#core/dispatch/message-kinds.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { findReader } from "#server/db/message-readers.ts";
import type { MessageAbout } from "#server/db/messages.ts";
import { notFound } from "#server/errors.ts";
import { composeMessage } from "#server/dispatch/compose-message.ts";

/** A message as a guardian would get it now; nothing is sent. */
export async function previewMessage(
  scope: PersonScope,
  {
    kind,
    guardianId,
    studentId,
    about,
    site,
  }: { kind: MessageKind; guardianId: string; studentId: string; about: MessageAbout; site: string },
): Promise<{ subject: string; text: string }> {
  const reader = (await findReader(scope, { personId: null, guardianId })) ?? notFound();
  const message = {
    ...{ messageId: newId(), kind, personId: null, guardianId, readerId: guardianId, studentId, about },
    ...{ batchId: null, isUrgent: false, madeAt: scope.now, tries: 0 },
  };
  const composed = await composeMessage(scope, message, reader, { site, hears: new Set([studentId]) });
  return composed ? { subject: composed.subject, text: composed.text } : notFound();
}
