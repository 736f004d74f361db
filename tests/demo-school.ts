import { createHash } from "node:crypto";
import { v7 as newId } from "uuid";
import type { PersonScope } from "#server/access/scope.ts";
import type { Database } from "#server/db/connection.ts";
import type { EntryContent, NewEntry } from "#server/db/entries.ts";
import type { PersonActor } from "#server/access/actor.ts";
import { withScope } from "#server/db/school.ts";
import { readEntry } from "#core/measures/measure.ts";
import { people, type PersonKey, school } from "#demo/school.ts";

/** Ids of the demo school that tests ask for by the names of the story. */
export interface DemoIds {
  schoolId: string;
  person: (key: PersonKey) => PersonActor;
  student: (givenName: string) => string;
  goal: (givenName: string, number: string) => string;
}

/** The token's hash of the session that each person of the demo has in tests, whoever signs in besides. */
export const testSession = (personId: string): Buffer =>
  createHash("sha256").update(`test session of ${personId}`).digest();

export async function demoIds(owner: Database): Promise<DemoIds> {
  const memberships = await owner
    .withSchema("gate")
    .from("memberships")
    .select<{ account_id: string; school_id: string; person_id: string }[]>(
      "account_id",
      "school_id",
      "person_id",
    );
  await owner
    .withSchema("gate")
    .into("sessions")
    .insert(memberships.map((one) => ({ ...one, token_hash: testSession(one.person_id) })))
    .onConflict("token_hash")
    .ignore();
  const staff = await owner<{
    school_id: string;
    person_id: string;
    given_name: string;
    role: PersonActor["role"];
    case_manager: boolean;
  }>("people").select();
  const goals: { student_id: string; given_name: string; goal_id: string | null; number: string | null }[] =
    await owner("students as s")
      .leftJoin("goals as g", "g.student_id", "s.student_id")
      .select("s.student_id", "s.given_name", "g.goal_id", "g.number");
  const schoolId = staff[0]?.school_id ?? "";
  const must = <T>(found: T | null | undefined, what: string): T => {
    if (found === null || found === undefined) throw new Error(`the demo has no ${what}`);
    return found;
  };
  return {
    schoolId,
    person: (key) => {
      const { given, family } = people[key];
      const row = must(
        staff.find((one) => one.given_name === given),
        key,
      );
      return {
        kind: "person",
        session: testSession(row.person_id),
        schoolId,
        personId: row.person_id,
        role: row.role,
        caseManager: row.case_manager,
        givenName: given,
        familyName: family,
        schoolName: school.name,
        timeZone: school.timeZone,
        locale: "en-US",
        ...{ schools: 1, isDistrict: false, missesStep: false, trailOver: true },
      };
    },
    student: (givenName) => must(goals.find((one) => one.given_name === givenName)?.student_id, givenName),
    goal: (givenName, number) =>
      must(
        goals.find((one) => one.given_name === givenName && one.number === number)?.goal_id,
        `${givenName} ${number}`,
      ),
  };
}

/** Runs work as a person in a student's circle, in the same scope as the routes. */
export function inScope<T>(
  app: Database,
  person: PersonActor,
  studentId: string | null,
  work: (scope: PersonScope) => Promise<T>,
): Promise<T> {
  return withScope(app, person, studentId, work);
}

/** Gives a goal measured in trials entries, nine hours apart backwards from now, until it has so many. */
export async function fillGoal(
  owner: Database,
  { goalId, personId, count }: { goalId: string; personId: string; count: number },
): Promise<void> {
  await owner.raw(
    `insert into entries (school_id, entry_id, goal_id, student_id, measure_version, author_id, observed_at, observed_on,
       purpose, entry, score, value, numerator, denominator, made_hash)
     select g.school_id, gen_random_uuid(), g.goal_id, g.student_id, 1, :personId, at, at::date, 'probe',
       jsonb_build_object('kind', 'trials', 'correct', right_ones, 'attempted', 10),
       jsonb_build_object('value', 10 * right_ones, 'unit', 'percent', 'numerator', right_ones, 'denominator', 10),
       10 * right_ones, right_ones, 10, md5(g.goal_id::text || :count || n)
     from goals g,
       generate_series(1, :count - (select count(*)::int from entries where goal_id = :goalId and state = 'kept')) n,
       lateral (select clock_now() - make_interval(hours => 9 * n) as at, (3 + n * 7 % 5)::int as right_ones) t
     where g.goal_id = :goalId`,
    { goalId, personId, count },
  );
}

export function content(correct: number, attempted: number, part: Partial<EntryContent> = {}): EntryContent {
  const read = readEntry({ kind: "trials" }, { kind: "trials", correct, attempted });
  if (!read.ok) throw new Error("not an entry");
  return {
    observedLocal: "2026-11-20T10:15",
    purpose: "probe",
    entry: read.entry,
    score: read.score,
    note: null,
    ...part,
  };
}

export function draft(
  ids: { studentId: string; goalId: string },
  correct = 7,
  attempted = 10,
  part: Partial<NewEntry> = {},
): NewEntry {
  return { ...ids, entryId: newId(), ...content(correct, attempted), ...part };
}

/** As many copies of a goal on its student's page, none with an entry. */
export async function copiesOfGoal(owner: Database, goalId: string, count: number): Promise<void> {
  await owner.raw(
    `with made as (
       insert into goals (school_id, goal_id, student_id, number, position, area, title, wording, criterion, start_on, due_on)
       select school_id, gen_random_uuid(), student_id, 'x' || n, 10 + n, area, title || ' ' || n, wording, criterion, start_on, due_on
       from goals, generate_series(1, ?) n where goal_id = ? returning school_id, goal_id, student_id),
     measured as (
       insert into goal_measures (school_id, goal_id, version, measure)
       select made.school_id, made.goal_id, 1, m.measure from made, goal_measures m where m.goal_id = ? and m.version = 1)
     insert into goal_summaries (school_id, goal_id, student_id) select school_id, goal_id, student_id from made`,
    [count, goalId, goalId],
  );
}
