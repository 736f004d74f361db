import type { Knex } from "knex";

/**
 * Every function that works with its owner's rights looks its names up in the catalog alone, and in nothing that a caller can put
 * before it; all of them name their tables with the schema.
 */
const functions = `
do $$
declare one record;
begin
  for one in
    select p.oid::regprocedure::text as signature from pg_proc p join pg_namespace n on n.oid = p.pronamespace
    where p.prosecdef and n.nspname in ('public', 'gate')
  loop
    execute format('alter function %s set search_path = pg_catalog, pg_temp', one.signature);
  end loop;
end $$;

-- Enters a school for the rest of the transaction, with limits: nothing waits for a lock longer than a quarter of a second (who waits
-- holds a connection; the application tries again without one), and nothing runs or stands idle for longer than ten.
create or replace function enter_school(p_school uuid, p_person uuid, p_student uuid, out circle_role text, out moment timestamptz, out local_time text, out time_zone text)
language plpgsql set search_path = pg_catalog, pg_temp as $$
begin
  perform set_config('lock_timeout', '250ms', true), set_config('statement_timeout', '10s', true),
    set_config('idle_in_transaction_session_timeout', '10s', true), set_config('app.school', p_school::text, true);
  moment := public.clock_now();
  time_zone := (select s.time_zone from public.schools s where s.school_id = p_school);
  local_time := to_char(moment at time zone time_zone, 'YYYY-MM-DD"T"HH24:MI:SS');
  perform set_config('app.today', coalesce(left(local_time, 10), ''), true);
  if p_student is not null then
    circle_role := (select c.part from public.circle c
      where c.school_id = p_school and c.student_id = p_student and c.person_id = p_person
        and public.in_circle_now(c.from_on, c.to_on));
  end if;
end $$;

-- One row, written by whoever asks whether this database takes writes.
create table ready_check (only_row boolean primary key default true check (only_row), at timestamptz not null default now());
insert into ready_check default values;
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(functions);
  await knex.raw(`
    grant select on knex_migrations to gentle_margin_app;
    grant select, update (at) on ready_check to gentle_margin_app;
  `);
}
