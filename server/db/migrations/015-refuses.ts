import type { Knex } from "knex";

/** An observation is of its student's own goal and of a version of its measure that there is. */
const keys = `
alter table goals add unique (school_id, student_id, goal_id);
alter table incidents add unique (school_id, student_id, incident_id);
alter table entries add unique (school_id, goal_id, entry_id);
alter table entries
  add foreign key (school_id, student_id, goal_id) references goals (school_id, student_id, goal_id),
  add foreign key (school_id, goal_id, measure_version) references goal_measures;
alter table second_observations
  add foreign key (school_id, student_id, goal_id) references goals (school_id, student_id, goal_id),
  add foreign key (school_id, goal_id, measure_version) references goal_measures;
alter table tallies
  add foreign key (school_id, student_id, goal_id) references goals (school_id, student_id, goal_id),
  add foreign key (school_id, goal_id, measure_version) references goal_measures,
  add foreign key (school_id, goal_id, entry_id) references entries (school_id, goal_id, entry_id);
alter table not_measured
  add foreign key (school_id, student_id, goal_id) references goals (school_id, student_id, goal_id);
alter table goal_decisions
  add foreign key (school_id, student_id, goal_id) references goals (school_id, student_id, goal_id);
alter table goal_summaries
  add foreign key (school_id, student_id, goal_id) references goals (school_id, student_id, goal_id);
alter table incidents
  add foreign key (school_id, student_id, same_as) references incidents (school_id, student_id, incident_id);
-- A goal and its first measure are made together, so the look is at the end.
alter table goals
  add foreign key (school_id, goal_id, measure_version) references goal_measures deferrable initially deferred,
  add foreign key (school_id, goal_id, figures_from_version) references goal_measures deferrable initially deferred,
  add foreign key (school_id, student_id, parent_id) references goals (school_id, student_id, goal_id);
`;

const day = (column: string) => `${column} between '2000-01-01' and '2100-12-31'`;
/** The date of a school is never further from that of Greenwich than a day. */
const sameDay = (on: string, at: string) => `abs(${on} - (${at} at time zone 'UTC')::date) <= 1`;
const number = (column: string) => `${column} > '-infinity'::float8 and ${column} < 'infinity'::float8`;
const isObject = (column: string) => `jsonb_typeof(${column}) = 'object'`;

const checks: Record<string, string[]> = {
  entries: [
    number("value"),
    `numerator >= 0 and ${number("numerator")}`,
    `denominator >= 0 and ${number("denominator")}`,
    "numerator <= denominator",
    `${isObject("entry")} and ${isObject("score")} and ${isObject("circumstances")}`,
    "(score ->> 'value')::float8 is not distinct from value",
    day("observed_on"),
    sameDay("observed_on", "observed_at"),
    "revision >= 1",
  ],
  second_observations: [
    `${isObject("entry")} and ${isObject("score")}`,
    day("observed_on"),
    sameDay("observed_on", "observed_at"),
    "(removed_at is null) = (removed_by is null)",
  ],
  not_measured: [
    day("observed_on"),
    sameDay("observed_on", "observed_at"),
    "(removed_at is null) = (removed_by is null)",
    "revision >= 1",
  ],
  incidents: [
    isObject("content"),
    day("occurred_on"),
    sameDay("occurred_on", "occurred_at"),
    "revision >= 1",
    "not incident_id = any(apart_from)",
  ],
  tallies: [
    day("tally_on"),
    "seen_from < seen_to",
    "(entry_id is null) = (entry_revision is null)",
    "(seen_from is null) = (seen_to is null)",
  ],
  tally_presses: [sameDay("tally_on", "at")],
  goals: [
    number("baseline_value"),
    "start_on <= due_on",
    `${day("start_on")} and ${day("due_on")} and ${day("met_on")} and ${day("ended_on")}`,
    "goal_id <> parent_id and goal_id <> continues",
    "figures_from_version between 1 and measure_version",
    "revision >= 1",
  ],
  goal_measures: ["version >= 1", isObject("measure")],
  goal_phases: [day("starts_on")],
  goal_decisions: [
    day("decided_on"),
    "length(btrim(reason)) > 0 or kind <> 'change instruction'",
    "revision >= 1",
  ],
  plans: [`${day("begins_on")} and ${day("ends_on")}`, "revision >= 1"],
  pattern_notes: ["from_on <= to_on"],
  circle: ["from_on <= to_on"],
  students: ["iep_from <= iep_to"],
  absences: [day("absent_on")],
  watched_days: [day("watched_on")],
  revisions: [
    `case thing
       when 'goal' then act in ('made', 'changed', 'met', 'not met', 'discontinued', 'continued', 'taken up again')
       when 'incident' then act in ('made', 'corrected', 'removed', 'restored', 'joined', 'told apart')
       else act in ('made', 'corrected', 'removed', 'restored') end`,
    "(revision = 1) = (act = 'made') or thing = 'decision'",
  ],
  ladders: ["jsonb_typeof(levels) = 'array' and jsonb_typeof(misses) = 'array'"],
  groups: ["jsonb_typeof(meets) = 'array'"],
  schools: ["school_days <@ array[1, 2, 3, 4, 5, 6, 7]::smallint[]"],
  school_years: [`${day("from_on")} and ${day("to_on")}`],
};

