import { dateOfDay, dayNumber } from "#core/dates/day-number.ts";
import { groupBy } from "#core/lists/group-by.ts";
import { isOfSpan } from "#core/report/compose-goal.ts";
import type { Audience } from "#core/report/audience.ts";
import {
  groupsOfPeriod,
  inOrderOfGroups,
  type PacketChoice,
  type PacketContent,
  packetContents,
  packetForms,
} from "#core/report/packet.ts";
import { type NamedSpan, reportSpans } from "#core/report/report-spans.ts";
import type { DateSpan } from "#core/dates/date-span.ts";
import { begunPeriods, periodToWrite } from "#core/schedule/report-week.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { inDigits, plural } from "#core/words/numbers.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { may } from "#server/access/table.ts";
import { listAudiences } from "#server/db/audiences.ts";
import { readCalendar, readTimetable } from "#server/db/calendar.ts";
import { listCirclesWith, listWorking } from "#server/db/circle.ts";
import { listLatestEditions } from "#server/db/editions.ts";
import { type AssessedDay, listAssessedDays } from "#server/db/entry-lists.ts";
import { listGroups } from "#server/db/groups.ts";
import { listPeriodStatements } from "#server/db/progress-statements.ts";
import { listCaseloadGoals, listCircleRoles, listStudents } from "#server/db/students.ts";
import { findChromium } from "#server/exports/chromium.ts";
import { noteReads } from "#server/db/reads.ts";
import { audienceWords } from "#app/routes/editions/edition-words.ts";

/** So far back one may choose what was assessed. */
const assessedDays = 120;

/** A student of a packet before it is made. */
export interface PacketStudent {
  studentId: string;
  name: string;
  initials: string;
  /** `ready`: in it; `ask`: in it where it is ticked; `out`: cannot be in it. */
  state: "ready" | "ask" | "out";
  /** Why it is not ready, or what it would be. */
  why: string;
  /** Where what is missing is done, with the words of the link. */
  to: { path: string; words: string } | null;
}

const counted = (n: number, noun: string) => `${inDigits(n)} ${plural(n, noun)}`;

/** One value of a choice with its words. */
type Option = [value: string, words: string];

/** What a select offers, and what is chosen: what an address names that is not offered is the first. */
const chosenOf = (wanted: string | null, options: readonly Option[]): string =>
  options.find(([value]) => value === wanted)?.[0] ?? options[0]?.[0] ?? "";

/** Of whom packets can be: all of the person's students, a group, a period of the day, or those with whom a colleague works. */
async function readWhose(scope: PersonScope, wanted: string | null, order: string | null) {
  const students = await listStudents(scope);
  const groups = await listGroups(scope, students);
  const timetable = await readTimetable(scope);
  const periods = [...new Set(timetable.map(({ name }) => name))].filter(
    (name) => groupsOfPeriod(groups, timetable, name).length > 0,
  );
  const withWhom = await listCirclesWith(scope);
  const colleagues = (await listWorking(scope)).filter(({ personId }) => withWhom.has(personId));
  const options: Option[] = [
    ["", "My students"],
    ...groups.map(({ groupId, name }): Option => [`group ${groupId}`, name]),
    ...periods.map((name): Option => [`period ${name}`, `Period: ${name}`]),
    ...colleagues.map(({ personId, name }): Option => [`with ${personId}`, `With ${name}`]),
  ];
  const whose = chosenOf(wanted, options);
  const [kind = "", ...rest] = whose.split(" ");
  const key = rest.join(" ");
  const chosenGroups =
    kind === "group"
      ? groups.filter(({ groupId }) => groupId === key)
      : kind === "period"
        ? groupsOfPeriod(groups, timetable, key)
        : null;
  const among = (ids: readonly string[]) => students.filter(({ studentId }) => ids.includes(studentId));
  const chosen = chosenGroups
    ? inOrderOfGroups(among(chosenGroups.flatMap(({ studentIds }) => studentIds)), chosenGroups)
    : kind === "with"
      ? among([...(withWhom.get(key) ?? [])])
      : students;
  return {
    ...{ whose, options },
    words: options.find(([value]) => value === whose)?.[1] ?? "",
    // Whose groups are the choice already come in their order.
    order: chosenGroups ? null : order === "groups" ? ("groups" as const) : ("names" as const),
    students: chosenGroups || order !== "groups" ? chosen : inOrderOfGroups(chosen, groups),
    /** Students of the groups in whose circle the person is not. */
    others: (chosenGroups ?? []).reduce((sum, { others }) => sum + others, 0),
  };
}

type Judge = (studentId: string) => Pick<PacketStudent, "state" | "why" | "to">;
const ready = (why: string): ReturnType<Judge> => ({ state: "ready", why, to: null });
const out = (why: string, to: PacketStudent["to"] = null): ReturnType<Judge> => ({ state: "out", why, to });

/** Is the report of a reporting period ready: has each goal a statement that is, and that nothing changed since? */
async function judgeReports(scope: PersonScope, span: NamedSpan, period: DateSpan | null): Promise<Judge> {
  const goals = (await listCaseloadGoals(scope)).filter((goal) => isOfSpan(goal, span));
  const statements = period
    ? await listPeriodStatements(
        scope,
        goals.map(({ goalId }) => goalId),
        period,
      )
    : new Map<string, never>();
  const byStudent = groupBy(goals, ({ studentId }) => studentId);
  return (studentId) => {
    const own = byStudent.get(studentId) ?? [];
    const [first] = own;
    if (!first) return out("No goal was open in these days.");
    const all = `${counted(own.length, "goal")}`;
    if (!period) return ready(all);
    const isReady = own.filter(({ goalId }) => statements.get(goalId)?.ready).length;
    const newer = own.filter(({ goalId }) => statements.get(goalId)?.ready?.isNewer).length;
    const unready = own.find(({ goalId }) => !statements.get(goalId)?.ready) ?? first;
    const to = {
      path: `/progress-reports/${period.fromOn}/${studentId}/${unready.goalId}`,
      words: isReady < own.length ? "Write it" : "Look at it",
    };
    if (isReady < own.length)
      return {
        state: "ask",
        why: `${own.length - isReady} of ${all} ${plural(own.length - isReady, "has", "have")} no progress statement that is ready`,
        to,
      };
    if (newer > 0)
      return { state: "ask", why: `${counted(newer, "goal")} with entries newer than the statement`, to };
    return ready(`${all}, all statements ready`);
  };
}

