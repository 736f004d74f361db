import type { Measure, ObservedEntry } from "#core/measures/measure.ts";
import type { ScoredRubric } from "#core/agreement/rubric-ratings.ts";
import type { Account } from "#core/agreement/match-observers.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { notFound } from "../errors.ts";
import { recordEvent } from "./events.ts";
import { asOfVersion, contentHash, type NewEntry, type SaveOutcome } from "./entries.ts";
import { shortName } from "#core/model/student-names.ts";
import { findGoal } from "./students.ts";

/** What a second observer saw; it never counts for the goal. */
export interface NewSecondObservation extends Omit<NewEntry, "sittingId" | "circumstances"> {
  /** The sitting that was joined, or null: its time tells then to which entry it belongs. */
  withSittingId: string | null;
  /** The student's own scoring, written down by this person. */
  own?: boolean;
}

/** Keeps a second observation; the same id with the same content is one, with other content a conflict. */
export async function saveSecondObservation(
  scope: PersonScope,
  ids: { goalId: string; studentId: string; measureVersion: number },
  make: (measure: Measure) => NewSecondObservation,
): Promise<SaveOutcome> {
  requirePermission(scope, "entry.record");
  const { trx, schoolId, actor } = scope;
  const now = await findGoal(scope, ids.studentId, ids.goalId);
  const goal = await asOfVersion(trx, schoolId, now, ids.measureVersion);
  const made = make(goal.measure);
  const hash = contentHash(goal.goalId, made);
  const { rows } = await trx.raw<{ rows: unknown[] }>(
    `insert into second_observations (school_id, observation_id, goal_id, student_id, measure_version, with_sitting_id,
       person_id, observed_at, observed_on, entry, score, note, own, made_hash)
     values (:schoolId, :entryId, :goalId, :studentId, :version, :withSittingId, :personId,
       :at, :observedLocal::date, :entry, :score, :note, :own, :hash)
     on conflict do nothing returning observation_id`,
    {
      schoolId,
      // Whoever watched is the second observer, also where somebody else wrote it down: they are never compared with themselves.
      personId: made.observerId ?? actor.personId,
      entryId: made.entryId,
      goalId: goal.goalId,
      studentId: ids.studentId,
      version: goal.measureVersion,
      withSittingId: made.withSittingId,
      at:
        made.deviceAt === undefined
          ? trx.raw("?::timestamp at time zone ?", [made.observedLocal, scope.timeZone])
          : alignedTime(made.deviceAt, made.clockAhead),
      observedLocal: made.observedLocal,
      entry: JSON.stringify(made.entry),
      score: JSON.stringify(made.score),
      note: made.note,
      own: made.own ?? false,
      hash,
    },
  );
  if (rows.length === 0) {
    const there = await trx.raw<{ rows: { made_hash: string }[] }>(
      "select made_hash from second_observations where school_id = ? and observation_id = ? and student_id = ?",
      [schoolId, made.entryId, ids.studentId],
    );
    return there.rows[0]?.made_hash === hash ? "already" : "conflict";
  }
  await recordEvent(scope, {
    act: "made",
    thing: "second observation",
    thingId: made.entryId,
    studentId: ids.studentId,
  });
  return "saved";
}

/** Two devices are put on one clock, the server's, to the second: marks are matched by it. */
function alignedTime(deviceAt: string, clockAhead = 0): string {
  return new Date(Date.parse(deviceAt) + clockAhead).toISOString();
}

/** What two observers recorded of one goal at one time; `first` is null while no entry belongs to it. */
export interface ObservedTwice {
  observationId: string;
  goalId: string;
  on: string;
  time: string;
  observerId: string;
  observer: string;
  note: string | null;
  measure: Measure;
  second: Account;
  first: (Account & { entryId: string; author: string }) | null;
  /** The student's own scoring. */
  own: boolean;
}

/** How far apart two observations may begin and still be of the same time, where no sitting says so. */
const minutesApart = 30;

/**
 * A goal's observations by a second observer, the latest first, each with the entry it belongs to: of the sitting that was
 * joined, or else the nearest in time that another person observed.
 */
export function listObservedTwice(scope: PersonScope, goalId: string): Promise<ObservedTwice[]> {
  return readObservedTwice(scope, "s.goal_id = :id and not s.own", goalId);
}

/** One entry that a second person observed too, with how far the two agree; null where there is none. */
export async function findObservedTwice(
  scope: PersonScope,
  studentId: string,
  observationId: string,
): Promise<ObservedTwice | null> {
  const where = "s.observation_id = :id and s.student_id = :studentId";
  return (await readObservedTwice(scope, where, observationId, studentId))[0] ?? null;
}

