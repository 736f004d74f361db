import type { Knex } from "knex";
import { lockSealed, ofSealedStudents } from "./school-table.ts";

const tables = `
-- What was read or refused is an event like any other, once an hour: its hour is set, and nothing else has one.
alter table audit
  add column way text check (way in ('page', 'device', 'file', 'print', 'link', 'command')),
  -- The actor's role in the student's circle at that moment: the interest that is claimed.
  add column circle_role text check (circle_role in ('lead', 'record', 'read')),
  -- The permission that was refused, or the command that was run.
  add column what text check (length(what) <= 60),
  add column hour timestamptz,
  -- The transaction: what changed in it is in audit_changes.
  add column tx text;
alter table audit alter column tx set default pg_current_xact_id()::text || '@' || (extract(epoch from now()) * 1000000)::bigint::text;
create unique index audit_once on audit (school_id, hour, student_id, person_id, actor_id, thing, act, way, what) nulls not distinct
  where hour is not null;
create index audit_of_student on audit (school_id, student_id, audit_id) where student_id is not null;

-- What a row of the settings, of a person or of a student held before and after. Written by triggers alone.
create table audit_changes (
  school_id uuid not null,
  change_id bigint generated always as identity,
  tx text not null,
  of_table text not null,
  student_id uuid,
  -- The ids of the row.
  ids jsonb not null,
  -- Of each column that changed: before and after. Null once the student's record is erased.
  changes jsonb,
  -- Of what was there first: the seal of the event covers it.
  digest bytea not null check (length(digest) = 32),
  primary key (school_id, change_id)
);
create index audit_changes_by_tx on audit_changes (school_id, tx);
create index audit_changes_by_student on audit_changes (school_id, student_id) where student_id is not null;

-- Requests from outside the school's staff, and what was given to them by another way than this application.
create table outside_requests (
  school_id uuid not null,
  request_id uuid not null,
  student_id uuid not null,
  person_id uuid not null,
  kind text not null check (kind in ('given', 'refused')),
  requested_on date not null,
  by_whom text not null check (length(by_whom) between 1 and 200),
  what text not null check (length(what) between 1 and 300),
  interest text not null check (length(interest) between 1 and 500),
  made_at timestamptz not null default clock_now(),
  primary key (school_id, request_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, person_id) references people
);
create index outside_requests_by_student on outside_requests (school_id, student_id, requested_on);

-- A guardian who asked for it reads who saw the record, until then.
alter table guardians add column reads_access_until date;
`;

