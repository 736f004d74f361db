import type { Knex } from "knex";

const changes = `
-- How dates, times and numbers are written for one person; null as the school writes them.
alter table people add column locale text check (locale in ('en-US', 'en-CA', 'en-GB'));
-- Are they mailed when something waits for them?
alter table people add column mail_notices boolean not null default true;
grant update (locale, mail_notices) on people to gentle_margin_app;

create or replace function gate.person_of(p_token_hash bytea, p_touch boolean)
returns table (school_id uuid, person_id uuid, role text, case_manager boolean, given_name text, family_name text, school_name text, time_zone text, locale text)
language sql security definer set search_path = pg_catalog, pg_temp as $$
  select s.*, coalesce(p.locale, sc.locale) from gate.session_of(p_token_hash, p_touch) s
  join public.schools sc on sc.school_id = s.school_id
  join public.people p on p.school_id = s.school_id and p.person_id = s.person_id
$$;
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(changes);
}
