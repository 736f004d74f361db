import type { Knex } from "knex";
import { lockSealed, ofSealedStudents } from "./school-table.ts";

const tables = `
-- A meeting about a student, from its first page on the wall to its end.
create table meetings (
  school_id uuid not null,
  meeting_id uuid not null,
  student_id uuid not null,
  person_id uuid not null,
  held_on date not null,
  began_at timestamptz not null default clock_now(),
  ended_at timestamptz,
  primary key (school_id, meeting_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, person_id) references people
);
create index meetings_by_student on meetings (school_id, student_id, held_on);

-- What was written in a meeting for all to see: a question that is open, or something that was agreed; of a goal or of none.
create table meeting_notes (
  school_id uuid not null,
  note_id uuid not null,
  meeting_id uuid not null,
  student_id uuid not null,
  goal_id uuid,
  kind text not null check (kind in ('question', 'agreed')),
  words text not null check (length(words) between 1 and 1000),
  person_id uuid not null,
  at timestamptz not null default clock_now(),
  removed_at timestamptz,
  primary key (school_id, note_id),
  foreign key (school_id, meeting_id) references meetings,
  foreign key (school_id, student_id) references students,
  foreign key (school_id, goal_id) references goals,
  foreign key (school_id, person_id) references people
);
create index meeting_notes_by_student on meeting_notes (school_id, student_id, at);

-- What one person wrote for themselves before a meeting, of a goal or (zeros) of none: on the second screen, and in no report.
create table meeting_preparations (
  school_id uuid not null,
  student_id uuid not null,
  person_id uuid not null,
  goal_id uuid not null,
  words text not null check (length(words) <= 4000),
  at timestamptz not null default clock_now(),
  primary key (school_id, student_id, person_id, goal_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, person_id) references people
);
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await lockSealed(knex, "meetings", "select, insert, update (ended_at)", [ofSealedStudents]);
  await lockSealed(knex, "meeting_notes", "select, insert, update (removed_at)", [ofSealedStudents]);
  await lockSealed(knex, "meeting_preparations", "select, insert, delete, update (words, at)", [
    ofSealedStudents,
    "using (person_id = (select gate.person_now()))",
  ]);
}
