import { reportingPeriodOn } from "#core/schedule/calendar.ts";
import { type WritingObstacle, writingObstacle } from "#core/dispatch/writing-obstacle.ts";
import type { Language } from "#core/words/en.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { listGroups } from "#server/db/groups.ts";
import { listFamilies, listSharedEditions } from "#server/db/message-batches.ts";
import { listStudentsFor } from "#server/db/students.ts";

/** What can be sent to several families. */
export const manyContents = ["words", "reports"] as const;
export type ManyContent = (typeof manyContents)[number];

const obstacleWords: Readonly<Record<WritingObstacle, string>> = {
  "no access": "may not read",
  "no address": "no e-mail address",
  "no consent": "has not agreed to e-mail",
  "wrong address": "the address was refused",
  "not confirmed": "the address is not confirmed",
};

/** A guardian on the list, and why they get nothing, where they do not. */
export interface ListedFamily {
  guardianId: string;
  studentId: string;
  student: string;
  name: string;
  language: Language;
  /** Null where they will get it. */
  why: string | null;
  /** Where what is missing can be done. */
  to: string | null;
  editionId: string | null;
}

/**
 * Whom a message to several would reach, and whom not and why.
 *
 * @param languages in which the words are written; of reports, all
 */
export async function readFamilies(
  scope: PersonScope,
  {
    what,
    whose,
    languages,
  }: { what: ManyContent; whose: string | null; languages: readonly Language[] | null },
) {
  const students = await listStudentsFor(scope, "edition.share");
  const groups = await listGroups(scope, students);
  const group = groups.find(({ groupId }) => groupId === whose) ?? null;
  const chosen = group ? students.filter(({ studentId }) => group.studentIds.includes(studentId)) : students;
  const ids = chosen.map(({ studentId }) => studentId);
  const calendar = await readCalendar(scope);
  const period = reportingPeriodOn(calendar, scope.today);
  const editions =
    what === "reports"
      ? await listSharedEditions(scope, ids, period?.fromOn ?? scope.today)
      : new Map<string, never>();
  const families = await listFamilies(scope, ids);
  const byStudent = new Map(chosen.map((student) => [student.studentId, student]));
  const list = families.map((one): ListedFamily => {
    const page = `/students/${one.studentId}/family`;
    const edition = editions.get(one.studentId);
    const obstacle = writingObstacle(one);
    const [why, to] =
      obstacle !== null
        ? [obstacleWords[obstacle], page]
        : what === "reports" && !edition
          ? ["no report of this period is on the family’s page", `/students/${one.studentId}/editions`]
          : languages !== null && !languages.includes(one.language)
            ? [`reads ${one.language === "es" ? "Spanish" : "English"}: not written yet`, null]
            : [null, null];
    return {
      ...{ guardianId: one.guardianId, studentId: one.studentId, name: one.name, language: one.language },
      ...{
        student: byStudent.get(one.studentId)?.name ?? "",
        why,
        to,
        editionId: edition?.editionId ?? null,
      },
    };
  });
  return {
    list,
    whose: group?.groupId ?? "",
    whoseWords: group?.name ?? "my students",
    groups: groups.map(({ groupId, name }) => [groupId, name] as const),
    period: period?.name ?? null,
    /** Students of whom no guardian is written down. */
    without: chosen
      .filter(({ studentId }) => !families.some((one) => one.studentId === studentId))
      .map(({ name }) => name),
    others: group?.others ?? 0,
  };
}
