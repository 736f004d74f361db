import type { Knex } from "knex";
import { lockToSchool } from "./school-table.ts";

const tables = `
-- What the school writes jots about. Levels are ordered, the first is the lowest; one that is no longer offered stays for earlier jots.
create table jot_categories (
  school_id uuid not null,
  category_id uuid not null,
  name text not null check (length(name) between 1 and 60),
  levels jsonb not null default '[]' check (jsonb_typeof(levels) = 'array'),
  position integer not null,
  retired_on date,
  primary key (school_id, category_id),
  foreign key (school_id) references schools
);

-- A free note about a student.
create table jots (
  school_id uuid not null,
  jot_id uuid not null,
  student_id uuid not null,
  author_id uuid not null,
  -- Who watched, where another person wrote it down.
  observer_id uuid,
  noted_on date not null,
  -- Null where only the day, or its period, is known.
  noted_at timestamptz,
  period text check (length(period) <= 100),
  category_id uuid,
  -- The level, the link and the captions of the pictures.
  content jsonb not null check (jsonb_typeof(content) = 'object'),
  note text check (length(note) between 1 and 2000),
  -- The student's own rating, not an adult's.
  own boolean not null default false,
  team_only boolean not null default false,
  state text not null default 'kept' check (state in ('kept', 'removed')),
  revision integer not null default 1,
  made_hash text not null,
  device_at timestamptz,
  clock_ahead bigint,
  saved_at timestamptz not null default clock_now(),
  primary key (school_id, jot_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, author_id) references people,
  foreign key (school_id, observer_id) references people,
  foreign key (school_id, category_id) references jot_categories,
  check (noted_at is null or period is null)
);
create index jots_by_student on jots (school_id, student_id, noted_on desc, noted_at desc);

-- A picture of a jot. Its bytes never change; they lie here, or in a folder under its hash.
create table pictures (
  school_id uuid not null,
  picture_id uuid not null,
  student_id uuid not null,
  jot_id uuid not null,
  type text not null check (type in ('image/jpeg', 'image/png', 'image/webp')),
  width integer not null check (width between 1 and 4096),
  height integer not null check (height between 1 and 4096),
  bytes integer not null check (bytes > 0),
  sha256 text not null check (sha256 ~ '^[0-9a-f]{64}$'),
  -- The hash of what was sent: the same picture sent twice is one.
  sent_sha256 text not null,
  content bytea check (content is null or sha256 = encode(sha256(content), 'hex')),
  person_id uuid not null,
  at timestamptz not null default clock_now(),
  primary key (school_id, picture_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, jot_id) references jots,
  foreign key (school_id, person_id) references people
);
create index pictures_by_jot on pictures (school_id, jot_id);

-- A student's own scoring of a rubric: it stands beside the adults' and is not counted.
alter table second_observations add column own boolean not null default false;

-- Jots have a history as everything that is corrected.
alter table revisions drop constraint revisions_thing_check;
alter table revisions add constraint revisions_thing_check
  check (thing in ('entry', 'incident', 'not measured', 'decision', 'goal', 'plan', 'jot'));
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await lockToSchool(knex, "jot_categories", "select, insert, update");
  await lockToSchool(knex, "jots", "select, insert, update");
  await lockToSchool(knex, "pictures", "select, insert");
}
