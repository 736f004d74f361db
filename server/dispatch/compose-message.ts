import { type MergeValues, fillTemplate } from "#core/dispatch/template.ts";
import { isSecret, type MessageKind } from "#core/dispatch/message-kinds.ts";
import { audienceDefaults, type Audience, readsIncidents } from "#core/report/audience.ts";
import { composeLog } from "#core/report/compose-log.ts";
import { linesOf } from "#core/report/document.ts";
import { lineText } from "#core/report/report-text.ts";
import { catalogueOf } from "#core/words/catalogues.ts";
import { dispatchWords } from "#core/words/dispatch.ts";
import type { Language } from "#core/words/en.ts";
import { standingNamesEn } from "#core/words/en/standing-names.ts";
import type { Scope } from "../access/scope.ts";
import { findAudience } from "../db/audiences.ts";
import { readCalendar } from "../db/calendar.ts";
import { listDataAsks } from "../db/coverage.ts";
import { listDueOf } from "../db/due.ts";
import { listEntries } from "../db/entry-lists.ts";
import { listIncidents } from "../db/incident-lists.ts";
import { listJots } from "../db/jots.ts";
import { readSchoolName } from "../db/locale.ts";
import { readMessageSettings, readMessageTemplate } from "../db/mail-settings.ts";
import type { Reader } from "../db/message-readers.ts";
import type { Message } from "../db/messages.ts";
import { findNamesIn } from "../db/names.ts";
import { listStillThere } from "../db/news.ts";
import { findStaffName } from "../db/staff.ts";
import { findStudent, listGoals } from "../db/students.ts";
import { messageHtml } from "./message-html.ts";

/** The text of a message, made in the moment it is sent. */
export interface Composed {
  subject: string;
  text: string;
  html: string;
  language: Language;
  /** What is stored of it; null where it lets somebody in. */
  body: string | null;
}

/** What only the sender of a link or code knows. */
export interface Secret {
  link?: string;
  code?: string;
  lastDay?: string;
}

/** Kinds that tell of things which may have been removed since. */
const ofThings: ReadonlySet<MessageKind> = new Set(["entry", "incident", "jot", "harm"]);

/** Where a reader's link leads: a page of ours that notes that it was opened, and shows nothing to anybody else. */
const linkTo = (site: string, { messageId, guardianId }: Pick<Message, "messageId" | "guardianId">) =>
  `${site}${guardianId === null ? "" : `/family/${guardianId}`}/go/${messageId}`;

/** What was recorded, as its reader's audience reads it; null where that audience is not sent it, or where a text seems to name somebody else. */
async function contentFor(
  scope: Scope,
  { kind, studentId }: Message,
  things: readonly string[],
  audience: Audience,
  language: Language,
): Promise<string | null> {
  if (studentId === null) return null;
  const isIncident = kind === "incident" || kind === "harm";
  if (isIncident && !readsIncidents(audience)) return null;
  const settings = (await findAudience(scope, studentId, audience))?.settings ?? audienceDefaults[audience];
  const ids = { ids: [...things] };
  const entries = kind === "entry" ? await listEntries(scope, studentId, ids) : [];
  const jots = kind === "jot" ? await listJots(scope, studentId, ids) : [];
  const incidents = isIncident ? await listIncidents(scope, studentId, ids) : [];
  const log = composeLog(
    {
      goals: await listGoals(scope, studentId),
      record: { entries, jots, incidents, notMeasured: [], patterns: [], decisions: [] },
      order: things.toReversed(),
    },
    { audience, settings },
    catalogueOf(settings.language),
  );
  const lines = linesOf({ sections: [log] }).map((line) => lineText(line, settings.language));
  if (lines.length === 0) return null;
  const words = dispatchWords[language];
  const found = await findNamesIn(scope, studentId, lines);
  return found.some((finds) => finds.length > 0) ? words.openToRead : [words.recorded, ...lines].join("\n");
}

/** "3 new entries" and the like: what a message of this kind tells of. */
function whatOf(kind: MessageKind, n: number, language: Language): string {
  const words = dispatchWords[language];
  switch (kind) {
    case "entry":
      return words.entries(n);
    case "incident":
    case "harm":
      return words.incidents(n);
    case "jot":
      return words.jots(n);
    case "finding":
      return words.findings(n);
    case "edition":
      return words.editions(n);
    case "statement":
      return words.statements(n);
    case "question":
      return words.questions(n);
    case "held":
      return words.held(n);
    default:
      return words.report;
  }
}

/** The news of a summary, a line for each student the reader still hears of; null where nothing is left. */
async function summaryLines(
  scope: Scope,
  { about }: Message,
  language: Language,
  hears: ReadonlySet<string>,
) {
  const words = dispatchWords[language];
  const lines: string[] = [];
  const news = (about.news ?? []).filter(({ studentId }) => hears.has(studentId));
  for (const studentId of new Set(news.map((one) => one.studentId))) {
    const things: string[] = [];
    for (const { kind, things: ids } of news.filter((one) => one.studentId === studentId)) {
      const n = ofThings.has(kind) ? (await listStillThere(scope, kind, ids)).length : ids.length;
      if (n > 0) things.push(whatOf(kind, n, language));
    }
    if (things.length > 0)
      lines.push(words.ofStudent((await findStudent(scope, studentId)).initials, things));
  }
  return lines.length > 0 ? lines.join("\n") : null;
}

