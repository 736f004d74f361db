import type { Knex } from "knex";
import { lockToSchool } from "./school-table.ts";

/** What a person recorded while they had a part in a student's circle, and sent when they no longer had it: it waits for a lead. */
const tables = `
create table held_items (
  school_id uuid not null,
  item_id uuid not null,
  student_id uuid not null,
  person_id uuid not null,
  item jsonb not null,
  observed_at timestamptz not null,
  received_at timestamptz not null default clock_now(),
  decision text check (decision in ('accepted', 'left out')),
  decided_by uuid,
  decided_at timestamptz,
  primary key (school_id, item_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, person_id) references people,
  foreign key (school_id, decided_by) references people,
  check ((decision is null) = (decided_by is null) and (decision is null) = (decided_at is null))
);
create index held_items_by_student on held_items (school_id, student_id, received_at) where decision is null;
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await lockToSchool(knex, "held_items", "select, insert, update");
}
