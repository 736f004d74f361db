import type { Knex } from "knex";

const tables = `
-- Who acted is not always a person: a job by its name, a shared link or a student at a device by their id.
alter table audit
  alter column person_id drop not null,
  add column actor_kind text not null default 'person' check (actor_kind in ('person', 'job', 'link', 'student')),
  add column actor_id uuid,
  add column job text check (length(job) <= 60),
  -- The day it is about, where it is about one; never a part of the words.
  add column about_on date,
  add constraint audit_actor check (
    (actor_kind = 'person') = (person_id is not null)
    and (actor_kind in ('link', 'student')) = (actor_id is not null)
    and (actor_kind = 'job') = (job is not null));

-- The words of an act are now from one list (server/db/events.ts): what stood beside them in the same text goes where it belongs.
update audit set about_on = right(act, 10)::date, act = 'opened', thing = 'tally' where act ~ '^tally opened \\d{4}-\\d{2}-\\d{2}$';
update audit set about_on = right(act, 10)::date, act = case when act like 'absent%' then 'marked' else 'taken back' end
  where thing = 'absence' and act ~ '^(absent|present) \\d{4}-\\d{2}-\\d{2}$';
update audit set act = 'changed', thing = 'choices' where thing = 'choice' and act like 'choices of %';
update audit set thing = 'not measured', act = case
    when act = 'not measured, correct' then 'corrected' when act = 'not measured, remove' then 'removed'
    when act = 'not measured, restore' then 'restored' else 'made' end
  where act like 'not measured, %';
update audit set thing = 'second observation', act = case act when 'observed beside' then 'made' else 'removed' end
  where thing = 'goal' and act in ('observed beside', 'second observation removed');
update audit set about_on = left(act, 10)::date, thing = 'watched day', act = case
    when act ~ ': none$' then 'none' when act ~ ': not observed$' then 'not observed' else 'taken back' end
  where thing = 'student' and act ~ '^\\d{4}-\\d{2}-\\d{2}.*: ';
`;

const gate = `
-- The schools that a nightly job goes through: their ids and nothing of them.
create function gate.school_ids() returns setof uuid
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select s.school_id from public.schools s order by s.school_id
$$;
revoke execute on function gate.school_ids from public;
grant execute on function gate.school_ids to gentle_margin_app;
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await knex.raw(gate);
}
