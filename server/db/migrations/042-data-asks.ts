import type { Knex } from "knex";
import { lockSealed, ofSealedStudents } from "./school-table.ts";

const tables = `
-- A person is asked to take data of a goal on a day.
create table data_asks (
  school_id uuid not null,
  ask_id uuid not null,
  student_id uuid not null,
  goal_id uuid not null,
  on_day date not null,
  person_id uuid not null,
  asked_by uuid not null,
  made_at timestamptz not null default clock_now(),
  taken_back_at timestamptz,
  primary key (school_id, ask_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, goal_id) references goals on delete cascade,
  foreign key (school_id, person_id) references people,
  foreign key (school_id, asked_by) references people
);
-- Of a goal and a day one person is asked.
create unique index data_asks_open on data_asks (school_id, goal_id, on_day) where taken_back_at is null;
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await lockSealed(knex, "data_asks", "select, insert, update (taken_back_at)", [ofSealedStudents]);
}
