import type { Knex } from "knex";
import { lockToSchool } from "./school-table.ts";

const tables = `
-- When a person of a student's circle last had the student's report open.
create table report_views (
  school_id uuid not null,
  student_id uuid not null,
  person_id uuid not null,
  seen_at timestamptz not null default clock_now(),
  primary key (school_id, student_id, person_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, person_id) references people
);
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await lockToSchool(knex, "report_views", "select, insert, update (seen_at)");
}