const functions = `
-- Writes down what a row held before and after. Arguments: columns whose content is never shown.
create function gate.note_change() returns trigger
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare
  was jsonb := case when tg_op = 'INSERT' then '{}' else to_jsonb(old) end;
  becomes jsonb := case when tg_op = 'DELETE' then '{}' else to_jsonb(new) end;
  whole jsonb := was || becomes;
  diff jsonb;
begin
  select jsonb_object_agg(one.key, case when one.key = any(tg_argv)
      then jsonb_build_array(case when nullif(was -> one.key, 'null') is not null then 'hidden' end,
        case when nullif(becomes -> one.key, 'null') is not null then 'hidden' end)
      else jsonb_build_array(was -> one.key, becomes -> one.key) end) into diff
    from jsonb_object_keys(whole) as one(key)
    where nullif(was -> one.key, 'null') is distinct from nullif(becomes -> one.key, 'null') and one.key <> 'school_id';
  if diff is null then return null; end if;
  insert into public.audit_changes (school_id, tx, of_table, student_id, ids, changes, digest)
    values ((whole ->> 'school_id')::uuid, pg_current_xact_id()::text || '@' || (extract(epoch from now()) * 1000000)::bigint::text,
      tg_table_name, (whole ->> 'student_id')::uuid,
      (select coalesce(jsonb_object_agg(k, whole -> k), '{}') from jsonb_object_keys(whole) as k where k like '%\\_id' and k <> 'school_id'),
      diff, sha256(convert_to(diff::text, 'UTF8')));
  return null;
end $$;

-- A session begins or ends: the sign-in and sign-out of its person.
create function gate.note_session() returns trigger
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare here text := coalesce(current_setting('app.school', true), '');
begin
  if tg_op = 'UPDATE' and not (old.ended_at is null and new.ended_at is not null) then return null; end if;
  -- Sessions of other schools end as well where an account changes its password: their rows are of those schools.
  perform set_config('app.school', '', true);
  insert into public.audit (school_id, person_id, act, thing, thing_id)
    values (new.school_id, new.person_id, case when tg_op = 'INSERT' then 'signed in' else 'session ended' end, 'person', new.person_id);
  perform set_config('app.school', here, true);
  return null;
end $$;
create trigger note_session after insert or update of ended_at on gate.sessions for each row execute function gate.note_session();

-- A family's session begins.
create function gate.note_family_session() returns trigger
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare here text := coalesce(current_setting('app.school', true), '');
begin
  perform set_config('app.school', '', true);
  insert into public.audit (school_id, actor_kind, actor_id, act, thing, thing_id, student_id, way)
    select g.school_id, 'link', g.guardian_id, 'signed in', 'guardian', g.guardian_id, g.student_id, 'link'
    from gate.family_of(new.token_hash) f join public.guardians g on g.school_id = f.school_id and g.guardian_id = f.guardian_id;
  perform set_config('app.school', here, true);
  return null;
end $$;
create trigger note_family_session after insert on gate.family_sessions for each row execute function gate.note_family_session();

-- A sign-in of an account that is there failed: once an hour and kind in each of its schools.
create function gate.note_failed(p_key bytea, p_account uuid, p_what text) returns void
language sql security definer set search_path = pg_catalog, pg_temp as $$
  insert into public.audit (school_id, person_id, act, thing, thing_id, what, hour)
    select m.school_id, m.person_id, 'sign-in failed', 'person', m.person_id, p_what, date_trunc('hour', public.clock_now())
    from gate.memberships m where gate.is_app(p_key) and m.account_id = p_account
  on conflict do nothing
$$;

-- The code of a guardian's link was wrong: once an hour.
create function gate.note_code_failed(p_key bytea, p_school uuid, p_guardian uuid) returns void
language sql security definer set search_path = pg_catalog, pg_temp as $$
  insert into public.audit (school_id, actor_kind, actor_id, act, thing, thing_id, student_id, way, hour)
    select g.school_id, 'link', g.guardian_id, 'sign-in failed', 'guardian', g.guardian_id, g.student_id, 'link',
      date_trunc('hour', public.clock_now())
    from public.guardians g where gate.is_app(p_key) and g.school_id = p_school and g.guardian_id = p_guardian
  on conflict do nothing
$$;

-- The person here was refused something: once an hour. Of a student who is not in this school nothing is noted.
create function gate.note_refused(p_student uuid, p_permission text) returns void
language sql security definer set search_path = pg_catalog, pg_temp as $$
  insert into public.audit (school_id, person_id, act, thing, student_id, what, hour)
    select gate.school_now(), gate.person_now(), 'refused', 'permission', p_student, left(p_permission, 60),
      date_trunc('hour', public.clock_now())
    where gate.person_now() is not null and (p_student is null
      or exists (select 1 from public.students s where s.school_id = gate.school_now() and s.student_id = p_student))
  on conflict do nothing
$$;
`;

/** What is written down before and after. Entries, incidents, goals and whatever else has steps in `revisions` have it there. */
const noted: readonly (readonly [table: string, hidden?: string])[] = [
  ["schools"],
  ["people"],
  ["students"],
  ["circle"],
  ["circle_mutes"],
  ["guardians"],
  ["groups"],
  ["group_members"],
  ["absences"],
  ["audiences"],
  ["student_audiences"],
  ["incident_settings"],
  ["jot_categories"],
  ["choices"],
  ["ladders"],
  ["goal_templates"],
  ["message_settings"],
  ["message_templates"],
  ["school_lists"],
  ["school_years"],
  ["reporting_periods"],
  ["closures"],
  ["timetable"],
  ["statement_ratings"],
  ["statement_writers"],
  ["releases"],
  ["gate.mail_servers", "password"],
  ["gate.providers", "client_secret"],
];

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await knex.raw(functions);
  const mine = "student_id = any((select gate.students_now())::uuid[])";
  await lockSealed(knex, "audit_changes", "select", [
    `for select using ((select gate.is_work_now()) or ${mine} or (student_id is null and (select gate.is_administrator()))
       or (of_table in ('students', 'circle', 'group_members') and (select gate.is_administrator())))`,
  ]);
  await lockSealed(knex, "outside_requests", "select, insert", [ofSealedStudents]);
  for (const [table, ...hidden] of noted)
    await knex.raw(
      `create trigger note_change after insert or update or delete on ${table} for each row
       execute function gate.note_change(${hidden.map((column) => `'${column}'`).join(", ")})`,
    );
  await knex.raw(`
    revoke execute on function gate.note_change, gate.note_session, gate.note_family_session, gate.note_failed, gate.note_code_failed, gate.note_refused from public;
    grant execute on function gate.note_failed, gate.note_code_failed, gate.note_refused to gentle_margin_app;`);
}
