import { v7 as newId } from "uuid";
import type { DateSpan } from "#core/dates/date-span.ts";
import type { ProgressStatement } from "#core/report/progress-statement.ts";
import { type StatementFacts, statementFactsSchema } from "#core/report/statement-facts.ts";
import type { StatementContent } from "#core/model/progress-statement.ts";
import { shortName } from "#core/model/student-names.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { recordStep } from "./revisions.ts";
import { recordEvent } from "./events.ts";
import { listCircle } from "./goals.ts";
import { findGoal } from "./students.ts";
import type { Tables } from "./tables.ts";

interface StatementRow extends Omit<Tables["progress_statements"], "school_id" | "ready_at" | "facts"> {
  facts: unknown;
  rating: string | null;
  spanish: string | null;
  given_name: string;
  family_name: string;
  ready_given: string | null;
  ready_family: string | null;
  ready_on: string | null;
  newer: boolean;
}

/** Was an entry of the goal recorded, corrected or removed since the statement was marked ready, of a day of its period or before? */
const isNewer = `exists (select 1 from entries e
  join revisions v on v.school_id = e.school_id and v.thing = 'entry' and v.thing_id = e.entry_id
  where e.school_id = s.school_id and e.goal_id = s.goal_id and e.observed_on <= s.to_on and v.at > s.ready_at)`;

const readStatements = (where: string) => `
  select s.statement_id, s.student_id, s.goal_id, s.period_name, s.from_on, s.to_on, s.words, s.translation, s.with_numbers, s.rating_id,
    s.author_id, s.ready_by, s.facts, s.revision, r.name as rating, r.spanish, p.given_name, p.family_name,
    q.given_name as ready_given, q.family_name as ready_family, (s.ready_at at time zone :timeZone)::date as ready_on,
    s.ready_at is not null and ${isNewer} as newer
  from progress_statements s
  join people p on p.school_id = s.school_id and p.person_id = s.author_id
  left join people q on q.school_id = s.school_id and q.person_id = s.ready_by
  left join statement_ratings r on r.school_id = s.school_id and r.rating_id = s.rating_id
  where s.school_id = :schoolId and ${where} order by s.from_on desc, s.statement_id`;

/** Facts as they were stored; those of another format than this program reads are made anew with the next *ready*. */
function readFacts(stored: unknown): StatementFacts | null {
  const read = statementFactsSchema.safeParse(stored);
  return read.success ? read.data : null;
}

function toStatement(row: StatementRow): ProgressStatement {
  return {
    ...{ statementId: row.statement_id, studentId: row.student_id, goalId: row.goal_id },
    period: { name: row.period_name, fromOn: row.from_on, toOn: row.to_on },
    content: {
      ...{ words: row.words, translation: row.translation },
      ...{ withNumbers: row.with_numbers, ratingId: row.rating_id },
    },
    rating:
      row.rating_id === null
        ? null
        : { ratingId: row.rating_id, name: row.rating ?? "", spanish: row.spanish ?? "" },
    author: shortName(row.given_name, row.family_name),
    ready:
      row.ready_on === null
        ? null
        : {
            by: shortName(row.ready_given ?? "", row.ready_family ?? ""),
            ...{ on: row.ready_on, facts: readFacts(row.facts), isNewer: row.newer },
          },
    revision: row.revision,
  };
}

/**
 * The statements of goals for a reporting period. A statement belongs to the period that its middle day lies in, so that it stays there
 * when the school moves the period's first or last day.
 */
export async function listPeriodStatements(
  { trx, schoolId, timeZone }: Scope,
  goalIds: readonly string[],
  { fromOn, toOn }: DateSpan,
): Promise<Map<string, ProgressStatement>> {
  const { rows } = await trx.raw<{ rows: StatementRow[] }>(
    readStatements(
      "s.goal_id = any(:goalIds) and s.from_on + (s.to_on - s.from_on) / 2 between :fromOn::date and :toOn::date",
    ),
    { schoolId, timeZone, goalIds: [...goalIds], fromOn, toOn },
  );
  // Where a period was split so that two fall into one, the later one is shown.
  return new Map(rows.toReversed().map((row) => [row.goal_id, toStatement(row)]));
}

/** The statements of one student that were marked ready, of all periods, the latest first. */
export async function listReadyStatements(
  { trx, schoolId, timeZone }: Scope,
  studentId: string,
): Promise<ProgressStatement[]> {
  const { rows } = await trx.raw<{ rows: StatementRow[] }>(
    readStatements("s.student_id = :studentId and s.ready_at is not null"),
    { schoolId, timeZone, studentId },
  );
  return rows.map(toStatement);
}

/** The last statement that was written before a period, of a goal or of one that it continues; null where there is none. */
export async function findEarlierStatement(
  { trx, schoolId, timeZone }: Scope,
  goalIds: readonly string[],
  { fromOn }: Pick<DateSpan, "fromOn">,
): Promise<ProgressStatement | null> {
  const { rows } = await trx.raw<{ rows: StatementRow[] }>(
    `${readStatements("s.goal_id = any(:goalIds) and s.to_on < :fromOn and (s.words <> '' or s.rating_id is not null)")} limit 1`,
    { schoolId, timeZone, goalIds: [...goalIds], fromOn },
  );
  return rows[0] ? toStatement(rows[0]) : null;
}

