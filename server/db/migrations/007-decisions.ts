import type { Knex } from "knex";

const tables = `
-- What was decided of a goal at its chart, or that it was taught as planned: a line of the report, sometimes with a phase line.
create table goal_decisions (
  school_id uuid not null,
  decision_id uuid not null,
  student_id uuid not null,
  goal_id uuid not null,
  author_id uuid not null,
  kind text not null
    check (kind in ('keep going', 'raise', 'change instruction', 'new phase', 'more data', 'taught as planned')),
  decided_on date not null,
  reason text not null check (length(reason) <= 2000),
  -- The phase that began with it, by the name it had then.
  phase_name text check (length(phase_name) between 1 and 100),
  made_at timestamptz not null default now(),
  -- What stood before each correction: on, reason, by, at (time of the school), why.
  earlier jsonb not null default '[]' check (jsonb_typeof(earlier) = 'array'),
  removed_at timestamptz,
  removed_by uuid,
  primary key (school_id, decision_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, goal_id) references goals,
  foreign key (school_id, author_id) references people,
  foreign key (school_id, removed_by) references people,
  check ((removed_at is null) = (removed_by is null))
);
create index goal_decisions_by_student on goal_decisions (school_id, student_id, decided_on desc);
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await knex.raw(`
    grant select, insert, update on goal_decisions to gentle_margin_app;
    alter table goal_decisions enable row level security;
    create policy school_lock on goal_decisions to gentle_margin_app
      using (school_id = nullif(current_setting('app.school', true), '')::uuid)
      with check (school_id = nullif(current_setting('app.school', true), '')::uuid);
  `);
}