/** The goals that ask a person for data today, a line for each student; null where none do. */
async function dueLines(scope: Scope, personId: string, language: Language): Promise<string | null> {
  const calendar = await readCalendar(scope);
  const plan = (await listDueOf(scope, personId, calendar)).filter(({ due: { state } }) => state === "today");
  const asked = await listDataAsks(scope, personId, { from: scope.today, to: scope.today });
  const due = [...asked.filter((one) => one.personId === personId), ...plan].filter(
    ({ goalId }, place, all) => all.findIndex((one) => one.goalId === goalId) === place,
  );
  const byStudent = new Map<string, number>();
  for (const { studentId } of due) byStudent.set(studentId, (byStudent.get(studentId) ?? 0) + 1);
  const words = dispatchWords[language];
  const lines: string[] = [];
  for (const [studentId, n] of byStudent)
    lines.push(words.ofStudent((await findStudent(scope, studentId)).initials, [words.due(n)]));
  return lines.length > 0 ? lines.join("\n") : null;
}

/** What a message says of what it is about; null where there is nothing left to say. */
async function valuesOf(
  scope: Scope,
  message: Message,
  language: Language,
  hears: ReadonlySet<string>,
): Promise<{ values: MergeValues; things: string[] } | null> {
  const { kind, about, studentId, personId } = message;
  const words = dispatchWords[language];
  if (kind === "digest") {
    const what = await summaryLines(scope, message, language, hears);
    return what === null ? null : { values: { what, days: what }, things: [] };
  }
  if (kind === "due") {
    const what = personId === null ? null : await dueLines(scope, personId, language);
    return what === null ? null : { values: { what }, things: [] };
  }
  if (kind === "receipt") {
    const what = about.receipt === "all sent" ? words.allSent(about.count ?? 0) : words.entryReceived;
    return { values: { what }, things: [] };
  }
  const goal =
    about.goalId === undefined || studentId === null
      ? undefined
      : (await listGoals(scope, studentId)).find(({ goalId }) => goalId === about.goalId);
  if (kind === "finding") {
    if (about.standing === "pattern") return { values: { what: words.pattern }, things: [] };
    const standing = standingNamesEn[about.standing as keyof typeof standingNamesEn];
    if (!goal) return null;
    return { values: { what: words.finding(goal.number, standing), goal: goal.number }, things: [] };
  }
  if (!ofThings.has(kind))
    return {
      values: {
        what: whatOf(kind, about.things?.length ?? 1, language),
        ...(goal ? { goal: goal.number } : {}),
      },
      things: [],
    };
  const there = await listStillThere(scope, kind, about.things ?? []);
  const [first] = there;
  if (!first) return null;
  const harm = (["injury", "restraint", "seclusion"] as const).filter((one) =>
    there.some((incident) => incident.harm?.[one]),
  );
  if (kind === "harm" && harm.length === 0) return null;
  const goals = studentId === null ? [] : await listGoals(scope, studentId);
  const numbers = new Set(
    there.flatMap(({ goalId }) => goals.find((one) => one.goalId === goalId)?.number ?? []),
  );
  const by = await findStaffName(scope, first.authorId);
  return {
    things: there.map(({ thingId }) => thingId),
    values: {
      what: kind === "harm" ? words.harm(harm) : whatOf(kind, there.length, language),
      by: by,
      on: words.date(first.on),
      ...(numbers.size > 0 ? { goal: [...numbers].join(", ") } : {}),
    },
  };
}

/**
 * Makes the text of a message in the language of its reader, from the template of the school and from what is true now.
 *
 * @param hears the students of whom the reader may hear now
 * @returns null where there is nothing left to tell: what it was about was removed
 * @throws Error where a field of the template has no value
 */
export async function composeMessage(
  scope: Scope,
  message: Message,
  reader: Reader,
  { site, hears, secret = {} }: { site: string; hears: ReadonlySet<string>; secret?: Secret },
): Promise<Composed | null> {
  const { kind, about, studentId, personId } = message;
  const { language } = reader;
  const words = dispatchWords[language];
  const made =
    isSecret(kind) || kind === "test" || kind === "words" || kind === "feedback"
      ? { values: {}, things: [] }
      : await valuesOf(scope, message, language, hears);
  if (made === null) return null;
  const student = studentId === null ? null : await findStudent(scope, studentId);
  const template = await readMessageTemplate(scope, kind, language);
  const known: MergeValues = {
    ...{ reader: reader.name, school: await readSchoolName(scope), link: linkTo(site, message) },
    ...{ on: words.date(scope.today), ...(student ? { student: student.initials } : {}) },
    ...made.values,
    ...(secret.link ? { link: secret.link } : {}),
    ...(secret.code ? { code: secret.code } : {}),
    ...(secret.lastDay ? { on: words.date(secret.lastDay) } : {}),
    ...(about.by ? { by: about.by } : {}),
  };
  // Words of a person's own are filled first, and stand within the template as they are. What others answered is not filled.
  const written = about.written?.[language];
  const typed = written && { subject: written.subject.replaceAll(/\s+/g, " "), text: written.words };
  const own = typed && (kind === "words" ? fillTemplate(kind, typed, known) : typed);
  const filled = fillTemplate(kind, template, own ? { ...known, words: own.text } : known);
  const subject = own?.subject ?? filled.subject;
  const audience: Audience = personId === null ? "family" : "team";
  const { contentFor: allowed } = await readMessageSettings(scope);
  const content =
    made.things.length > 0 && allowed.includes(audience)
      ? await contentFor(scope, message, made.things, audience, language)
      : null;
  const text = content === null ? filled.text : `${filled.text}\n\n${content}`;
  const footer =
    isSecret(kind) || kind === "test"
      ? null
      : personId === null
        ? words.whyFamily
        : words.whyStaff(`${site}/account/messages`);
  return {
    ...{ subject, language },
    text: [text, ...(footer ? [`--\n${footer}`] : [])].join("\n\n") + "\n",
    html: messageHtml({ text, footer, language }),
    body: isSecret(kind) ? null : text,
  };
}
