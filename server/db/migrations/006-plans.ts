import type { Knex } from "knex";

const tables = `
-- What a person thinks is happening, and what is tried from a day on: a phase line on a student's incidents.
create table plans (
  school_id uuid not null,
  plan_id uuid not null,
  student_id uuid not null,
  author_id uuid not null,
  name text not null check (length(name) between 1 and 60),
  thinking text not null check (length(thinking) between 1 and 2000),
  trying text not null check (length(trying) between 1 and 2000),
  begins_on date not null,
  -- The last day of the plan; null while it goes on.
  ends_on date check (ends_on >= begins_on),
  state text not null default 'kept' check (state in ('kept', 'removed')),
  revision integer not null default 1,
  primary key (school_id, plan_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, author_id) references people
);
create index plans_by_student on plans (school_id, student_id, begins_on);

create table plan_revisions (
  school_id uuid not null,
  plan_id uuid not null,
  revision integer not null,
  act text not null check (act in ('made', 'corrected', 'removed', 'restored')),
  person_id uuid not null,
  at timestamptz not null default now(),
  name text not null,
  thinking text not null,
  trying text not null,
  begins_on date not null,
  ends_on date,
  primary key (school_id, plan_id, revision),
  foreign key (school_id, plan_id) references plans,
  foreign key (school_id, person_id) references people
);

-- A sentence of the patterns that somebody put into the report, as an observation to check.
create table pattern_notes (
  school_id uuid not null,
  note_id uuid not null,
  student_id uuid not null,
  author_id uuid not null,
  words text not null check (length(words) between 1 and 1000),
  strength text not null check (strength in ('strong', 'weak')),
  from_on date not null,
  to_on date not null,
  noted_on date not null,
  noted_at timestamptz not null default now(),
  removed_at timestamptz,
  removed_by uuid,
  primary key (school_id, note_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, author_id) references people,
  foreign key (school_id, removed_by) references people,
  check ((removed_at is null) = (removed_by is null))
);
-- Sent twice, it stands once.
create unique index pattern_notes_once on pattern_notes (school_id, student_id, md5(words)) where removed_at is null;
create index pattern_notes_by_student on pattern_notes (school_id, student_id, noted_at desc);
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  for (const [table, writes] of Object.entries({
    plans: "select, insert, update",
    plan_revisions: "select, insert",
    pattern_notes: "select, insert, update",
  })) {
    await knex.raw(`
      grant ${writes} on ${table} to gentle_margin_app;
      alter table ${table} enable row level security;
      create policy school_lock on ${table} to gentle_margin_app
        using (school_id = nullif(current_setting('app.school', true), '')::uuid)
        with check (school_id = nullif(current_setting('app.school', true), '')::uuid);
    `);
  }
}
