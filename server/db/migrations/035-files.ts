import type { Knex } from "knex";
import { lockSealed, ofSealedStudents } from "./school-table.ts";

const tables = `
-- The paper that a school prints on.
alter table schools add column paper text not null default 'letter' check (paper in ('letter', 'a4'));
update schools set paper = 'a4' where locale = 'en-GB';
grant update (paper) on schools to gentle_margin_app;

-- A report that left the application as a file: who made it, what it was, for whom and why. Its content is what the names were looked
-- through in; it is stored for a day, so that the file can be fetched, and then deleted. The row stays.
create table disclosures (
  school_id uuid not null,
  disclosure_id uuid not null,
  student_id uuid not null,
  -- Null where the person who runs the server made it by a command.
  person_id uuid,
  made_at timestamptz not null default clock_now(),
  format text not null check (format in ('pdf', 'docx', 'xlsx', 'csv', 'json', 'text', 'record')),
  audience text not null check (audience in ('team', 'family', 'file', 'own')),
  language text not null check (language in ('en', 'es')),
  from_on date,
  to_on date not null check (from_on is null or from_on <= to_on),
  edition_id uuid,
  edition_number integer check ((edition_number is null) = (edition_id is null)),
  recipient text not null check (length(recipient) between 1 and 200),
  reason text check (length(reason) between 1 and 500),
  content text,
  primary key (school_id, disclosure_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, person_id) references people
);
create index disclosures_by_student on disclosures (school_id, student_id, made_at);

-- The files of editions: made once and the same from then on, whatever program reads the edition later.
create table edition_files (
  school_id uuid not null,
  edition_id uuid not null,
  student_id uuid not null,
  format text not null check (format in ('pdf', 'docx', 'xlsx', 'csv', 'json', 'text')),
  content bytea not null,
  sha256 text not null check (sha256 = encode(sha256(content), 'hex')),
  made_at timestamptz not null default clock_now(),
  primary key (school_id, edition_id, format),
  foreign key (school_id, edition_id) references editions on delete cascade,
  foreign key (school_id, student_id) references students
);

-- Deletes the contents of a day ago and earlier.
create function gate.forget_disclosed(p_key bytea) returns integer
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare n integer;
begin
  if not gate.is_app(p_key) then return 0; end if;
  update public.disclosures d set content = null where d.content is not null and d.made_at < public.clock_now() - interval '1 day';
  get diagnostics n = row_count;
  return n;
end $$;
revoke execute on function gate.forget_disclosed from public;
grant execute on function gate.forget_disclosed to gentle_margin_app;
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await lockSealed(knex, "disclosures", "select, insert", [ofSealedStudents]);
  await lockSealed(knex, "edition_files", "select, insert", [ofSealedStudents]);
}