/** Has the student an edition for this audience? The latest one is in the packet. */
async function judgeEditions(
  scope: PersonScope,
  audience: Audience,
  studentIds: readonly string[],
): Promise<Judge> {
  const latest = await listLatestEditions(scope, audience, studentIds);
  return (studentId) => {
    const edition = latest.get(studentId);
    return edition
      ? ready(`Edition ${edition.number} of ${dateWithYear(edition.madeOn)}`)
      : out("No edition for these readers yet", {
          path: `/students/${studentId}/editions/new${audience === "team" ? "" : `?for=${audience}`}`,
          words: "Make one",
        });
  };
}

const assessedKey = ({ on, title }: Pick<AssessedDay, "on" | "title">) => `${on} ${title}`;

/**
 * What an address chooses for a packet, what there is to choose, and each student of it: in, to be asked about, or not in it and why. It
 * looks at what is known without composing any report.
 */
export async function readPacketChoice(scope: PersonScope, search: URLSearchParams) {
  const { today } = scope;
  const whose = await readWhose(scope, search.get("whose"), search.get("order"));
  const ids = whose.students.map(({ studentId }) => studentId);
  await noteReads(scope, "caseload", ids);
  const roles = new Map(
    (await listCircleRoles(scope, ids)).map(({ studentId, circleRole }) => [studentId, circleRole]),
  );
  const audiences = (await listAudiences(scope, null)).map((one): Option => [
    one.audience,
    audienceWords(one),
  ]);
  const byFamily = audiences.toSorted(([a], [b]) => Number(b === "family") - Number(a === "family"));
  const audience = chosenOf(search.get("for"), byFamily) as Audience;
  const assessed = await listAssessedDays(scope, ids, dateOfDay(dayNumber(today) - assessedDays));
  const contents: Option[] = [
    ["reports", "Progress reports"],
    ["editions", "Latest editions"],
    ["assessment", "A rubric of one day"],
  ];
  const of = (packetContents.find((one) => one === search.get("of")) ?? "reports") satisfies PacketContent;
  const calendar = await readCalendar(scope);
  const writing = periodToWrite(calendar, today);
  const all = reportSpans(calendar, today);
  const spans = all.toSorted(
    (a, b) => Number(b.key === `period-${writing?.fromOn}`) - Number(a.key === `period-${writing?.fromOn}`),
  );
  const span = spans.find(({ key }) => key === search.get("span")) ?? spans[0];
  const period = begunPeriods(calendar, today).find(({ fromOn }) => `period-${fromOn}` === span?.key) ?? null;
  const days = assessed.map((one): Option => [
    assessedKey(one),
    `${dateWithYear(one.on)}: ${one.title} (${counted(one.studentIds.length, "student")})`,
  ]);
  const rubric = assessed.find((one) => assessedKey(one) === chosenOf(search.get("rubric"), days)) ?? null;
  const judge: Judge =
    of === "editions"
      ? await judgeEditions(scope, audience, ids)
      : of === "assessment"
        ? (studentId) =>
            rubric?.studentIds.includes(studentId)
              ? ready("Assessed on this day")
              : out("Not assessed on this day")
        : await judgeReports(scope, span ?? { key: "", words: "", from: null, to: today }, period);
  const form = packetForms.find((one) => one === search.get("form")) ?? "one";
  const spanWords = span?.words.replace(/ so far$/, "") ?? "";
  const title = {
    reports: `Progress reports, ${period ? period.name : spanWords}`,
    editions: `Editions for ${audiences.find(([key]) => key === audience)?.[1] ?? ""}`,
    assessment: rubric ? `${rubric.title}, ${dateWithYear(rubric.on)}` : "Assessment",
  }[of];
  const students = whose.students.map(({ studentId, name, initials }): PacketStudent => ({
    ...{ studentId, name, initials },
    ...(may(scope.actor, "file.make", { circleRole: roles.get(studentId) ?? null })
      ? judge(studentId)
      : out("Another person is the case manager")),
  }));
  const choice: PacketChoice = {
    ...{ of, audience, rubric: of === "assessment" ? (rubric?.title ?? "") : "" },
    span:
      of === "assessment" && rubric
        ? { from: rubric.on, to: rubric.on }
        : of === "reports" && span
          ? { from: span.from, to: span.to }
          : { from: null, to: today },
    title: whose.whose === "" ? title : `${title}, ${whose.words}`,
    ...{ form, oddPages: form === "one" && search.get("odd") === "yes" },
  };
  return {
    ...{ choice, students, others: whose.others },
    chosen: {
      ...{ whose: whose.whose, order: whose.order, of, audience, form, odd: choice.oddPages },
      ...{ span: span?.key ?? "", rubric: rubric ? assessedKey(rubric) : "" },
    },
    options: {
      ...{ whose: whose.options, contents, audiences: byFamily, days },
      spans: spans.map(({ key, words }): Option => [key, words]),
    },
    hasChromium: findChromium() !== null,
  };
}
