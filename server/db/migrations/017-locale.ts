import type { Knex } from "knex";

const tables = `
-- How dates, times and numbers are written in a school's pages and reports.
alter table schools add column locale text not null default 'en-US' check (locale in ('en-US', 'en-CA', 'en-GB'));
grant update (locale) on schools to gentle_margin_app;

-- In place of session_of, and of make_first_school without a locale: both stay for a program of the release before, and go in a later one.
create function gate.person_of(p_token_hash bytea, p_touch boolean)
returns table (school_id uuid, person_id uuid, role text, case_manager boolean, given_name text, family_name text, school_name text, time_zone text, locale text)
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare opened gate.sessions;
begin
  select * into opened from gate.sessions s
  where s.token_hash = p_token_hash and s.ended_at is null and s.expires_at > now() and s.seen_at > now() - interval '2 hours';
  if not found then return; end if;
  if p_touch and opened.seen_at < now() - interval '1 minute' then
    update gate.sessions s set seen_at = now() where s.token_hash = p_token_hash;
  end if;
  return query
  select p.school_id, p.person_id, p.role, p.case_manager, p.given_name, p.family_name, sc.name, sc.time_zone, sc.locale
  from gate.memberships m
  join public.people p on p.school_id = m.school_id and p.person_id = m.person_id
  join public.schools sc on sc.school_id = m.school_id,
    lateral (select (public.clock_now() at time zone sc.time_zone)::date as today) d
  where m.account_id = opened.account_id and m.school_id = opened.school_id and m.person_id = opened.person_id
    and m.from_on <= d.today and (m.to_on is null or m.to_on >= d.today) and (p.left_on is null or p.left_on >= d.today);
end $$;

create function gate.make_first_school(
  p_school uuid, p_name text, p_time_zone text, p_locale text, p_person uuid, p_given text, p_family text, p_account uuid, p_email text, p_hash text)
returns boolean language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  perform pg_advisory_xact_lock(hashtext('gentle-margin first school'));
  if exists (select 1 from public.schools) then return false; end if;
  insert into public.schools (school_id, name, time_zone, locale) values (p_school, p_name, p_time_zone, p_locale);
  insert into public.people (school_id, person_id, given_name, family_name, role, email)
    values (p_school, p_person, p_given, p_family, 'administrator', lower(p_email));
  insert into gate.accounts (account_id, email, password_hash) values (p_account, lower(p_email), p_hash);
  insert into gate.memberships (account_id, school_id, person_id) values (p_account, p_school, p_person);
  return true;
end $$;
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await knex.raw(`
    revoke execute on function gate.person_of, gate.make_first_school(uuid, text, text, text, uuid, text, text, uuid, text, text) from public;
    grant execute on function gate.person_of, gate.make_first_school(uuid, text, text, text, uuid, text, text, uuid, text, text) to gentle_margin_app;
  `);
}
