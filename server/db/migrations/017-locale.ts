import type { Knex } from "knex";

const tables = `
-- How dates, times and numbers are written in a school's pages and reports.
alter table schools add column locale text not null default 'en-US' check (locale in ('en-US', 'en-CA', 'en-GB'));
grant update (locale) on schools to gentle_margin_app;

-- The person of a session with the locale of their school.
create function gate.person_of(p_token_hash bytea, p_touch boolean)
returns table (school_id uuid, person_id uuid, role text, case_manager boolean, given_name text, family_name text, school_name text, time_zone text, locale text)
language sql security definer set search_path = pg_catalog, pg_temp as $$
  select s.*, sc.locale from gate.session_of(p_token_hash, p_touch) s join public.schools sc on sc.school_id = s.school_id
$$;

create function gate.make_first_school(
  p_school uuid, p_name text, p_time_zone text, p_locale text, p_person uuid, p_given text, p_family text, p_account uuid, p_email text, p_hash text)
returns boolean language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  if not gate.make_first_school(p_school, p_name, p_time_zone, p_person, p_given, p_family, p_account, p_email, p_hash) then
    return false;
  end if;
  update public.schools set locale = p_locale where school_id = p_school;
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
