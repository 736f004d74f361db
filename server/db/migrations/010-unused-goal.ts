import type { Knex } from "knex";

/** Whatever says something of the goal keeps it: entries, and also what is not one. */
const refersToGoal = ["entries", "not_measured", "tallies", "second_observations", "goal_decisions"]
  .map(
    (table) => `exists (select 1 from public.${table} t where t.school_id = school and t.goal_id = p_goal)`,
  )
  .join("\n    or ");

const functions = `
create or replace function remove_unused_goal(p_goal uuid) returns boolean
language plpgsql security definer set search_path = pg_catalog, public, pg_temp as $$
declare school uuid := nullif(current_setting('app.school', true), '')::uuid;
begin
  if ${refersToGoal}
    or exists (select 1 from public.goals g where g.school_id = school and g.parent_id = p_goal) then return false; end if;
  update public.goals set continues = null where school_id = school and continues = p_goal;
  delete from public.goal_phases where school_id = school and goal_id = p_goal;
  delete from public.goal_revisions where school_id = school and goal_id = p_goal;
  delete from public.goal_summaries where school_id = school and goal_id = p_goal;
  delete from public.goal_measures where school_id = school and goal_id = p_goal;
  delete from public.goals where school_id = school and goal_id = p_goal;
  return found;
end $$;
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(functions);
}
