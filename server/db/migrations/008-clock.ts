import type { Knex } from "knex";

const functions = `
-- The one clock. Tests set it ahead or back for a whole cluster or database ("app.clock_ahead", an interval); elsewhere it is now().
create function clock_now() returns timestamptz language sql stable
return now() + coalesce(nullif(current_setting('app.clock_ahead', true), ''), '0')::interval;

-- The school's date today; outside a school, the database's.
create function scope_today() returns date language sql stable
return coalesce(nullif(current_setting('app.today', true), '')::date, clock_now()::date);

-- Is a row of a circle in force today? The only place that decides it.
create function in_circle_now(from_on date, to_on date) returns boolean language sql stable
return from_on <= scope_today() and (to_on is null or to_on >= scope_today());

drop function enter_school(uuid, uuid, uuid);
-- Enters a school for the rest of the transaction. Answers the person's role in a student's circle, the moment, and the school's own time.
create function enter_school(p_school uuid, p_person uuid, p_student uuid, out circle_role text, out moment timestamptz, out local_time text, out time_zone text)
language plpgsql set search_path = pg_catalog, public, pg_temp as $$
begin
  perform set_config('app.school', p_school::text, true);
  moment := clock_now();
  time_zone := (select s.time_zone from schools s where s.school_id = p_school);
  local_time := to_char(moment at time zone time_zone, 'YYYY-MM-DD"T"HH24:MI:SS');
  perform set_config('app.today', coalesce(left(local_time, 10), ''), true);
  if p_student is not null then
    circle_role := (select c.part from circle c
      where c.school_id = p_school and c.student_id = p_student and c.person_id = p_person and in_circle_now(c.from_on, c.to_on));
  end if;
end $$;

create or replace function gate.credentials_of(p_email text)
returns table (account_id uuid, password_hash text, school_id uuid, person_id uuid)
language sql stable security definer set search_path = pg_catalog, gate, public, pg_temp as $$
  select a.account_id, a.password_hash, m.school_id, m.person_id
  from gate.accounts a
  join gate.memberships m on m.account_id = a.account_id
  join public.schools sc on sc.school_id = m.school_id
  where a.email = lower(p_email) and m.from_on <= (public.clock_now() at time zone sc.time_zone)::date
    and (m.to_on is null or m.to_on >= (public.clock_now() at time zone sc.time_zone)::date)
  order by m.from_on desc limit 1
$$;

-- As before, by the school's own date. Whether a session has ended stays a matter of real time.
create or replace function gate.session_of(p_token_hash bytea, p_touch boolean)
returns table (school_id uuid, person_id uuid, role text, case_manager boolean, given_name text, family_name text, school_name text, time_zone text)
language plpgsql security definer set search_path = pg_catalog, gate, public, pg_temp as $$
declare opened gate.sessions;
begin
  select * into opened from gate.sessions s
  where s.token_hash = p_token_hash and s.ended_at is null and s.expires_at > now() and s.seen_at > now() - interval '2 hours';
  if not found then return; end if;
  if p_touch and opened.seen_at < now() - interval '1 minute' then
    update gate.sessions s set seen_at = now() where s.token_hash = p_token_hash;
  end if;
  return query
  select p.school_id, p.person_id, p.role, p.case_manager, p.given_name, p.family_name, sc.name, sc.time_zone
  from gate.memberships m
  join public.people p on p.school_id = m.school_id and p.person_id = m.person_id
  join public.schools sc on sc.school_id = m.school_id,
    lateral (select (public.clock_now() at time zone sc.time_zone)::date as today) d
  where m.account_id = opened.account_id and m.school_id = opened.school_id and m.person_id = opened.person_id
    and m.from_on <= d.today and (m.to_on is null or m.to_on >= d.today) and (p.left_on is null or p.left_on >= d.today);
end $$;

-- Rows that the application stamps take their time from the same clock.
do $$
declare one record;
begin
  for one in
    select table_name, column_name, column_default from information_schema.columns
    where table_schema = 'public' and column_default in ('now()', 'CURRENT_DATE')
  loop
    execute format('alter table %I alter column %I set default %s', one.table_name, one.column_name,
      case one.column_default when 'now()' then 'clock_now()' else 'scope_today()' end);
  end loop;
end $$;
-- A first membership begins at once wherever the school is: a day of difference is none.
alter table gate.memberships alter column from_on set default (public.clock_now() - interval '1 day')::date;
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(functions);
  await knex.raw(`
    revoke execute on function clock_now, scope_today, in_circle_now, enter_school from public;
    grant execute on function clock_now, scope_today, in_circle_now, enter_school to gentle_margin_app;
  `);
}
