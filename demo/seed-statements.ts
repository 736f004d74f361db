import { dateOfDay } from "#core/dates/day-number.ts";
import type { PersonActor } from "#server/access/actor.ts";
import type { PersonScope } from "#server/access/scope.ts";
import type { Transaction } from "#server/db/connection.ts";
import { readStatementFacts } from "#server/db/statement-facts.ts";
import { type PersonKey, school } from "./school.ts";
import { statementRatings, statementStories, statementWriters } from "./statements.ts";

/** The half-finished week of the demo's story: ratings, who writes what, and the statements so far, written on the last school day. */
export async function seedStatements(
  trx: Transaction,
  {
    schoolId,
    actorOf,
    personIds,
    goalOf,
    firstDay,
    day,
    newId,
  }: {
    schoolId: string;
    actorOf: (person: PersonKey) => PersonActor;
    personIds: Record<PersonKey, string>;
    goalOf: (given: string, number: string) => { studentId: string; goalId: string };
    /** The day number of the story's first day. */
    firstDay: number;
    /** The last school day of the story. */
    day: number;
    newId: (day: number) => string;
  },
): Promise<void> {
  const today = dateOfDay(firstDay + day);
  const from = dateOfDay(firstDay);
  const at = new Date(`${today}T23:30:00Z`);
  const ratings = statementRatings.map((rating, position) => ({
    ...{ school_id: schoolId, rating_id: newId(0), position },
    ...rating,
  }));
  await trx("statement_ratings").insert(ratings);
  const writers = new Map<string, PersonKey>();
  for (const [given, number, by] of statementWriters) {
    const { studentId: student_id, goalId: goal_id } = goalOf(given, number);
    writers.set(goal_id, by);
    await trx("statement_writers").insert({
      ...{ school_id: schoolId, student_id, goal_id, person_id: personIds[by] },
    });
  }
  // When some of the circle last had Wren's report open.
  const { studentId: wren } = goalOf("Wren", "2b");
  for (const [person, time] of [
    ["noor", "23:40"],
    ["ines", "19:10"],
    ["teo", "20:25"],
  ] as const)
    await trx("report_views").insert({
      ...{ school_id: schoolId, student_id: wren, person_id: personIds[person] },
      seen_at: new Date(`${today}T${time}:00Z`),
    });
  for (const { given, number, rating, words, translation = "", isReady } of statementStories) {
    const ids = goalOf(given, number);
    const by = writers.get(ids.goalId) ?? "noor";
    const scope: PersonScope = {
      ...{ actor: actorOf(by), schoolId, studentId: ids.studentId, circleRole: "lead", trx, today },
      ...{ timeZone: school.timeZone, now: at, localNow: `${today}T15:30` },
    };
    const { period, facts } = await readStatementFacts(scope, ids, from);
    const statement_id = newId(day);
    const rating_id = ratings.find(({ name }) => name === rating)?.rating_id ?? null;
    await trx("progress_statements").insert({
      ...{ school_id: schoolId, statement_id, student_id: ids.studentId, goal_id: ids.goalId },
      ...{ period_name: period.name, from_on: period.fromOn, to_on: period.toOn, words, translation },
      ...{ rating_id, author_id: personIds[by] },
      ...(isReady ? { ready_by: personIds[by], ready_at: at, facts: JSON.stringify(facts) } : {}),
    });
    await trx("revisions").insert({
      ...{ school_id: schoolId, thing: "statement", thing_id: statement_id, revision: 1, act: "made", at },
      person_id: personIds[by],
      content: JSON.stringify({ words, translation, withNumbers: true, ratingId: rating_id, ready: isReady }),
    });
  }
}
