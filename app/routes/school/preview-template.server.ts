import { addDays } from "date-fns";
import { fillTemplate, type MessageTemplate } from "#core/dispatch/template.ts";
import type { MessageKind } from "#core/dispatch/message-kinds.ts";
import { shortName } from "#core/model/student-names.ts";
import { dispatchWords } from "#core/words/dispatch.ts";
import type { Language } from "#core/words/en.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { listStudents } from "#server/db/students.ts";

/** "3 new entries" and the like, as an example of each kind. */
function exampleOf(kind: MessageKind, language: Language): string {
  const words = dispatchWords[language];
  const examples: Partial<Record<MessageKind, string>> = {
    entry: words.entries(3),
    incident: words.incidents(1),
    harm: words.harm(["injury"]),
    jot: words.jots(1),
    finding: words.finding("2", "Criterion reached"),
    edition: words.editions(1),
    statement: words.statements(1),
    receipt: words.entryReceived,
  };
  return examples[kind] ?? words.report;
}

/** A template filled with a student of the person, or with an example where none is chosen. */
export async function previewTemplate(
  scope: PersonScope,
  {
    kind,
    language,
    template,
    studentId,
    site,
  }: { kind: MessageKind; language: Language; template: MessageTemplate; studentId: string; site: string },
): Promise<MessageTemplate & { isExample: boolean }> {
  const student = (await listStudents(scope)).find((one) => one.studentId === studentId) ?? null;
  const words = dispatchWords[language];
  const initials = student?.initials ?? "J.D.";
  const { givenName, familyName, schoolName } = scope.actor;
  const week = addDays(scope.now, 7).toISOString().slice(0, 10);
  const what =
    kind === "digest" || kind === "due"
      ? words.ofStudent(initials, kind === "due" ? [words.due(2)] : [words.entries(3), words.incidents(1)])
      : exampleOf(kind, language);
  const filled = fillTemplate(kind, template, {
    ...{ reader: givenName, school: schoolName, student: initials, goal: "2", what, days: what },
    ...{ by: shortName(givenName, familyName), on: words.date(week), code: "123456", link: `${site}/go/…` },
    words: "…",
  });
  return { ...filled, isExample: student === null };
}
