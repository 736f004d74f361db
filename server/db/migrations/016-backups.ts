import type { Knex } from "knex";

const tables = `
-- What each migration said when it was applied.
create table migration_sums (
  name text primary key,
  sum text not null
);
-- When a backup was made, and when one was last put back on trial. The files themselves lie elsewhere.
create table backup_runs (
  at timestamptz primary key default now(),
  kind text not null check (kind in ('made', 'checked', 'failed'))
);
grant select on backup_runs to gentle_margin_app;
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
}
