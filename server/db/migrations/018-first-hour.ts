import type { Knex } from "knex";

const tables = `
-- One name is enough for a student.
alter table students drop constraint students_family_name_check;
alter table students add constraint students_family_name_check check (length(family_name) <= 100);

-- What single letters do on the screens of a person: press what they name, the same with Alt, or nothing.
alter table people add column letter_keys text not null default 'plain' check (letter_keys in ('plain', 'alt', 'off'));
grant update (letter_keys) on people to gentle_margin_app;

-- Whoever sets up the school may carry a caseload.
create function gate.make_first_school(
  p_school uuid, p_name text, p_time_zone text, p_locale text, p_person uuid, p_given text, p_family text, p_case_manager boolean,
  p_account uuid, p_email text, p_hash text)
returns boolean language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  if not gate.make_first_school(p_school, p_name, p_time_zone, p_locale, p_person, p_given, p_family, p_account, p_email, p_hash) then
    return false;
  end if;
  update public.people set case_manager = p_case_manager where school_id = p_school and person_id = p_person;
  return true;
end $$;
`;

const first = "gate.make_first_school(uuid, text, text, text, uuid, text, text, boolean, uuid, text, text)";

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await knex.raw(`
    revoke execute on function ${first} from public;
    grant execute on function ${first} to gentle_margin_app;
  `);
}
