import { v5 as idOf } from "uuid";
import { isFlagged } from "#core/incidents/missing-facts.ts";
import { choosePatterns, readChoice } from "#core/incidents/choose.ts";
import { type ChosenKind, type MessageKind, wayOf } from "#core/dispatch/message-kinds.ts";
import { nextSummary } from "#core/dispatch/sending-hours.ts";
import { weekOf } from "#core/dates/week.ts";
import { groupBy } from "#core/lists/group-by.ts";
import { daysInSession, isInSession } from "#core/schedule/calendar.ts";
import { judgeGoal } from "#core/progress/goal-figures.ts";
import type { JobActor } from "../access/actor.ts";
import type { Scope } from "../access/scope.ts";
import { readCalendar } from "../db/calendar.ts";
import { listAskedPeople } from "../db/coverage.ts";
import type { Database } from "../db/connection.ts";
import { listEditions } from "../db/editions.ts";
import { listGuardianReaders, listStaffReaders, type StaffReader } from "../db/message-readers.ts";
import { addMessages, gatherMessage, listToldOfHarm } from "../db/messages.ts";
import {
  listStandingsTold,
  listStillThere,
  type News,
  noteForSummaries,
  notePatternsTold,
  noteStandingsTold,
  type SummaryNews,
  takeDueSummaries,
  takeNews,
} from "../db/news.ts";
import { readPatternMaterial } from "../db/pattern-material.ts";
import { listStatementWriters } from "../db/progress-statements.ts";
import { listStudentsWithIncidents } from "../db/incident-lists.ts";
import { withScope } from "../db/school.ts";
import { listAbsences, listGoals, listStudentIds } from "../db/students.ts";

/** So long it is waited for more of the same before a message goes. */
const gatherMs = 60_000;

/** The name space of ids made from a person and a day (RFC 9562, version 5). */
const dueNames = "5c0c9f0e-2f57-4b0a-9a57-0c6f2a1d7e11";

/** Of which kind what happened is news to the staff of a circle. */
const kindOf: Readonly<Record<string, ChosenKind>> = {
  "entry made": "entry",
  "incident made": "incident",
  "jot made": "jot",
  "edition made": "edition",
  "guardian asked": "question",
  "held item received": "held",
  "statement writer chosen": "statement",
};

/** What only the leads of a circle are sent. */
const forLeads: ReadonlySet<MessageKind> = new Set(["question", "held"]);

/** Standings that a team wants to hear of when they come. */
const toldStandings: ReadonlySet<string> = new Set(["reached", "behind", "lost"]);

const actorOf = (schoolId: string): JobActor => ({ kind: "job", schoolId, name: "hear" });

/** Something a reader is to hear of. */
interface Told {
  reader: StaffReader;
  kind: ChosenKind;
  thingId: string;
  goalId?: string;
  standing?: string;
}

/** Puts what people are to hear of into messages, or into their next summary, as each has chosen. */
async function tell(scope: Scope<JobActor>, all: readonly Told[]): Promise<void> {
  if (all.length === 0) return;
  const school = { timeZone: scope.timeZone, calendar: await readCalendar(scope) };
  const summaries: SummaryNews[] = [];
  const atOnce: Told[] = [];
  for (const told of all) {
    const { reader, kind, thingId } = told;
    const way = wayOf(reader.choices, kind);
    if (reader.isMuted || way === "off") continue;
    if (way === "once") atOnce.push(told);
    else
      summaries.push({
        ...{ personId: reader.personId, studentId: reader.studentId, kind, thingId },
        dueAt: new Date(nextSummary(scope.now.getTime(), way, reader.hours, school)),
      });
  }
  await noteForSummaries(scope, summaries);
  const groups = groupBy(
    atOnce,
    ({ reader, kind, goalId = "" }) => `${reader.personId} ${reader.studentId} ${kind} ${goalId}`,
  );
  for (const [first, ...more] of groups.values()) {
    if (!first) continue;
    const { reader, kind, goalId, standing } = first;
    await gatherMessage(scope, {
      ...{ kind, studentId: reader.studentId, gatherMs, reader: { personId: reader.personId } },
      about: {
        things: [first, ...more].map(({ thingId }) => thingId),
        ...(goalId ? { goalId } : {}),
        ...(standing ? { standing } : {}),
      },
    });
  }
}

