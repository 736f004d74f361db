import type { Knex } from "knex";
import { lockToSchool } from "./school-table.ts";

const tables = `
-- A frozen report: made once, never changed. Its content is canonical JSON as text, so that its bytes stay what was hashed.
create table editions (
  school_id uuid not null,
  edition_id uuid not null,
  student_id uuid not null,
  number integer not null check (number > 0),
  audience text not null check (audience in ('team', 'family', 'file')),
  language text not null check (language in ('en', 'es')),
  from_on date,
  to_on date not null check (from_on is null or from_on <= to_on),
  made_on date not null,
  made_at timestamptz not null default clock_now(),
  person_id uuid not null,
  -- The earlier edition for the same audience, and what is different since: counts of lines.
  replaces uuid,
  changes jsonb not null check (jsonb_typeof(changes) = 'object'),
  content text not null,
  sha256 text not null check (sha256 = encode(sha256(convert_to(content, 'UTF8')), 'hex')),
  primary key (school_id, edition_id),
  unique (school_id, student_id, number),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, person_id) references people,
  foreign key (school_id, replaces) references editions
);

-- How an edition was given to others, as the case manager notes it.
create table edition_shares (
  school_id uuid not null,
  share_id uuid not null,
  edition_id uuid not null,
  how text not null check (how in ('printed', 'in the meeting', 'mailed', 'other')),
  shared_on date not null,
  note text check (length(note) between 1 and 300),
  person_id uuid not null,
  at timestamptz not null default clock_now(),
  primary key (school_id, share_id),
  foreign key (school_id, edition_id) references editions,
  foreign key (school_id, person_id) references people
);
create index edition_shares_by_edition on edition_shares (school_id, edition_id, shared_on);
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await lockToSchool(knex, "editions", "select, insert");
  await lockToSchool(knex, "edition_shares", "select, insert");
}
