import type { Database } from "#server/db/connection.ts";

/** So much was recorded of the student, the last of it today. */
export const fiveYears = { entries: 3000, incidents: 1500 };

/**
 * Gives a student five years of school: the goals of today's IEP, those of four earlier years that ended, entries of all of them and
 * incidents like the student's own, and a calendar that has these years.
 *
 * @param goalId a goal measured in trials, after which all others are made
 */
export async function fillFiveYears(
  owner: Database,
  { studentId, personId, goalId }: { studentId: string; personId: string; goalId: string },
): Promise<void> {
  await owner.raw(
    `insert into school_years (school_id, year_id, name, from_on, to_on)
     select school_id, gen_random_uuid(), 'Year ' || n, (from_on - make_interval(years => n))::date,
       (to_on - make_interval(years => n))::date
     from school_years, generate_series(1, 4) n`,
  );
  await owner.raw(
    `insert into reporting_periods (school_id, period_id, name, from_on, to_on)
     select school_id, gen_random_uuid(), name || ' of year ' || n, (from_on - make_interval(years => n))::date,
       (to_on - make_interval(years => n))::date
     from reporting_periods, generate_series(1, 4) n`,
  );
  const perYear = 4;
  await owner.raw(
    `with made as (
       insert into goals (school_id, goal_id, student_id, number, position, area, title, wording, criterion, start_on, due_on,
         schedule, measured_by, ended, ended_on, ended_reason)
       select g.school_id, gen_random_uuid(), g.student_id, 'y' || n || '-' || k, 100 + 10 * n + k, g.area, g.title, g.wording,
         g.criterion, (clock_now() - make_interval(days => 365 * (n + 1)))::date, null, g.schedule, g.measured_by,
         case when n > 0 then 'discontinued' end,
         case when n > 0 then (clock_now() - make_interval(days => 365 * n))::date end, ''
       from goals g, generate_series(0, 4) n, generate_series(1, :perYear) k where g.goal_id = :goalId
       returning school_id, goal_id, student_id, start_on),
     measured as (
       insert into goal_measures (school_id, goal_id, version, measure, from_at)
       select m.school_id, m.goal_id, 1, k.measure, m.start_on from made m, goal_measures k
       where k.goal_id = :goalId and k.version = 1),
     summed as (
       insert into goal_summaries (school_id, goal_id, student_id, summary)
       select school_id, goal_id, student_id, null from made)
     select 1`,
    { goalId, perYear },
  );
  await owner.raw(
    `insert into entries (school_id, entry_id, goal_id, student_id, measure_version, author_id, observed_at, observed_on,
       purpose, entry, score, value, numerator, denominator, note, made_hash)
     select g.school_id, gen_random_uuid(), g.goal_id, g.student_id, 1, :personId, at, at::date, 'probe',
       jsonb_build_object('kind', 'trials', 'correct', right_ones, 'attempted', 10),
       jsonb_build_object('value', 10 * right_ones, 'unit', 'percent', 'numerator', right_ones, 'denominator', 10),
       10 * right_ones, right_ones, 10,
       case when n % 5 = 0 then 'Number ' || n || ': worked at the small table and asked for help once.' end,
       md5(g.goal_id::text || n)
     from goals g,
       generate_series(1, (:entries - (select count(*)::int from entries where student_id = :studentId and state = 'kept'))
         / (select count(*)::int from goals where student_id = :studentId and number like 'y%')) n,
       lateral (select g.start_on + make_interval(days => 1 + (n * 2.3)::int, hours => 9 + n % 6) as at,
         least(10, 2 + n / 30 + n * 7 % 4)::int as right_ones) t
     where g.student_id = :studentId and g.number like 'y%'`,
    { studentId, personId, entries: fiveYears.entries },
  );
  await owner.raw(
    `with more as (
       insert into incidents (school_id, incident_id, student_id, author_id, observer_id, occurred_on, occurred_at, period, content,
         note, ongoing, apart_from, state, revision, made_hash, saved_at, facts_missing)
       select i.school_id, gen_random_uuid(), i.student_id, i.author_id, i.observer_id, (i.occurred_on - n * 35)::date,
         i.occurred_at - make_interval(days => n * 35), i.period, i.content, i.note, false, '{}', 'kept', 1,
         md5(i.incident_id::text || n), i.saved_at, i.facts_missing
       from incidents i, generate_series(1, 60) n where i.student_id = :studentId and i.state = 'kept' and i.same_as is null
       limit :incidents - (select count(*)::int from incidents where student_id = :studentId)
       returning school_id, incident_id, student_id)
     insert into incident_choices (school_id, incident_id, choice_id)
     select m.school_id, m.incident_id, (select choice_id from choices where student_id = m.student_id and list = 'behavior' limit 1)
     from more m`,
    { studentId, incidents: fiveYears.incidents },
  );
}