/** Incidents with an injury, a restraint or seclusion: everybody in the circle hears of them at once, whatever they chose. */
async function tellOfHarm(scope: Scope<JobActor>, news: readonly News[], readers: readonly StaffReader[]) {
  const incidents = news.filter(({ what }) => what.startsWith("incident "));
  if (incidents.length === 0) return new Set<string>();
  const there = await listStillThere(
    scope,
    "incident",
    incidents.map(({ thingId }) => thingId),
  );
  const flagged = new Set(
    there.flatMap(({ thingId, harm }) => (harm !== null && isFlagged(harm) ? thingId : [])),
  );
  if (flagged.size === 0) return flagged;
  const told = await listToldOfHarm(scope, [...flagged]);
  const messages = new Map(
    incidents
      .filter(({ thingId }) => flagged.has(thingId))
      .flatMap(({ thingId, studentId, byId }) =>
        readers
          .filter(
            (reader) =>
              reader.studentId === studentId &&
              reader.personId !== byId &&
              !told.has(`${reader.personId} ${thingId}`),
          )
          .map(
            ({ personId }) =>
              [
                `${personId} ${thingId}`,
                { kind: "harm" as const, reader: { personId }, studentId, about: { things: [thingId] } },
              ] as const,
          ),
      ),
  );
  await addMessages(scope, [...messages.values()]);
  return flagged;
}

/** Goals whose standing changed to one that a team wants to hear of. The first standing of a goal is only noted. */
async function standingsOf(
  scope: Scope<JobActor>,
  news: readonly News[],
  readers: readonly StaffReader[],
): Promise<Told[]> {
  const studentIds = new Set(news.flatMap(({ what, studentId }) => (what === "entry made" ? studentId : [])));
  const calendar = await readCalendar(scope);
  const told: Told[] = [];
  for (const studentId of studentIds) {
    const absences = await listAbsences(scope, studentId);
    const goals = (await listGoals(scope, studentId)).filter(({ ended }) => ended === null);
    const before = await listStandingsTold(
      scope,
      goals.map(({ goalId }) => goalId),
    );
    const now = goals.flatMap(({ goalId, setup, summary }) =>
      summary
        ? {
            ...{ studentId, goalId },
            standing: judgeGoal(summary, setup, {
              ...{ today: scope.today, calendar, lastOn: summary.lastOn, absences },
            }).standing.key,
          }
        : [],
    );
    const changed = now.filter(({ goalId, standing }) => before.get(goalId) !== standing);
    await noteStandingsTold(scope, changed);
    for (const { goalId, standing } of changed)
      if (before.has(goalId) && toldStandings.has(standing))
        told.push(
          ...readers
            .filter((reader) => reader.studentId === studentId)
            .map((reader) => ({ reader, kind: "finding" as const, thingId: goalId, goalId, standing })),
        );
  }
  return told;
}

/** What families are sent: a report on their page, an answer, and that their question arrived. */
async function tellFamilies(scope: Scope<JobActor>, news: readonly News[]): Promise<void> {
  for (const { what, thingId, studentId } of news) {
    if (what === "edition shared") {
      const shared = (await listEditions(scope, studentId)).find(({ editionId }) => editionId === thingId);
      if (!shared?.shares.some(({ how }) => how === "family page")) continue;
      const guardians = await listGuardianReaders(scope, studentId);
      for (const guardianId of guardians)
        await gatherMessage(scope, {
          ...{ kind: "edition", studentId, gatherMs, reader: { guardianId }, about: { things: [thingId] } },
        });
    }
    if (what === "guardian asked" || what === "guardian answered") {
      // The thing is the guardian.
      if (!(await listGuardianReaders(scope, studentId)).includes(thingId)) continue;
      await addMessages(scope, [
        what === "guardian asked"
          ? {
              ...{ kind: "receipt", reader: { guardianId: thingId }, studentId, gatherMs },
              about: { receipt: "question received" },
            }
          : { kind: "answer", reader: { guardianId: thingId }, studentId, about: {}, gatherMs },
      ]);
    }
  }
}

/** Makes one message of each person's summary that is due. */
async function summarise(scope: Scope<JobActor>): Promise<void> {
  const due = groupBy(await takeDueSummaries(scope), ({ personId }) => personId);
  await addMessages(
    scope,
    [...due].map(([personId, news]) => ({
      ...{ kind: "digest" as const, reader: { personId }, studentId: null },
      about: { news: news.map(({ kind, studentId, things }) => ({ kind, studentId, things })) },
    })),
  );
}

