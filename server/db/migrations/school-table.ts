import type { Knex } from "knex";

/**
 * Locks a table to the rows of one school, for the application's role: what it may do there, and the policy that every table of a
 * school has. Whoever makes a table with a `school_id` calls this for it.
 *
 * @param grants what the application may do, as SQL says it: `select, insert`
 */
export async function lockToSchool(knex: Knex, table: string, grants: string): Promise<void> {
  await knex.raw(`
    grant ${grants} on ${table} to gentle_margin_app;
    alter table ${table} enable row level security;
    create policy school_lock on ${table} to gentle_margin_app
      using (school_id = nullif(current_setting('app.school', true), '')::uuid)
      with check (school_id = nullif(current_setting('app.school', true), '')::uuid);
  `);
}