/** Who writes the statements of goals, where that is not the case manager. One who left the circle writes no longer. */
export async function listStatementWriters(
  { trx, schoolId }: Scope,
  goalIds: readonly string[],
): Promise<Map<string, { personId: string; name: string }>> {
  const { rows } = await trx.raw<{
    rows: { goal_id: string; person_id: string; given_name: string; family_name: string }[];
  }>(
    `select w.goal_id, w.person_id, p.given_name, p.family_name
     from statement_writers w join people p on p.school_id = w.school_id and p.person_id = w.person_id
     where w.school_id = :schoolId and w.goal_id = any(:goalIds) and p.left_on is null
       and exists (select 1 from circle c where c.school_id = w.school_id and c.student_id = w.student_id and c.person_id = w.person_id
         and c.part in ('lead', 'record') and in_circle_now(c.from_on, c.to_on))`,
    { schoolId, goalIds: [...goalIds] },
  );
  return new Map(
    rows.map((row) => [
      row.goal_id,
      { personId: row.person_id, name: shortName(row.given_name, row.family_name) },
    ]),
  );
}

interface StatementIds {
  studentId: string;
  goalId: string;
}

/**
 * Chooses who writes the statements of a goal from now on; null: the case manager.
 *
 * @returns "not in the circle" where the person may not record for the student
 */
export async function chooseStatementWriter(
  scope: PersonScope,
  { studentId, goalId }: StatementIds,
  personId: string | null,
): Promise<"saved" | "not in the circle"> {
  requirePermission(scope, "statement.assign");
  await findGoal(scope, studentId, goalId);
  const key = { school_id: scope.schoolId, goal_id: goalId };
  if (personId === null) await scope.trx("statement_writers").where(key).delete();
  else {
    const circle = await listCircle(scope, studentId);
    if (!circle.some((one) => one.personId === personId && one.circleRole !== "read"))
      return "not in the circle";
    await scope
      .trx("statement_writers")
      .insert({ ...key, student_id: studentId, person_id: personId })
      .onConflict(["school_id", "goal_id"])
      .merge(["person_id"]);
  }
  await recordEvent(scope, { thing: "statement", act: "writer chosen", thingId: goalId, studentId });
  return "saved";
}

/** Throws unless the person may write the statements of this goal: they lead the student's circle, or were chosen to. */
export async function requireStatementWriter(scope: PersonScope, goalId: string): Promise<void> {
  const writer = (await listStatementWriters(scope, [goalId])).get(goalId);
  requirePermission(scope, "statement.write", writer?.personId);
}

const isSame = (a: StatementContent, b: StatementContent) =>
  a.words === b.words &&
  a.translation === b.translation &&
  a.withNumbers === b.withNumbers &&
  a.ratingId === b.ratingId;

/**
 * Saves what is written of a goal for a period, as a draft or as ready. Ready keeps the numbers as its writer read them.
 *
 * @param expectedRevision the one that stood when the form was opened; 0 where there was none
 * @param facts the numbers that the writer read; null for a draft
 */
export async function saveStatement(
  scope: PersonScope,
  { studentId, goalId }: StatementIds,
  {
    period,
    content,
    facts,
    expectedRevision,
  }: { period: DateSpan; content: StatementContent; facts: StatementFacts | null; expectedRevision: number },
): Promise<"saved" | "conflict"> {
  await requireStatementWriter(scope, goalId);
  await findGoal(scope, studentId, goalId);
  const { trx, schoolId, actor, now } = scope;
  // Two who write at once take turns.
  await trx.raw("select 1 from goals where school_id = ? and goal_id = ? for update", [schoolId, goalId]);
  const stands = (await listPeriodStatements(scope, [goalId], period)).get(goalId);
  if ((stands?.revision ?? 0) !== expectedRevision) return "conflict";
  const isUnchanged = stands && isSame(stands.content, content);
  if (facts === null && (isUnchanged ? stands.ready === null : isSame(content, nothingWritten) && !stands))
    return "saved";
  const statementId = stands?.statementId ?? newId();
  const written = {
    ...{ period_name: period.name, to_on: period.toOn },
    ...{ words: content.words, translation: content.translation, with_numbers: content.withNumbers },
    ...{ rating_id: content.ratingId, author_id: actor.personId },
    ready_by: facts && actor.personId,
    ready_at: facts && now,
    facts: facts && JSON.stringify(facts),
  };
  const revision = expectedRevision + 1;
  if (stands)
    await trx("progress_statements")
      .where({ school_id: schoolId, statement_id: statementId })
      .update({ ...written, revision });
  else
    await trx("progress_statements").insert({
      ...{ school_id: schoolId, statement_id: statementId, student_id: studentId, goal_id: goalId },
      ...{ from_on: period.fromOn, ...written },
    });
  await recordStep(scope, "statement", {
    ...{ studentId, thingId: statementId, revision, act: stands ? "corrected" : "made" },
    content: { ...content, ready: facts !== null },
  });
  return "saved";
}

const nothingWritten: StatementContent = { words: "", translation: "", withNumbers: true, ratingId: null };
