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

/** Rows of the students in whose circle the actor is: what `lockSealed` and `lockToCircle` take for a table with a `student_id`. */
export const ofSealedStudents = "using (student_id = any((select gate.students_now())::uuid[]))";

/**
 * Locks rows about students to their circle, on top of the lock to the school.
 *
 * @param rules each as the end of a restrictive policy: `using (…)`, or `for select using (…)` for one command
 */
export async function lockToCircle(knex: Knex, table: string, rules: readonly string[]): Promise<void> {
  for (const [place, rule] of rules.entries()) {
    const name = place === 0 ? "circle_lock" : `circle_lock_${place + 1}`;
    const { command, rest } = /^(?<command>(for \w+ )?)(?<rest>.*)$/s.exec(rule)?.groups ?? {};
    await knex.raw(
      `create policy ${name} on ${table} as restrictive ${command ?? ""}to gentle_margin_app ${rest ?? ""}`,
    );
  }
}

/** Locks a new table to the sealed school and, by `rules`, to the circle: none for a table that says nothing of a student. */
export async function lockSealed(
  knex: Knex,
  table: string,
  grants: string,
  rules: readonly string[] = [],
): Promise<void> {
  const ours = "(school_id = (select gate.school_now()))";
  await knex.raw(`
    grant ${grants} on ${table} to gentle_margin_app;
    alter table ${table} enable row level security;
    create policy school_lock on ${table} to gentle_margin_app using ${ours} with check ${ours};
  `);
  await lockToCircle(knex, table, rules);
}