/** What never changes once it is written, beside the keys of a table. */
const fixed: Record<string, readonly string[]> = {
  absences: [],
  choices: ["student_id", "list"],
  device_keys: ["made_at"],
  entries: [
    "goal_id",
    "student_id",
    "author_id",
    "measure_version",
    "made_hash",
    "saved_at",
    "device_at",
    "clock_ahead",
    "sitting_id",
  ],
  goal_decisions: ["student_id", "goal_id", "author_id", "kind", "phase_name", "made_at"],
  goal_measures: ["measure", "from_at", "renamed"],
  goal_phases: ["goal_id"],
  goal_summaries: ["student_id"],
  goal_templates: ["made_by", "made_at"],
  goals: ["student_id"],
  incidents: ["student_id", "author_id", "made_hash", "device_at", "clock_ahead", "saved_at"],
  not_measured: [
    "goal_id",
    "student_id",
    "sitting_id",
    "person_id",
    "observed_at",
    "observed_on",
    "saved_at",
  ],
  pattern_notes: ["student_id", "author_id", "words", "strength", "from_on", "to_on", "noted_on", "noted_at"],
  people: ["source_id"],
  plans: ["student_id", "author_id"],
  second_observations: [
    "goal_id",
    "student_id",
    "measure_version",
    "with_sitting_id",
    "person_id",
    "observed_at",
    "observed_on",
    "entry",
    "score",
    "note",
    "made_hash",
    "saved_at",
  ],
  students: ["source_id"],
  tallies: ["student_id", "measure_version", "opened_by", "opened_at"],
  tally_presses: ["goal_id", "tally_on", "person_id", "written_by", "at", "device_at", "saved_at"],
};

/** The application may change each column but those that never change. A column that is added later is granted by its migration. */
const byColumn = `
do $$
declare one record;
begin
  for one in
    select c.relname as name, string_agg(quote_ident(a.attname), ', ') filter (where not a.attnum = any(k.conkey)
      and not jsonb_exists(coalesce(f.fixed, '[]'), a.attname)) as columns
    from pg_class c
    left join jsonb_each(:fixed::jsonb) as f (name, fixed) on f.name = c.relname
    join pg_constraint k on k.conrelid = c.oid and k.contype = 'p'
    join pg_attribute a on a.attrelid = c.oid and a.attnum > 0 and not a.attisdropped
    where c.relkind = 'r' and c.relnamespace = 'public'::regnamespace and has_table_privilege('gentle_margin_app', c.oid, 'update')
      and exists (select 1 from pg_attribute s where s.attrelid = c.oid and s.attname = 'school_id')
    group by c.relname
  loop
    execute format('revoke update on %I from gentle_margin_app', one.name);
    if one.columns is not null then
      execute format('grant update (%s) on %I to gentle_margin_app', one.columns, one.name);
    end if;
  end loop;
end $$;
`;

