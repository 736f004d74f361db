import type { Knex } from "knex";

/** Tables that the application may also delete from: what stands there says what is so now, and the audit keeps what was. */
const lists = [
  "school_years",
  "reporting_periods",
  "closures",
  "timetable",
  "school_lists",
  "group_members",
  "absences",
];
const kept = ["groups", "ladders", "goal_templates"];

const tables = `
alter table people
  add column case_manager boolean not null default false,
  add column left_on date;
update people p set case_manager = true
where exists (select 1 from circle c where c.school_id = p.school_id and c.person_id = p.person_id and c.part = 'lead');

alter table students add column initials text check (length(initials) between 1 and 12);

alter table schools add column school_days smallint[] not null default '{1,2,3,4,5}';

alter table goals
  add column parent_id uuid,
  add column annual_review_on date,
  add column baseline_entries smallint check (baseline_entries between 1 and 20),
  add column schedule jsonb,
  add column strategy text not null default '' check (length(strategy) <= 2000),
  add column measured_by uuid,
  add column ended text check (ended in ('discontinued', 'continued')),
  add column ended_on date,
  add column ended_reason text not null default '' check (length(ended_reason) <= 500),
  add column continues uuid,
  add column figures_from_version integer not null default 1,
  add column revision integer not null default 1,
  add constraint goals_parent foreign key (school_id, parent_id) references goals,
  add constraint goals_continues foreign key (school_id, continues) references goals,
  add constraint goals_measured_by foreign key (school_id, measured_by) references people,
  add constraint goals_ended check ((ended is null) = (ended_on is null));

alter table goal_measures
  add column renamed jsonb not null default '{}';

alter table entries add column setting text check (length(setting) between 1 and 100);
alter table entry_revisions add column setting text;

create table goal_revisions (
  school_id uuid not null,
  goal_id uuid not null,
  revision integer not null,
  act text not null check (act in ('made', 'changed', 'met', 'not met', 'discontinued', 'continued', 'taken up again')),
  person_id uuid,
  at timestamptz not null default now(),
  from_on date not null,
  reason text not null default '' check (length(reason) <= 500),
  set_up jsonb not null,
  primary key (school_id, goal_id, revision),
  foreign key (school_id, goal_id) references goals
);
insert into goal_revisions (school_id, goal_id, revision, act, at, from_on, set_up)
select g.school_id, g.goal_id, 1, 'made', m.from_at, coalesce(g.start_on, m.from_at::date),
  jsonb_build_object('number', g.number, 'title', g.title, 'area', g.area, 'wording', g.wording, 'criterion', g.criterion,
    'measure', m.measure, 'dueOn', g.due_on)
from goals g join goal_measures m on m.school_id = g.school_id and m.goal_id = g.goal_id and m.version = g.measure_version;

create table school_years (
  school_id uuid not null references schools,
  year_id uuid not null,
  name text not null check (length(name) between 1 and 60),
  from_on date not null,
  to_on date not null,
  primary key (school_id, year_id),
  check (from_on < to_on)
);

create table reporting_periods (
  school_id uuid not null references schools,
  period_id uuid not null,
  name text not null check (length(name) between 1 and 60),
  from_on date not null,
  to_on date not null,
  primary key (school_id, period_id),
  check (from_on < to_on)
);

create table closures (
  school_id uuid not null references schools,
  closure_id uuid not null,
  name text not null check (length(name) between 1 and 60),
  from_on date not null,
  to_on date not null,
  primary key (school_id, closure_id),
  check (from_on <= to_on)
);

create table timetable (
  school_id uuid not null references schools,
  slot_id uuid not null,
  weekday smallint not null check (weekday between 1 and 7),
  name text not null check (length(name) between 1 and 60),
  starts_at time not null,
  ends_at time not null,
  primary key (school_id, slot_id),
  check (starts_at < ends_at)
);

create table school_lists (
  school_id uuid not null references schools,
  list text not null check (list in ('area', 'setting')),
  item_id uuid not null,
  name text not null check (length(name) between 1 and 100),
  position integer not null,
  primary key (school_id, item_id),
  unique (school_id, list, name)
);

create table ladders (
  school_id uuid not null references schools,
  ladder_id uuid not null,
  name text not null check (length(name) between 1 and 60),
  levels jsonb not null,
  misses jsonb not null default '[]',
  position integer not null,
  retired_on date,
  primary key (school_id, ladder_id)
);

create table groups (
  school_id uuid not null references schools,
  group_id uuid not null,
  name text not null check (length(name) between 1 and 60),
  meets jsonb not null default '[]',
  retired_on date,
  primary key (school_id, group_id)
);

create table group_members (
  school_id uuid not null,
  group_id uuid not null,
  student_id uuid not null,
  primary key (school_id, group_id, student_id),
  foreign key (school_id, group_id) references groups,
  foreign key (school_id, student_id) references students
);
create index group_members_by_student on group_members (school_id, student_id);

create table absences (
  school_id uuid not null,
  student_id uuid not null,
  absent_on date not null,
  person_id uuid not null,
  at timestamptz not null default now(),
  primary key (school_id, student_id, absent_on),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, person_id) references people
);

create table goal_templates (
  school_id uuid not null references schools,
  template_id uuid not null,
  title text not null check (length(title) between 1 and 200),
  area text not null default '',
  wording text not null check (length(wording) between 1 and 2000),
  set_up jsonb not null,
  made_by uuid not null,
  made_at timestamptz not null default now(),
  changed_at timestamptz not null default now(),
  removed_at timestamptz,
  primary key (school_id, template_id),
  foreign key (school_id, made_by) references people
);

-- A goal that was set up by mistake: gone for good as long as nothing was ever recorded for it and nothing stands under it.
create function remove_unused_goal(p_goal uuid) returns boolean
language plpgsql security definer set search_path = pg_catalog, public as $$
declare school uuid := nullif(current_setting('app.school', true), '')::uuid;
begin
  if exists (select 1 from entries e where e.school_id = school and e.goal_id = p_goal)
    or exists (select 1 from goals g where g.school_id = school and g.parent_id = p_goal) then return false; end if;
  update goals set continues = null where school_id = school and continues = p_goal;
  delete from goal_phases where school_id = school and goal_id = p_goal;
  delete from goal_revisions where school_id = school and goal_id = p_goal;
  delete from goal_summaries where school_id = school and goal_id = p_goal;
  delete from goal_measures where school_id = school and goal_id = p_goal;
  delete from goals where school_id = school and goal_id = p_goal;
  return found;
end $$;

drop function gate.session_of;
-- As before; it also says whether the person carries a caseload, and knows nobody who has left.
create function gate.session_of(p_token_hash bytea, p_touch boolean)
returns table (school_id uuid, person_id uuid, role text, case_manager boolean, given_name text, family_name text, school_name text, time_zone text)
language plpgsql security definer set search_path = pg_catalog, gate, public as $$
declare opened gate.sessions;
begin
  select * into opened from gate.sessions s
  where s.token_hash = p_token_hash and s.ended_at is null and s.expires_at > now() and s.seen_at > now() - interval '2 hours';
  if not found then return; end if;
  if p_touch and opened.seen_at < now() - interval '1 minute' then
    update gate.sessions s set seen_at = now() where s.token_hash = p_token_hash;
  end if;
  return query
  select p.school_id, p.person_id, p.role, p.case_manager, p.given_name, p.family_name, sc.name, sc.time_zone
  from gate.memberships m
  join public.people p on p.school_id = m.school_id and p.person_id = m.person_id
  join public.schools sc on sc.school_id = m.school_id
  where m.account_id = opened.account_id and m.school_id = opened.school_id and m.person_id = opened.person_id
    and m.from_on <= current_date + 1 and (m.to_on is null or m.to_on >= current_date)
    and (p.left_on is null or p.left_on >= current_date);
end $$;
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await knex.raw(`
    revoke execute on function gate.session_of, remove_unused_goal from public;
    grant execute on function remove_unused_goal to gentle_margin_app;
    grant execute on function gate.session_of to gentle_margin_app;
    grant update (name, time_zone, school_days) on schools to gentle_margin_app;
    grant delete on goal_phases to gentle_margin_app;
  `);
  for (const table of [...lists, ...kept, "goal_revisions"]) {
    const writes =
      table === "goal_revisions"
        ? "select, insert"
        : kept.includes(table)
          ? "select, insert, update"
          : "select, insert, update, delete";
    await knex.raw(`
      grant ${writes} on ${table} to gentle_margin_app;
      alter table ${table} enable row level security;
      create policy school_lock on ${table} to gentle_margin_app
        using (school_id = nullif(current_setting('app.school', true), '')::uuid)
        with check (school_id = nullif(current_setting('app.school', true), '')::uuid);
    `);
  }
}
