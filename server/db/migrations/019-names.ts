import type { Knex } from "knex";
import { lockToSchool } from "./school-table.ts";

const tables = `
-- Names of students leave the server only as hashes; each school hashes them in its own way.
alter table schools add column names_salt bytea not null default decode(replace(gen_random_uuid()::text, '-', ''), 'hex');

-- A word that names nobody in the record of a student, though another student is called so: "Wren" the bird.
create table no_names (
  school_id uuid not null,
  student_id uuid not null,
  form text not null check (length(form) between 1 and 100),
  person_id uuid not null,
  at timestamptz not null default clock_now(),
  primary key (school_id, student_id, form),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, person_id) references people
);
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await lockToSchool(knex, "no_names", "select, insert, delete");
}
