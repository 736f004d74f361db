import type { Knex } from "knex";

const tables = `
-- A student's own choice lists. Incidents name a choice by its id: a new name reaches what was recorded before.
create table choices (
  school_id uuid not null,
  choice_id uuid not null,
  student_id uuid not null,
  list text not null check (list in ('setting', 'antecedent', 'behavior', 'consequence', 'setting event')),
  name text not null check (length(name) between 1 and 100),
  -- What exactly counts as this behavior.
  definition text check (length(definition) <= 1000),
  position integer not null,
  -- Words for one incident, not offered again.
  once boolean not null default false,
  retired_on date,
  primary key (school_id, choice_id),
  foreign key (school_id, student_id) references students
);
create unique index choices_by_name on choices (school_id, student_id, list, lower(name));

-- How this school records incidents; a school without a row has the program's own.
create table incident_settings (
  school_id uuid primary key references schools,
  settings jsonb not null
);

create table incidents (
  school_id uuid not null,
  incident_id uuid not null,
  student_id uuid not null,
  author_id uuid not null,
  -- Who watched, where somebody else wrote it down.
  observer_id uuid,
  occurred_on date not null,
  -- When it began; null where only the day, or its period, is known.
  occurred_at timestamptz,
  period text check (length(period) <= 100),
  content jsonb not null,
  note text check (length(note) <= 2000),
  ongoing boolean not null default false,
  -- Another adult's account of this incident tells of the same one: counted there, read here.
  same_as uuid,
  -- Those of which a person said that they are others.
  apart_from uuid[] not null default '{}',
  state text not null default 'kept' check (state in ('kept', 'removed')),
  revision integer not null default 1,
  made_hash text not null,
  device_at timestamptz,
  clock_ahead integer,
  saved_at timestamptz not null default now(),
  primary key (school_id, incident_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, author_id) references people,
  foreign key (school_id, observer_id) references people,
  foreign key (school_id, same_as) references incidents,
  check (same_as is null or same_as <> incident_id),
  check (occurred_at is null or period is null)
);
create index incidents_by_student on incidents (school_id, student_id, occurred_on desc, occurred_at desc);

create table incident_choices (
  school_id uuid not null,
  incident_id uuid not null,
  choice_id uuid not null,
  primary key (school_id, incident_id, choice_id),
  foreign key (school_id, incident_id) references incidents,
  foreign key (school_id, choice_id) references choices
);
create index incident_choices_by_choice on incident_choices (school_id, choice_id);

create table incident_revisions (
  school_id uuid not null,
  incident_id uuid not null,
  revision integer not null,
  act text not null check (act in ('made', 'corrected', 'removed', 'restored')),
  person_id uuid not null,
  at timestamptz not null default now(),
  reason text check (length(reason) <= 500),
  occurred_on date not null,
  occurred_at timestamptz,
  period text,
  content jsonb not null,
  note text,
  content_hash text not null,
  primary key (school_id, incident_id, revision),
  foreign key (school_id, incident_id) references incidents,
  foreign key (school_id, person_id) references people
);

-- What was watched where nothing happened, and what was not: without it, no incident cannot be told from nobody writing.
create table watched_days (
  school_id uuid not null,
  student_id uuid not null,
  watched_on date not null,
  -- A period of that day by its name; empty for the whole day.
  period text not null default '' check (length(period) <= 100),
  state text not null check (state in ('none', 'not observed')),
  marked_by uuid not null,
  marked_at timestamptz not null default now(),
  primary key (school_id, student_id, watched_on, period),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, marked_by) references people
);
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  for (const [table, writes] of Object.entries({
    choices: "select, insert, update",
    incident_settings: "select, insert, update",
    incidents: "select, insert, update",
    incident_choices: "select, insert, delete",
    incident_revisions: "select, insert",
    watched_days: "select, insert, update, delete",
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
