import type { Knex } from "knex";
import { lockToSchool } from "./school-table.ts";

const tables = `
-- The ratings on the school's progress reports, in its order. One that is no longer offered stays for earlier statements.
create table statement_ratings (
  school_id uuid not null,
  rating_id uuid not null,
  name text not null check (length(name) between 1 and 60),
  -- Its name in Spanish; empty where there is none.
  spanish text not null default '' check (length(spanish) <= 60),
  position integer not null,
  retired_on date,
  primary key (school_id, rating_id),
  foreign key (school_id) references schools
);

-- What is written of a goal for a reporting period.
create table progress_statements (
  school_id uuid not null,
  statement_id uuid not null,
  student_id uuid not null,
  goal_id uuid not null,
  -- The period as it was when the statement was last written.
  period_name text not null check (length(period_name) between 1 and 100),
  from_on date not null,
  to_on date not null,
  words text not null default '' check (length(words) <= 4000),
  -- The same in the language of the family.
  translation text not null default '' check (length(translation) <= 4000),
  -- Do the sentences drafted from the numbers come first?
  with_numbers boolean not null default true,
  rating_id uuid,
  author_id uuid not null,
  -- Who read it and marked it ready, when, and the numbers as they were read; null before.
  ready_by uuid,
  ready_at timestamptz,
  facts jsonb check (jsonb_typeof(facts) = 'object'),
  revision integer not null default 1,
  primary key (school_id, statement_id),
  unique (school_id, goal_id, from_on),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, goal_id) references goals,
  foreign key (school_id, rating_id) references statement_ratings,
  foreign key (school_id, author_id) references people,
  foreign key (school_id, ready_by) references people,
  check (from_on <= to_on),
  check ((ready_at is null) = (ready_by is null) and (ready_at is null) = (facts is null))
);
create index progress_statements_by_student on progress_statements (school_id, student_id, from_on);

-- Who writes the statements of a goal, where it is not the case manager.
create table statement_writers (
  school_id uuid not null,
  goal_id uuid not null,
  student_id uuid not null,
  person_id uuid not null,
  primary key (school_id, goal_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, goal_id) references goals,
  foreign key (school_id, person_id) references people
);

-- A note that something was not measured may be for the team only; of entries it is among the circumstances.
alter table not_measured add column note_for_team boolean not null default false;
grant update (note_for_team) on not_measured to gentle_margin_app;

alter table revisions drop constraint revisions_thing_check;
alter table revisions add constraint revisions_thing_check
  check (thing in ('entry', 'incident', 'not measured', 'decision', 'goal', 'plan', 'jot', 'statement'));

create constraint trigger keep_history after insert or update on progress_statements deferrable initially deferred
  for each row execute function keep_history('statement', 'statement_id', '');

-- Audiences whose fields were chosen before there were statements show them.
update audiences set settings = jsonb_set(settings, '{fields}', settings -> 'fields' || '["statements"]')
  where jsonb_typeof(settings -> 'fields') = 'array' and not jsonb_exists(settings -> 'fields', 'statements');
update student_audiences set settings = jsonb_set(settings, '{fields}', settings -> 'fields' || '["statements"]')
  where jsonb_typeof(settings -> 'fields') = 'array' and not jsonb_exists(settings -> 'fields', 'statements');
`;

/** A goal of which a statement was written is not an unused one; who would write it goes with the goal. */
const refersToGoal = [
  "entries",
  "not_measured",
  "tallies",
  "second_observations",
  "goal_decisions",
  "progress_statements",
]
  .map(
    (table) => `exists (select 1 from public.${table} t where t.school_id = school and t.goal_id = p_goal)`,
  )
  .join("\n    or ");

const functions = `
create or replace function remove_unused_goal(p_goal uuid) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare school uuid := nullif(current_setting('app.school', true), '')::uuid;
begin
  if ${refersToGoal}
    or exists (select 1 from public.goals g where g.school_id = school and g.parent_id = p_goal) then return false; end if;
  update public.goals set continues = null where school_id = school and continues = p_goal;
  delete from public.statement_writers where school_id = school and goal_id = p_goal;
  delete from public.goal_phases where school_id = school and goal_id = p_goal;
  delete from public.revisions where school_id = school and thing = 'goal' and thing_id = p_goal;
  delete from public.goal_summaries where school_id = school and goal_id = p_goal;
  delete from public.goal_measures where school_id = school and goal_id = p_goal;
  delete from public.goals where school_id = school and goal_id = p_goal;
  return found;
end $$;
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await knex.raw(functions);
  await lockToSchool(
    knex,
    "statement_ratings",
    "select, insert, update (name, spanish, position, retired_on)",
  );
  await lockToSchool(
    knex,
    "progress_statements",
    `select, insert, update (period_name, to_on, words, translation, with_numbers, rating_id, author_id, ready_by, ready_at,
      facts, revision)`,
  );
  await lockToSchool(knex, "statement_writers", "select, insert, update (person_id), delete");
}