async function readObservedTwice(
  { trx, schoolId, timeZone }: Scope,
  where: string,
  id: string,
  studentId = "",
): Promise<ObservedTwice[]> {
  const { rows } = await trx.raw<{
    rows: {
      observation_id: string;
      goal_id: string;
      on: string;
      time: string;
      person_id: string;
      given_name: string;
      family_name: string;
      note: string | null;
      own: boolean;
      measure: Measure;
      entry: ObservedEntry;
      at: Date;
      entry_id: string | null;
      first_given: string | null;
      first_family: string | null;
      first_entry: ObservedEntry;
      first_at: Date;
    }[];
  }>(
    `select s.observation_id, s.goal_id, s.observed_on as on, to_char(s.observed_at at time zone :timeZone, 'HH24:MI') as time,
       s.person_id, p.given_name, p.family_name, s.note, s.own, m.measure, s.entry, s.observed_at as at,
       f.entry_id, f.given_name as first_given, f.family_name as first_family, f.entry as first_entry, f.at as first_at
     from second_observations s
     join people p on p.school_id = s.school_id and p.person_id = s.person_id
     join goal_measures m on m.school_id = s.school_id and m.goal_id = s.goal_id and m.version = s.measure_version
     left join lateral (
       select e.entry_id, e.entry, o.given_name, o.family_name,
         coalesce(e.device_at + make_interval(secs => coalesce(e.clock_ahead, 0) / 1000.0), e.observed_at) as at
       from entries e
       join people o on o.school_id = e.school_id and o.person_id = coalesce(e.observer_id, e.author_id)
       where e.school_id = s.school_id and e.goal_id = s.goal_id and e.state = 'kept'
         and e.measure_version = s.measure_version and coalesce(e.observer_id, e.author_id) <> s.person_id
         and (e.sitting_id = s.with_sitting_id
           or s.with_sitting_id is null and abs(extract(epoch from e.observed_at - s.observed_at)) <= :apart * 60)
       order by abs(extract(epoch from e.observed_at - s.observed_at)), e.entry_id limit 1) f on true
     where s.school_id = :schoolId and ${where} and s.removed_at is null
     order by s.observed_at desc, s.observation_id`,
    { schoolId, timeZone, id, studentId, apart: minutesApart },
  );
  return rows.map((row) => ({
    observationId: row.observation_id,
    goalId: row.goal_id,
    on: row.on,
    time: row.time,
    observerId: row.person_id,
    observer: shortName(row.given_name, row.family_name),
    ...{ note: row.note, own: row.own, measure: row.measure },
    second: { entry: row.entry, at: row.at.getTime() },
    first:
      row.entry_id === null
        ? null
        : {
            entryId: row.entry_id,
            author: shortName(row.first_given ?? "", row.first_family ?? ""),
            entry: row.first_entry,
            at: row.first_at.getTime(),
          },
  }));
}

/** A second person's scoring of a rubric, or the student's own. */
export interface SecondRating extends ScoredRubric {
  observationId: string;
  goalId: string;
}

/** Every rubric of a student that was scored beside the entries, the oldest first. */
export async function listSecondRatings(
  { trx, schoolId, timeZone }: Scope,
  studentId: string,
): Promise<SecondRating[]> {
  const { rows } = await trx.raw<{
    rows: (Pick<SecondRating, "on" | "time" | "entry" | "score"> &
      Record<"observation_id" | "goal_id" | "person_id" | "given_name" | "family_name", string> & {
        own: boolean;
      })[];
  }>(
    `select s.observation_id, s.goal_id, s.observed_on as on, to_char(s.observed_at at time zone :timeZone, 'HH24:MI') as time,
       s.person_id, p.given_name, p.family_name, s.own, s.entry, s.score
     from second_observations s join people p on p.school_id = s.school_id and p.person_id = s.person_id
     where s.school_id = :schoolId and s.student_id = :studentId and s.removed_at is null and s.entry ->> 'kind' = 'rubric'
     order by s.observed_at, s.observation_id`,
    { schoolId, timeZone, studentId },
  );
  return rows.map(({ observation_id, goal_id, person_id, given_name, family_name, ...row }) => ({
    ...{ observationId: observation_id, goalId: goal_id, ...row },
    ...{ observerId: person_id, observer: shortName(given_name, family_name) },
  }));
}

/** Takes a second observation out of the comparison; it stays in the records. Answers the goal it was of. */
export async function removeSecondObservation(
  scope: PersonScope,
  ids: { studentId: string; observationId: string },
): Promise<string> {
  const { trx, schoolId, actor } = scope;
  const key = {
    school_id: schoolId,
    observation_id: ids.observationId,
    student_id: ids.studentId,
  };
  const row =
    (await trx<{ person_id: string; goal_id: string }>("second_observations").where(key).first()) ??
    notFound();
  requirePermission(scope, "entry.remove", row.person_id);
  await trx("second_observations")
    .where(key)
    .whereNull("removed_at")
    .update({ removed_at: trx.raw("clock_now()"), removed_by: actor.personId });
  await recordEvent(scope, {
    act: "removed",
    thing: "second observation",
    thingId: key.observation_id,
    studentId: ids.studentId,
  });
  return row.goal_id;
}
