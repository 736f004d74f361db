import type { Knex } from "knex";
import { lockToSchool } from "./school-table.ts";

const tables = `
-- How reports read for an audience at a school; an audience without a row reads as the program sets it.
create table audiences (
  school_id uuid not null,
  audience text not null check (audience in ('team', 'family', 'file', 'own')),
  -- What the school calls an audience of its own.
  name text check (length(name) between 1 and 40),
  settings jsonb not null check (jsonb_typeof(settings) = 'object'),
  primary key (school_id, audience),
  foreign key (school_id) references schools,
  check ((audience = 'own') = (name is not null))
);

-- The same for one student, where it differs from the school's.
create table student_audiences (
  school_id uuid not null,
  student_id uuid not null,
  audience text not null check (audience in ('team', 'family', 'file', 'own')),
  settings jsonb not null check (jsonb_typeof(settings) = 'object'),
  primary key (school_id, student_id, audience),
  foreign key (school_id, student_id) references students
);

-- Entries and jots that the case manager has released to the family, apart from any edition.
create table releases (
  school_id uuid not null,
  student_id uuid not null,
  thing text not null check (thing in ('entry', 'jot')),
  thing_id uuid not null,
  person_id uuid not null,
  at timestamptz not null default clock_now(),
  primary key (school_id, student_id, thing, thing_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, person_id) references people
);

-- For how many years editions are kept; null for ever.
alter table schools add column edition_years integer check (edition_years between 1 and 100);
grant update (edition_years) on schools to gentle_margin_app;

-- Editions are made for the school's own audience too.
alter table editions drop constraint editions_audience_check;
alter table editions add constraint editions_audience_check check (audience in ('team', 'family', 'file', 'own'));
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await lockToSchool(knex, "audiences", "select, insert, update, delete");
  await lockToSchool(knex, "student_audiences", "select, insert, update, delete");
  await lockToSchool(knex, "releases", "select, insert, delete");
}
