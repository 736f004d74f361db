import type { Knex } from "knex";
import { lockToSchool } from "./school-table.ts";

const table = `
-- Everything that happened to what is corrected: each step with what stands from then on. Nothing here is changed or deleted.
create table revisions (
  school_id uuid not null,
  thing text not null check (thing in ('entry', 'incident', 'not measured', 'decision', 'goal', 'plan')),
  thing_id uuid not null,
  revision integer not null check (revision >= 1),
  act text not null,
  -- Null where nobody is known any more who did it.
  person_id uuid,
  at timestamptz not null default clock_now(),
  reason text check (length(reason) <= 500),
  content jsonb not null check (jsonb_typeof(content) = 'object'),
  -- Two saves with the same content are one.
  content_hash text,
  primary key (school_id, thing, thing_id, revision),
  foreign key (school_id, person_id) references people
);
`;

const carriedOver = `
insert into revisions (school_id, thing, thing_id, revision, act, person_id, at, reason, content, content_hash)
select school_id, 'entry', entry_id, revision, act, person_id, at, reason, jsonb_build_object('observedAt', observed_at, 'setting', setting,
  'entry', entry, 'score', score, 'note', note, 'circumstances', circumstances, 'observerId', observer_id), content_hash
from entry_revisions;

insert into revisions (school_id, thing, thing_id, revision, act, person_id, at, reason, content, content_hash)
select school_id, 'incident', incident_id, revision, act, person_id, at, reason, jsonb_build_object('on', occurred_on, 'at', occurred_at,
  'period', period, 'content', content, 'note', note), content_hash
from incident_revisions;

insert into revisions (school_id, thing, thing_id, revision, act, person_id, at, reason, content)
select school_id, 'goal', goal_id, revision, act, person_id, at, nullif(reason, ''),
  jsonb_build_object('fromOn', from_on, 'setUp', set_up)
from goal_revisions;

insert into revisions (school_id, thing, thing_id, revision, act, person_id, at, content)
select school_id, 'plan', plan_id, revision, act, person_id, at, jsonb_build_object('name', name, 'thinking', thinking,
  'trying', trying, 'beginsOn', begins_on, 'endsOn', ends_on)
from plan_revisions;

-- A decision kept what stood before each correction; from now on each step keeps what stands from then on. Who corrected it was
-- written as a name: it is that person, where the school has one of that name and no other.
alter table goal_decisions add column revision integer not null default 1;
with steps as (
  select d.school_id, d.decision_id, d.author_id, d.made_at, e.step, e.before, s.time_zone,
    lead(e.before) over (partition by d.school_id, d.decision_id order by e.step) as following,
    jsonb_build_object('on', d.decided_on, 'reason', d.reason) as now
  from goal_decisions d join schools s on s.school_id = d.school_id,
    jsonb_array_elements(d.earlier) with ordinality as e (before, step)
), named as (
  select school_id, left(given_name, 1) || '. ' || family_name as name, (array_agg(person_id))[1] as person_id
  from people group by 1, 2 having count(*) = 1
)
insert into revisions (school_id, thing, thing_id, revision, act, person_id, at, reason, content)
select k.school_id, 'decision', k.decision_id, k.step + 1, 'corrected', n.person_id,
  (k.before ->> 'at')::timestamp at time zone k.time_zone, k.before ->> 'why',
  case when k.following is null then k.now else k.following - 'by' - 'at' - 'why' end
from steps k left join named n on n.school_id = k.school_id and n.name = k.before ->> 'by';
insert into revisions (school_id, thing, thing_id, revision, act, person_id, at, content)
select school_id, 'decision', decision_id, 1, 'made', author_id, made_at,
  coalesce((earlier -> 0) - 'by' - 'at' - 'why', jsonb_build_object('on', decided_on, 'reason', reason))
from goal_decisions;
insert into revisions (school_id, thing, thing_id, revision, act, person_id, at, content)
select school_id, 'decision', decision_id, jsonb_array_length(earlier) + 2, 'removed', removed_by, removed_at,
  jsonb_build_object('on', decided_on, 'reason', reason)
from goal_decisions where removed_at is not null;
update goal_decisions d set revision = (select max(r.revision) from revisions r
  where r.school_id = d.school_id and r.thing = 'decision' and r.thing_id = d.decision_id);
alter table goal_decisions drop column earlier;

-- A line of what was not measured was corrected by another in its place. It is one line from now on, by the id that it had first, which
-- a device may send again.
alter table not_measured add column revision integer not null default 1;
create temporary table line on commit drop as
with recursive line as (
  select school_id, note_id as first_id, note_id, 1 as step from not_measured where corrects is null
  union all
  select n.school_id, l.first_id, n.note_id, l.step + 1 from not_measured n
  join line l on n.school_id = l.school_id and n.corrects = l.note_id)
select * from line;
insert into revisions (school_id, thing, thing_id, revision, act, person_id, at, reason, content)
select n.school_id, 'not measured', l.first_id, l.step, case when l.step = 1 then 'made' else 'corrected' end,
  coalesce(before.removed_by, n.person_id), coalesce(before.removed_at, n.saved_at), before.removed_reason,
  jsonb_build_object('reason', n.reason, 'note', n.note)
from not_measured n join line l on l.school_id = n.school_id and l.note_id = n.note_id
left join not_measured before on before.school_id = n.school_id and before.note_id = n.corrects;
insert into revisions (school_id, thing, thing_id, revision, act, person_id, at, reason, content)
select n.school_id, 'not measured', l.first_id, l.step + 1, 'removed', n.removed_by, n.removed_at, n.removed_reason,
  jsonb_build_object('reason', n.reason, 'note', n.note)
from not_measured n join line l on l.school_id = n.school_id and l.note_id = n.note_id
where n.removed_at is not null
  and not exists (select 1 from line later where later.school_id = l.school_id and later.first_id = l.first_id and later.step > l.step);
update not_measured f set reason = last.reason, note = last.note, removed_at = last.removed_at, removed_by = last.removed_by,
  revision = (select max(r.revision) from revisions r
    where r.school_id = f.school_id and r.thing = 'not measured' and r.thing_id = f.note_id)
from (select distinct on (l.school_id, l.first_id) l.first_id, n.* from line l
  join not_measured n on n.school_id = l.school_id and n.note_id = l.note_id
  order by l.school_id, l.first_id, l.step desc) last
where f.school_id = last.school_id and f.note_id = last.first_id;
alter table not_measured drop column corrects;
delete from not_measured n using line l where n.school_id = l.school_id and n.note_id = l.note_id and l.step > 1;
alter table not_measured drop column removed_reason;

drop table entry_revisions, incident_revisions, goal_revisions, plan_revisions;
`;

