import type { Audience } from "#core/report/audience.ts";
import { dispatchWords } from "#core/words/dispatch.ts";
import { isMessageKind, type MessageKind } from "#core/dispatch/message-kinds.ts";
import type { MessageTemplate } from "#core/dispatch/template.ts";
import type { Language } from "#core/words/en.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { type KeyedRun, keyIn } from "./app-key.ts";
import { recordEvent } from "./events.ts";

/** The mail server of a school as its administrators see it: without the password. */
export interface OwnMailServer {
  host: string;
  port: number;
  security: "tls" | "starttls" | "none";
  username: string | null;
  hasPassword: boolean;
  from: string;
  /** When it took a test message as it is set now, ISO 8601. */
  testedAt: string | null;
  isOn: boolean;
}

/** The mail server that this school has set for itself; null where it sends by that of the installation, if there is one. */
export async function readOwnMailServer(scope: PersonScope): Promise<OwnMailServer | null> {
  requirePermission(scope, "staff.edit");
  const { rows } = await scope.trx.raw<{
    rows: {
      host: string;
      port: number;
      security: OwnMailServer["security"];
      username: string | null;
      has_password: boolean;
      from_address: string;
      tested_at: Date | null;
      is_on: boolean;
    }[];
  }>("select * from gate.mail_server_here()");
  const [row] = rows;
  return row
    ? {
        ...{ host: row.host, port: row.port, security: row.security, username: row.username },
        ...{ hasPassword: row.has_password, from: row.from_address, isOn: row.is_on },
        testedAt: row.tested_at?.toISOString() ?? null,
      }
    : null;
}

/** Sets the mail server of the school; without a password the one that is there stays. It is used once it took a test message. */
export async function saveOwnMailServer(
  scope: PersonScope,
  {
    host,
    port,
    security,
    username,
    password,
    from,
  }: Pick<OwnMailServer, "host" | "port" | "security" | "username" | "from"> & { password: string | null },
): Promise<void> {
  requirePermission(scope, "staff.edit");
  await scope.trx.raw("select gate.set_mail_server(?, ?, ?, ?, ?, ?)", [
    ...[host, port, security, username, password, from],
  ]);
  await recordEvent(scope, { thing: "mail server", act: "changed", thingId: null, studentId: null });
}

/** Removes the mail server of the school: it sends by that of the installation again, if there is one. */
export async function removeOwnMailServer(scope: PersonScope): Promise<void> {
  requirePermission(scope, "staff.edit");
  await scope.trx.raw("select gate.remove_mail_server()");
  await recordEvent(scope, { thing: "mail server", act: "removed", thingId: null, studentId: null });
}

/** The mail server of a school with its password; null where it has none of its own. */
export async function findMailServer(
  run: KeyedRun,
  schoolId: string,
): Promise<{
  host: string;
  port: number;
  security: OwnMailServer["security"];
  username: string | null;
  password: string | null;
  from: string;
  isOn: boolean;
} | null> {
  const { rows } = await run.raw<{
    rows: {
      host: string;
      port: number;
      security: OwnMailServer["security"];
      username: string | null;
      password: string | null;
      from_address: string;
      is_on: boolean;
    }[];
  }>("select * from gate.mail_server_of(?, ?)", [keyIn(run), schoolId]);
  const [row] = rows;
  return row
    ? {
        ...{ host: row.host, port: row.port, security: row.security, username: row.username },
        ...{ password: row.password, from: row.from_address, isOn: row.is_on },
      }
    : null;
}

/** Notes that the mail server of a school took a test message as it is set: from now on it is used. */
export async function noteMailServerWorks(
  run: KeyedRun,
  schoolId: string,
  { host, port, from }: { host: string; port: number; from: string },
): Promise<void> {
  await run.raw("select gate.mail_server_works(?, ?, ?, ?, ?)", [keyIn(run), schoolId, host, port, from]);
}

/** Does the school send by a mail server of its own? */
export async function schoolMails({ trx }: Scope): Promise<boolean> {
  const { rows } = await trx.raw<{ rows: { mails: boolean }[] }>("select gate.school_mails() as mails");
  return rows[0]?.mails ?? false;
}

/** Does any school send by a mail server of its own? For pages on which nobody is signed in. */
export async function mailsAnywhere(run: KeyedRun): Promise<boolean> {
  const { rows } = await run.raw<{ rows: { mails: boolean }[] }>("select gate.mails_anywhere(?) as mails", [
    keyIn(run),
  ]);
  return rows[0]?.mails ?? false;
}

/** How a school sends. */
export interface MessageSettings {
  /** At most so many a day; null without a limit. */
  dailyLimit: number | null;
  /** Readers whose messages may hold what was recorded: `team`, `family`. */
  contentFor: readonly Audience[];
}

/** The same, of this school. */
export async function readMessageSettings({ trx, schoolId }: Scope): Promise<MessageSettings> {
  const row = await trx("message_settings").where({ school_id: schoolId }).first();
  return {
    dailyLimit: row?.daily_limit ?? null,
    contentFor: (row?.content_for ?? []) as Audience[],
  };
}

/** Says how the school sends. */
export async function saveMessageSettings(
  scope: PersonScope,
  { dailyLimit, contentFor }: MessageSettings,
): Promise<void> {
  requirePermission(scope, "staff.edit");
  const columns = { daily_limit: dailyLimit, content_for: [...contentFor] };
  await scope
    .trx("message_settings")
    .insert({ school_id: scope.schoolId, ...columns })
    .onConflict("school_id")
    .merge(columns);
  await recordEvent(scope, { thing: "message settings", act: "changed", thingId: null, studentId: null });
}

/** A template of a school, and whether it is its own. */
export interface ReadMessageTemplate extends MessageTemplate {
  kind: MessageKind;
  language: Language;
  isOwn: boolean;
}

/** The template of a kind in a language: the school's own, or ours. */
export async function readMessageTemplate(
  { trx, schoolId }: Scope,
  kind: MessageKind,
  language: Language,
): Promise<ReadMessageTemplate> {
  const row = await trx("message_templates").where({ school_id: schoolId, kind, language }).first();
  return row
    ? { kind, language, subject: row.subject, text: row.body, isOwn: true }
    : { kind, language, ...dispatchWords[language].templates[kind], isOwn: false };
}

/** Which templates are the school's own, as `kind language`. */
export async function listOwnTemplates({
  trx,
  schoolId,
}: Scope): Promise<{ kind: MessageKind; language: Language }[]> {
  const rows = await trx("message_templates").where({ school_id: schoolId }).select("kind", "language");
  return rows.flatMap(({ kind, language }) => (isMessageKind(kind) ? { kind, language } : []));
}

/** Saves a template that was checked; null puts ours back. */
export async function saveTemplateOf(
  scope: PersonScope,
  kind: MessageKind,
  language: Language,
  template: MessageTemplate | null,
): Promise<void> {
  requirePermission(scope, "school.edit");
  const { trx, schoolId, actor, now } = scope;
  const key = { school_id: schoolId, kind, language };
  if (template === null) await trx("message_templates").where(key).delete();
  else {
    const columns = {
      ...{ subject: template.subject, body: template.text, person_id: actor.personId, at: now },
    };
    await trx("message_templates")
      .insert({ ...key, ...columns })
      .onConflict(["school_id", "kind", "language"])
      .merge(columns);
  }
  await recordEvent(scope, { thing: "message template", act: "changed", thingId: null, studentId: null });
}