/**
 * Looks at the end of a transaction of the application: what has a history was not changed without its next step. The owner, who brings
 * whole schools in, is not asked.
 */
const functions = `
create function of_owner(p_table oid) returns boolean language sql stable set search_path = pg_catalog, pg_temp as $$
  select pg_get_userbyid(c.relowner) = current_user from pg_class c where c.oid = p_table
$$;

-- Arguments: the kind of thing, its id's column, and the columns that change without a step.
create function keep_history() returns trigger language plpgsql set search_path = pg_catalog, pg_temp as $$
declare
  before jsonb := case when tg_op = 'UPDATE' then to_jsonb(old) end;
  now_is jsonb := to_jsonb(new);
  free text[] := string_to_array(tg_argv[2], ',') || 'revision'::text;
  was integer := coalesce((before ->> 'revision')::integer, 0);
begin
  if public.of_owner(tg_relid) or (new.revision = was and before - free = now_is - free) then
    return null;
  end if;
  if new.revision <> was + 1 or not exists (select 1 from public.revisions r where r.school_id = new.school_id
    and r.thing = tg_argv[0] and r.thing_id = (now_is ->> tg_argv[1])::uuid and r.revision = new.revision) then
    raise exception using errcode = 'check_violation', constraint = 'keep_history', table = tg_table_name,
      message = 'changed without a step in its history';
  end if;
  return null;
end $$;

-- Argument: the column with the moment or the day. Nothing was observed that is still to come.
create function not_ahead() returns trigger language plpgsql set search_path = pg_catalog, pg_temp as $$
begin
  if not public.of_owner(tg_relid) and (to_jsonb(new) ->> tg_argv[0])::timestamptz > public.clock_now() + interval '1 day' then
    raise exception using errcode = 'check_violation', constraint = 'not_ahead', table = tg_table_name,
      message = 'lies in the future';
  end if;
  return new;
end $$;

create function own_choice() returns trigger language plpgsql set search_path = pg_catalog, pg_temp as $$
begin
  if not exists (select 1 from public.incidents i join public.choices c on c.school_id = i.school_id and c.student_id = i.student_id
    where i.school_id = new.school_id and i.incident_id = new.incident_id and c.choice_id = new.choice_id) then
    raise exception using errcode = 'foreign_key_violation', constraint = 'own_choice', table = tg_table_name,
      message = 'the choice is another student''s';
  end if;
  return null;
end $$;
create constraint trigger own_choice after insert on incident_choices for each row execute function own_choice();
grant execute on function of_owner, keep_history, not_ahead, own_choice to gentle_margin_app;
`;

const histories: [table: string, thing: string, id: string, free: string][] = [
  ["entries", "entry", "entry_id", ""],
  ["incidents", "incident", "incident_id", "apart_from"],
  ["not_measured", "not measured", "note_id", ""],
  ["goal_decisions", "decision", "decision_id", ""],
  ["goals", "goal", "goal_id", "position,number"],
  ["plans", "plan", "plan_id", ""],
];
const observed: [table: string, column: string][] = [
  ["entries", "observed_at"],
  ["second_observations", "observed_at"],
  ["not_measured", "observed_at"],
  ["incidents", "occurred_on"],
  ["tally_presses", "at"],
  ["watched_days", "watched_on"],
];

export async function up(knex: Knex): Promise<void> {
  await knex.raw(keys);
  for (const [table, asked] of Object.entries(checks))
    await knex.raw(`alter table ${table} ${asked.map((check) => `add check (${check})`).join(", ")}`);
  await knex.raw(byColumn.replace(":fixed", `'${JSON.stringify(fixed)}'`));
  await knex.raw(functions);
  for (const [table, thing, id, free] of histories)
    await knex.raw(`create constraint trigger keep_history after insert or update on ${table} deferrable initially deferred
      for each row execute function keep_history('${thing}', '${id}', '${free}')`);
  for (const [table, column] of observed)
    await knex.raw(`create trigger not_ahead before insert or update of ${column} on ${table}
      for each row execute function not_ahead('${column}')`);
}