/**
 * Looks at what happened in a school since the last time and makes messages of it, in one transaction: what was looked at is gone exactly when its
 * messages are there. Whoever did something is not told of it.
 *
 * @param mails whether the school sends mail at all: without, nothing is stored for later
 */
export async function hearNews(database: Database, schoolId: string, mails: boolean): Promise<void> {
  await withScope(database, actorOf(schoolId), null, async (scope) => {
    const news = await takeNews(scope);
    if (!mails) {
      await takeDueSummaries(scope);
      return;
    }
    if (news.length > 0) {
      const readers = await listStaffReaders(scope, [...new Set(news.map(({ studentId }) => studentId))]);
      const flagged = await tellOfHarm(scope, news, readers);
      const told: Told[] = [];
      for (const { what, thingId, studentId, byId } of news) {
        const kind = kindOf[what];
        if (kind === undefined || flagged.has(thingId)) continue;
        const writer =
          kind === "statement" ? (await listStatementWriters(scope, [thingId])).get(thingId)?.personId : null;
        told.push(
          ...readers
            .filter(
              (reader) =>
                reader.studentId === studentId &&
                reader.personId !== byId &&
                (!forLeads.has(kind) || reader.circleRole === "lead") &&
                (kind !== "statement" || reader.personId === writer),
            )
            .map((reader) => ({
              ...{ reader, kind, thingId },
              ...(kind === "statement" ? { goalId: thingId } : {}),
            })),
        );
      }
      await tell(scope, [...told, ...(await standingsOf(scope, news, readers))]);
      await tellFamilies(scope, news);
    }
    await summarise(scope);
  });
}

/** Patterns of whose incidents of so many days are looked at. */
const recentDays = 14;

/** Makes the morning's messages of the people who want to hear which data are due: each day of school, or on the first of the week. */
async function planDue(scope: Scope<JobActor>): Promise<void> {
  const calendar = await readCalendar(scope);
  if (!isInSession(calendar, scope.today)) return;
  const isFirst = daysInSession(calendar, weekOf(scope.today), scope.today).length === 1;
  const readers = await listStaffReaders(scope, await listStudentIds(scope));
  const asked = new Set(await listAskedPeople(scope, scope.today));
  const wanting = new Set(
    readers.flatMap(({ personId, choices }) => {
      const way = wayOf(choices, "due");
      // Who is asked by name hears of it, but for who wants to hear of nothing that is due.
      if (choices.due !== "off" && asked.has(personId)) return personId;
      return way === "daily" || (way === "weekly" && isFirst) ? personId : [];
    }),
  );
  // The id is of the day: looked at twice, it is one message.
  await addMessages(
    scope,
    [...wanting].map((personId) => ({
      ...{ kind: "due" as const, reader: { personId }, studentId: null, about: {} },
      messageId: idOf(`${personId} due ${scope.today}`, dueNames),
    })),
  );
}

/** Looks once a night for patterns that nobody was told of, and for people who want to hear in the morning which data are due. */
export async function lookAhead(database: Database, schoolId: string, mails: boolean): Promise<void> {
  if (!mails) return;
  const asJob = <T>(work: (scope: Scope<JobActor>) => Promise<T>) =>
    withScope(database, actorOf(schoolId), null, work);
  for (const studentId of await asJob((scope) => listStudentsWithIncidents(scope, recentDays)))
    await asJob(async (scope) => {
      const { material } = await readPatternMaterial(scope, studentId);
      const { findings } = choosePatterns(material, readChoice(new URLSearchParams(), material)).patterns;
      const strong = findings.filter(({ strength }) => strength === "strong");
      const fresh = await notePatternsTold(
        scope,
        studentId,
        strong.map(({ kind, labels }) => [kind, ...labels].join(" | ").slice(0, 500)),
      );
      if (fresh.length === 0) return;
      const readers = await listStaffReaders(scope, [studentId]);
      await tell(
        scope,
        readers.map((reader) => ({
          ...{ reader, kind: "finding" as const, thingId: studentId, standing: "pattern" },
        })),
      );
    });
  await asJob(planDue);
}