const functions = `
create or replace function remove_unused_goal(p_goal uuid) returns boolean
language plpgsql security definer set search_path = pg_catalog, public, pg_temp as $$
declare school uuid := nullif(current_setting('app.school', true), '')::uuid;
begin
  if exists (select 1 from public.entries t where t.school_id = school and t.goal_id = p_goal)
    or exists (select 1 from public.not_measured t where t.school_id = school and t.goal_id = p_goal)
    or exists (select 1 from public.tallies t where t.school_id = school and t.goal_id = p_goal)
    or exists (select 1 from public.second_observations t where t.school_id = school and t.goal_id = p_goal)
    or exists (select 1 from public.goal_decisions t where t.school_id = school and t.goal_id = p_goal)
    or exists (select 1 from public.goals g where g.school_id = school and g.parent_id = p_goal) then return false; end if;
  update public.goals set continues = null where school_id = school and continues = p_goal;
  delete from public.goal_phases where school_id = school and goal_id = p_goal;
  delete from public.revisions where school_id = school and thing = 'goal' and thing_id = p_goal;
  delete from public.goal_summaries where school_id = school and goal_id = p_goal;
  delete from public.goal_measures where school_id = school and goal_id = p_goal;
  delete from public.goals where school_id = school and goal_id = p_goal;
  return found;
end $$;
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(table);
  await knex.raw(carriedOver);
  await knex.raw(functions);
  await lockToSchool(knex, "revisions", "select, insert");
}
