import type { Knex } from "knex";

const tables = `
-- Who watched, where somebody else wrote it down; and by how much the server's clock was ahead of the device's, in milliseconds.
alter table entries
  add column observer_id uuid,
  add column clock_ahead integer,
  add constraint entries_observer foreign key (school_id, observer_id) references people;
alter table entry_revisions add column observer_id uuid;

-- A few digits with which a person shows on somebody else's device that it is them.
create table pins (
  school_id uuid not null,
  person_id uuid not null,
  pin_hash text not null,
  set_at timestamptz not null default now(),
  primary key (school_id, person_id),
  foreign key (school_id, person_id) references people
);

-- A signed-in person's device, taken over by another who gave their PIN: what is recorded there afterwards is theirs.
create table handovers (
  school_id uuid not null,
  handover_id uuid not null,
  from_id uuid not null,
  person_id uuid not null,
  at timestamptz not null default now(),
  primary key (school_id, handover_id),
  foreign key (school_id, from_id) references people,
  foreign key (school_id, person_id) references people
);

-- A count that runs all day and is handed from adult to adult; closed, it is one entry of its goal.
create table tallies (
  school_id uuid not null,
  goal_id uuid not null,
  tally_on date not null,
  student_id uuid not null,
  measure_version integer not null,
  opened_by uuid not null,
  opened_at timestamptz not null,
  closed_by uuid,
  seen_from timestamptz,
  seen_to timestamptz,
  entry_id uuid,
  -- The revision of the entry that this tally wrote: one that a person wrote afterwards is not written over.
  entry_revision integer,
  primary key (school_id, goal_id, tally_on),
  foreign key (school_id, goal_id) references goals,
  foreign key (school_id, student_id) references students,
  foreign key (school_id, opened_by) references people,
  foreign key (school_id, closed_by) references people,
  foreign key (school_id, entry_id) references entries,
  check ((entry_id is null) = (closed_by is null))
);
create index tallies_open on tallies (school_id, student_id) where entry_id is null;

create table tally_presses (
  school_id uuid not null,
  press_id uuid not null,
  goal_id uuid not null,
  tally_on date not null,
  person_id uuid not null,
  -- Who pressed for them, where that was another.
  written_by uuid,
  at timestamptz not null,
  device_at timestamptz not null,
  back boolean not null default false,
  saved_at timestamptz not null default now(),
  primary key (school_id, press_id),
  foreign key (school_id, goal_id, tally_on) references tallies,
  foreign key (school_id, person_id) references people,
  foreign key (school_id, written_by) references people
);
create index tally_presses_by_tally on tally_presses (school_id, goal_id, tally_on, at);

-- What a second observer saw of the same goal at the same time: compared with the entry, never counted.
create table second_observations (
  school_id uuid not null,
  observation_id uuid not null,
  goal_id uuid not null,
  student_id uuid not null,
  measure_version integer not null,
  -- The sitting that was joined; null where there was no network to find it: its time tells then.
  with_sitting_id uuid,
  person_id uuid not null,
  observed_at timestamptz not null,
  observed_on date not null,
  entry jsonb not null,
  score jsonb not null,
  note text check (length(note) <= 2000),
  made_hash text not null,
  removed_at timestamptz,
  removed_by uuid,
  saved_at timestamptz not null default now(),
  primary key (school_id, observation_id),
  foreign key (school_id, goal_id) references goals,
  foreign key (school_id, student_id) references students,
  foreign key (school_id, person_id) references people,
  foreign key (school_id, removed_by) references people
);
create index second_observations_by_goal on second_observations (school_id, goal_id, observed_at);

-- Which sittings are going on, as far as their devices could say it: a second observer joins by it. Gone with the sitting.
create table open_sittings (
  school_id uuid not null,
  sitting_id uuid not null,
  person_id uuid not null,
  device_id uuid not null,
  started_at timestamptz not null,
  seen_at timestamptz not null default now(),
  -- [{studentId, goalId}]
  goals jsonb not null,
  primary key (school_id, sitting_id),
  foreign key (school_id, person_id) references people
);

-- A line of what was not measured is corrected by another in its place, and removed without being lost.
alter table not_measured
  add column corrects uuid,
  add column removed_at timestamptz,
  add column removed_by uuid,
  add column removed_reason text check (length(removed_reason) <= 500),
  add constraint not_measured_corrects foreign key (school_id, corrects) references not_measured,
  add constraint not_measured_removed_by foreign key (school_id, removed_by) references people;
grant update on not_measured to gentle_margin_app;
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  for (const [table, writes] of Object.entries({
    pins: "select, insert, update, delete",
    handovers: "select, insert",
    tallies: "select, insert, update",
    tally_presses: "select, insert, update",
    second_observations: "select, insert, update",
    open_sittings: "select, insert, update, delete",
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
