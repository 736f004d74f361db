import type { MessageKind } from "#core/dispatch/message-kinds.ts";
import type { Harm } from "#core/incidents/missing-facts.ts";
import type { JobActor } from "../access/actor.ts";
import type { Scope } from "../access/scope.ts";
import { keyIn, type KeyedRun } from "./app-key.ts";
import type { StoredContent } from "./incidents.ts";

/** Something that happened and may be worth a message. */
export interface News {
  /** The thing and the act of the audit: `entry made`. */
  what: string;
  byId: string | null;
  thingId: string;
  studentId: string;
}

/** Schools in which something happened that was not looked at yet, or a summary is due. */
export async function listSchoolsWithNews(database: KeyedRun): Promise<string[]> {
  const { rows } = await database.raw<{ rows: { school_id: string }[] }>("select * from gate.news_due(?)", [
    keyIn(database),
  ]);
  return rows.map(({ school_id }) => school_id);
}

/** So much is looked at in one transaction. */
const most = 500;

/** Takes out what happened, the oldest first: another process does not see it meanwhile, and afterwards it is gone. */
export async function takeNews({ trx, schoolId }: Scope<JobActor>): Promise<News[]> {
  const { rows } = await trx.raw<{
    rows: {
      news_id: string;
      person_id: string | null;
      thing: string;
      act: string;
      thing_id: string | null;
      student_id: string | null;
    }[];
  }>(
    `delete from news n using (select news_id from news where school_id = :schoolId order by news_id limit :most for update skip locked) t
     where n.school_id = :schoolId and n.news_id = t.news_id returning n.*`,
    { schoolId, most },
  );
  return rows
    .sort((a, b) => Number(a.news_id) - Number(b.news_id))
    .flatMap(({ thing, act, person_id, thing_id, student_id }) =>
      thing_id === null || student_id === null
        ? []
        : { what: `${thing} ${act}`, byId: person_id, thingId: thing_id, studentId: student_id },
    );
}

/** What is noted for a person's next summary. */
export interface SummaryNews {
  personId: string;
  kind: MessageKind;
  studentId: string;
  thingId: string;
  dueAt: Date;
}

/** Notes things for summaries; twice is once. */
export async function noteForSummaries(
  { trx, schoolId }: Scope<JobActor>,
  all: readonly SummaryNews[],
): Promise<void> {
  if (all.length === 0) return;
  await trx("summary_news")
    .insert(
      all.map(({ personId, kind, studentId, thingId, dueAt }) => ({
        ...{ school_id: schoolId, person_id: personId, kind, student_id: studentId, thing_id: thingId },
        due_at: dueAt,
      })),
    )
    .onConflict(["school_id", "person_id", "kind", "student_id", "thing_id"])
    .ignore();
}

/** Takes out what is due of summaries, by person, kind and student. */
export async function takeDueSummaries({
  trx,
  schoolId,
}: Scope<JobActor>): Promise<{ personId: string; kind: MessageKind; studentId: string; things: string[] }[]> {
  const { rows } = await trx.raw<{
    rows: { person_id: string; kind: MessageKind; student_id: string; things: string[] }[];
  }>(
    `with due as (
       delete from summary_news s using (select person_id, kind, student_id, thing_id from summary_news
         where school_id = :schoolId and due_at <= clock_now() for update skip locked) t
       where s.school_id = :schoolId and s.person_id = t.person_id and s.kind = t.kind and s.student_id = t.student_id
         and s.thing_id = t.thing_id returning s.*)
     select person_id, kind, student_id, jsonb_agg(thing_id order by at) as things from due
     group by person_id, kind, student_id order by person_id, student_id, kind`,
    { schoolId },
  );
  return rows.map((row) => ({
    ...{ personId: row.person_id, kind: row.kind, studentId: row.student_id, things: row.things },
  }));
}

/** Which of these are still there, and where it is an incident, what harm it tells of. */
export async function listStillThere(
  { trx, schoolId }: Scope,
  kind: MessageKind,
  ids: readonly string[],
): Promise<{ thingId: string; authorId: string; on: string; goalId: string | null; harm: Harm | null }[]> {
  const queries: Partial<Record<MessageKind, string>> = {
    entry: `select entry_id as id, author_id as author, goal_id, observed_on as on_day, null::jsonb as content
      from entries where school_id = :schoolId and entry_id = any(:ids) and state = 'kept'`,
    incident: `select incident_id as id, author_id as author, null::uuid as goal_id, occurred_on as on_day, content
      from incidents where school_id = :schoolId and incident_id = any(:ids) and state = 'kept'`,
    jot: `select jot_id as id, author_id as author, null::uuid as goal_id, noted_on as on_day, null::jsonb as content
      from jots where school_id = :schoolId and jot_id = any(:ids) and state = 'kept'`,
  };
  const query = queries[kind === "harm" ? "incident" : kind];
  if (query === undefined || ids.length === 0) return [];
  const { rows } = await trx.raw<{
    rows: { id: string; author: string; goal_id: string | null; on_day: string; content: unknown }[];
  }>(query, { schoolId, ids: [...ids] });
  return rows.map(({ id, author, goal_id, on_day, content }) => ({
    ...{ thingId: id, authorId: author, goalId: goal_id, on: on_day },
    harm: content === null ? null : (content as StoredContent).details.harm,
  }));
}

/** What people were last told of the standing of these goals. */
export async function listStandingsTold(
  { trx, schoolId }: Scope,
  goalIds: readonly string[],
): Promise<Map<string, string>> {
  const rows = await trx("standings_told")
    .where({ school_id: schoolId })
    .whereIn("goal_id", [...goalIds])
    .select("goal_id", "standing");
  return new Map(rows.map(({ goal_id, standing }) => [goal_id, standing]));
}

/** Notes the standing that people are told of from now on. */
export async function noteStandingsTold(
  { trx, schoolId, now }: Scope,
  all: readonly { studentId: string; goalId: string; standing: string }[],
): Promise<void> {
  if (all.length === 0) return;
  await trx("standings_told")
    .insert(
      all.map(({ studentId, goalId, standing }) => ({
        ...{ school_id: schoolId, student_id: studentId, goal_id: goalId, standing, at: now },
      })),
    )
    .onConflict(["school_id", "goal_id"])
    .merge(["standing", "at"]);
}

/** Notes patterns of a student as told. Answers with those that were not before. */
export async function notePatternsTold(
  { trx, schoolId }: Scope,
  studentId: string,
  findings: readonly string[],
): Promise<string[]> {
  if (findings.length === 0) return [];
  const rows: { finding: string }[] = await trx("patterns_told")
    .insert(findings.map((finding) => ({ school_id: schoolId, student_id: studentId, finding })))
    .onConflict(["school_id", "student_id", "finding"])
    .ignore()
    .returning("finding");
  return rows.map(({ finding }) => finding);
}
