import type { Knex } from "knex";
import { lockSealed, ofSealedStudents } from "./school-table.ts";

const tables = `
-- Answers of several people that are gathered and go to one reader as one message.
create table feedback_rounds (
  school_id uuid not null,
  round_id uuid not null,
  student_id uuid not null,
  person_id uuid not null,
  title text not null check (length(title) between 1 and 200),
  prompts jsonb not null,
  -- The reader: a member of staff, or a guardian of the student.
  to_person_id uuid,
  to_guardian_id uuid,
  made_at timestamptz not null default clock_now(),
  -- Once it was sent nobody answers any more.
  sent_at timestamptz,
  message_id uuid,
  closed_at timestamptz,
  primary key (school_id, round_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, person_id) references people,
  foreign key (school_id, to_person_id) references people,
  foreign key (school_id, to_guardian_id) references guardians,
  check ((to_person_id is null) <> (to_guardian_id is null))
);
create index feedback_rounds_by_student on feedback_rounds (school_id, student_id, made_at);

-- Who is asked, and what they answered: a text for each prompt; null before.
create table feedback_answers (
  school_id uuid not null,
  round_id uuid not null,
  student_id uuid not null,
  person_id uuid not null,
  texts jsonb,
  at timestamptz,
  primary key (school_id, round_id, person_id),
  foreign key (school_id, round_id) references feedback_rounds,
  foreign key (school_id, student_id) references students,
  foreign key (school_id, person_id) references people
);
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await lockSealed(knex, "feedback_rounds", "select, insert, update (sent_at, message_id, closed_at)", [
    ofSealedStudents,
  ]);
  await lockSealed(knex, "feedback_answers", "select, insert, update (texts, at)", [ofSealedStudents]);
}
