import type { Knex } from "knex";

const tables = `
create table sittings (
  school_id uuid not null references schools,
  sitting_id uuid not null,
  person_id uuid not null,
  started_at timestamptz not null,
  primary key (school_id, sitting_id),
  foreign key (school_id, person_id) references people
);

alter table entries
  add column sitting_id uuid,
  -- What else was so: the support given where the measure has no ladder, and whether it was interrupted.
  add column circumstances jsonb not null default '{}',
  -- The clock of the device when it was kept there, beside the server's own in saved_at.
  add column device_at timestamptz,
  add constraint entries_sitting foreign key (school_id, sitting_id) references sittings;
create index entries_by_sitting on entries (school_id, sitting_id) where sitting_id is not null;
alter table entry_revisions add column circumstances jsonb not null default '{}';

-- A goal that was to be measured and was not: refused altogether, or interrupted before the first mark. Never a zero.
create table not_measured (
  school_id uuid not null references schools,
  note_id uuid not null,
  goal_id uuid not null,
  student_id uuid not null,
  sitting_id uuid,
  person_id uuid not null,
  observed_at timestamptz not null,
  observed_on date not null,
  reason text not null check (reason in ('refused', 'interrupted')),
  note text check (length(note) <= 2000),
  saved_at timestamptz not null default now(),
  primary key (school_id, note_id),
  foreign key (school_id, goal_id) references goals,
  foreign key (school_id, student_id) references students,
  foreign key (school_id, person_id) references people,
  foreign key (school_id, sitting_id) references sittings
);
create index not_measured_by_student on not_measured (school_id, student_id, observed_at desc);

-- What a device keeps of one person is sealed with this key; without the row nothing on the device can be read again.
create table device_keys (
  school_id uuid not null references schools,
  person_id uuid not null,
  device_id uuid not null,
  key bytea,
  name text not null default '' check (length(name) <= 100),
  made_at timestamptz not null default now(),
  used_at timestamptz not null default now(),
  forgotten_at timestamptz,
  primary key (school_id, person_id, device_id),
  foreign key (school_id, person_id) references people,
  check ((key is null) = (forgotten_at is not null))
);
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  for (const [table, writes] of Object.entries({
    sittings: "select, insert",
    not_measured: "select, insert",
    device_keys: "select, insert, update",
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
