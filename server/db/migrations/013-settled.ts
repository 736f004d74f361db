import type { Knex } from "knex";

const tables = `
-- What the school asks for where there was an injury, a restraint or seclusion, and has not been told yet.
alter table incidents add column facts_missing text[] not null default '{}';
update incidents i set facts_missing = array(
  select asked from jsonb_array_elements_text(coalesce(
    (select s.settings -> 'harmAsked' from incident_settings s where s.school_id = i.school_id),
    '["Began at", "Ended at", "Who was told, and when"]')) asked
  where not exists (select 1 from jsonb_array_elements(i.content #> '{details,harm,facts}') told
    where told ->> 'asked' = asked and btrim(told ->> 'said') <> ''))
where true in ((i.content #>> '{details,harm,injury}')::boolean, (i.content #>> '{details,harm,restraint}')::boolean,
  (i.content #>> '{details,harm,seclusion}')::boolean);
create index incidents_unfinished on incidents (school_id, student_id) where ongoing or facts_missing <> '{}';

-- For how many days after its own a press of an all-day tally still counts by itself.
alter table schools add column late_press_days smallint not null default 7 check (late_press_days between 0 and 60);
grant update (late_press_days) on schools to gentle_margin_app;

-- A tally that its lead closed for good: what arrives later waits for the lead's yes.
alter table tallies add column settled_by uuid, add column settled_at timestamptz,
  add foreign key (school_id, settled_by) references people,
  add check ((settled_at is null) = (settled_by is null)),
  add check (settled_at is null or entry_id is not null);
-- What waits: that the press counts, or that it is taken back.
alter table tally_presses add column asks text check (asks in ('count it', 'take it back'));
create index tally_presses_asking on tally_presses (school_id, goal_id, tally_on) where asks is not null;
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
}
