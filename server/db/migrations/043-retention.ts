import type { Knex } from "knex";
import { lockSealed, ofSealedStudents } from "./school-table.ts";

const tables = `
-- For how many years a school keeps a kind of record after a student left, and which rule says so. No row: the school has set nothing.
create table retention (
  school_id uuid not null,
  kind text not null check (kind in ('observations', 'incidents', 'jots', 'messages', 'record')),
  years integer not null check (years between 0 and 100),
  source text not null check (length(source) between 1 and 300),
  primary key (school_id, kind)
);

-- Nothing of the student is erased while a hold is open, as during a dispute.
create table record_holds (
  school_id uuid not null,
  hold_id uuid not null,
  student_id uuid not null,
  reason text not null check (length(reason) between 1 and 500),
  person_id uuid not null,
  made_at timestamptz not null default clock_now(),
  ended_at timestamptz,
  ended_by uuid,
  primary key (school_id, hold_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, person_id) references people,
  foreign key (school_id, ended_by) references people,
  check ((ended_at is null) = (ended_by is null))
);
create index record_holds_by_student on record_holds (school_id, student_id);

-- What parents, or a student who is 18, ask by right: to inspect the record, to amend it, to have it erased.
create table rights_requests (
  school_id uuid not null,
  request_id uuid not null,
  student_id uuid not null,
  kind text not null check (kind in ('inspect', 'amend', 'erase')),
  -- The guardian who asked on the family's page; else by whom, in words.
  guardian_id uuid,
  by_whom text not null check (length(by_whom) between 1 and 200),
  words text not null check (length(words) <= 2000),
  received_on date not null,
  -- Who wrote it down; null where it came from the family's page.
  person_id uuid,
  made_at timestamptz not null default clock_now(),
  outcome text check (outcome in ('inspected', 'amended', 'not amended', 'will be erased', 'not erased', 'withdrawn')),
  outcome_words text check (length(outcome_words) between 1 and 1000),
  ended_on date,
  ended_by uuid,
  primary key (school_id, request_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, guardian_id) references guardians,
  foreign key (school_id, person_id) references people,
  foreign key (school_id, ended_by) references people,
  check ((outcome is null) = (ended_on is null) and (outcome is null) = (ended_by is null)),
  check ((guardian_id is null) <> (person_id is null))
);
create index rights_requests_by_student on rights_requests (school_id, student_id);
create index rights_requests_open on rights_requests (school_id, received_on) where ended_on is null;

-- What parents add to a record that they contest. It goes with that part of the record wherever it goes (34 CFR 99.21).
create table parent_statements (
  school_id uuid not null,
  statement_id uuid not null,
  student_id uuid not null,
  part text not null check (part in ('record', 'goal', 'incidents')),
  goal_id uuid,
  by_whom text not null check (length(by_whom) between 1 and 200),
  words text not null check (length(words) between 1 and 5000),
  received_on date not null,
  person_id uuid not null,
  made_at timestamptz not null default clock_now(),
  withdrawn_at timestamptz,
  withdrawn_by uuid,
  primary key (school_id, statement_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, goal_id) references goals on delete cascade,
  foreign key (school_id, person_id) references people,
  foreign key (school_id, withdrawn_by) references people,
  check ((part = 'goal') = (goal_id is not null)),
  check ((withdrawn_at is null) = (withdrawn_by is null))
);
create index parent_statements_by_student on parent_statements (school_id, student_id);

-- What is to be erased of a student's record, when, why, and how the parents were told. It stays when it is done: it names nobody.
create table erasures (
  school_id uuid not null,
  erasure_id uuid not null,
  student_id uuid not null,
  kinds text[] not null check (kinds <@ array['observations', 'incidents', 'jots', 'messages', 'record'] and cardinality(kinds) > 0),
  -- 34 CFR 300.624(b) lets a school keep a name and the grade reached without limit.
  keeps_name boolean not null,
  why text not null check (why in ('years are over', 'parents asked')),
  told_on date not null,
  told_how text not null check (told_how in ('letter', 'e-mail', 'in person', 'by phone')),
  -- By relation, without a name: "both parents".
  told_whom text not null check (length(told_whom) between 1 and 100),
  planned_on date not null,
  person_id uuid not null,
  made_at timestamptz not null default clock_now(),
  cancelled_at timestamptz,
  cancelled_by uuid,
  done_at timestamptz,
  -- How many rows of each table were erased.
  erased jsonb,
  -- Nothing is erased before somebody had days to cancel it.
  check (planned_on >= (made_at at time zone 'UTC')::date + 6),
  primary key (school_id, erasure_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, person_id) references people,
  foreign key (school_id, cancelled_by) references people
);
-- Of a student one erasing is planned at a time.
create unique index erasures_open on erasures (school_id, student_id) where cancelled_at is null and done_at is null;

-- What one person did at once for the next school year, to be undone within a day.
create table roll_overs (
  school_id uuid not null,
  roll_over_id uuid not null,
  person_id uuid not null,
  made_at timestamptz not null default clock_now(),
  undone_at timestamptz,
  -- How many steps could not be undone, since somebody changed the same since.
  remained integer,
  primary key (school_id, roll_over_id),
  foreign key (school_id, person_id) references people
);
create table roll_over_steps (
  school_id uuid not null,
  roll_over_id uuid not null,
  place integer not null,
  student_id uuid,
  kind text not null check (kind in ('year', 'group', 'leaving', 'grade', 'goal', 'part')),
  -- Of what was changed: its ids, what was there before and what is there since.
  step jsonb not null,
  primary key (school_id, roll_over_id, place),
  foreign key (school_id, roll_over_id) references roll_overs,
  foreign key (school_id, student_id) references students
);
create index roll_over_steps_by_student on roll_over_steps (school_id, student_id) where student_id is not null;

-- Which rows are a student's, table by table, for what erases them: $1 is the school, $2 the student. What refers to others goes first.
-- Every table of a school is here or in the list of those that hold nothing of a student: a test compares both with the schema.
create table gate.record_rows (
  place integer not null,
  of_table text not null,
  kind text not null check (kind in ('observations', 'incidents', 'jots', 'messages', 'record')),
  of_student text not null,
  primary key (of_table, kind)
);
`;

const mine = "school_id = $1 and student_id = $2";
const ofGuardian =
  "school_id = $1 and guardian_id in (select guardian_id from public.guardians where school_id = $1 and student_id = $2)";
const of = (table: string, id: string, refers = id) =>
  `school_id = $1 and ${refers} in (select ${id} from public.${table} where school_id = $1 and student_id = $2)`;
const steps = (...things: (readonly [thing: string, table: string, id: string])[]) =>
  things.map(([thing, table, id]) => `thing = '${thing}' and ${of(table, id, "thing_id")}`).join(" or ");
const messagesOf = `school_id = $1 and (student_id = $2 or guardian_id in (select guardian_id from public.guardians where school_id = $1 and student_id = $2)
  or about::text like '%' || $2 || '%')`;

/** In the order in which they go. */
const rows: readonly (readonly [kind: string, table: string, ofStudent?: string])[] = [
  ["observations", "releases", `${mine} and thing = 'entry'`],
  [
    "observations",
    "revisions",
    steps(["entry", "entries", "entry_id"], ["not measured", "not_measured", "note_id"]),
  ],
  ["observations", "tally_presses"],
  ["observations", "tallies"],
  ["observations", "second_observations"],
  ["observations", "entries"],
  ["observations", "not_measured"],
  ["observations", "data_asks"],
  ["observations", "standings_told"],
  ["observations", "held_items"],
  ["incidents", "revisions", steps(["incident", "incidents", "incident_id"])],
  ["incidents", "incident_choices", of("incidents", "incident_id")],
  ["incidents", "incidents"],
  ["incidents", "watched_days"],
  ["incidents", "pattern_notes"],
  ["incidents", "patterns_told"],
  ["jots", "releases", `${mine} and thing = 'jot'`],
  ["jots", "revisions", steps(["jot", "jots", "jot_id"])],
  ["jots", "pictures"],
  ["jots", "jots"],
  [
    "messages",
    "message_texts",
    `school_id = $1 and message_id in (select message_id from public.messages where ${messagesOf})`,
  ],
  ["messages", "messages", messagesOf],
  ["messages", "feedback_answers"],
  ["messages", "feedback_rounds"],
  ["messages", "family_questions"],
  ["messages", "summary_news"],
  ["messages", "news"],
  [
    "record",
    "revisions",
    steps(
      ["decision", "goal_decisions", "decision_id"],
      ["goal", "goals", "goal_id"],
      ["plan", "plans", "plan_id"],
      ["statement", "progress_statements", "statement_id"],
    ),
  ],
  [
    "record",
    "packet_pieces",
    "school_id = $1 and packet_id in (select packet_id from public.packet_reports where school_id = $1 and student_id = $2)",
  ],
  ["record", "packet_reports"],
  ["record", "disclosures"],
  ["record", "outside_requests"],
  ["record", "edition_files"],
  ["record", "edition_shares", of("editions", "edition_id")],
  ["record", "editions"],
  ["record", "progress_statements"],
  ["record", "statement_writers"],
  ["record", "goal_decisions"],
  ["record", "meeting_notes"],
  ["record", "meeting_preparations"],
  ["record", "meetings"],
  ["record", "student_audiences"],
  ["record", "no_names"],
  ["record", "report_views"],
  ["record", "absences"],
  ["record", "parent_statements"],
  ["record", "rights_requests"],
  ["record", "record_holds"],
  ["record", "roll_over_steps"],
  ["record", "choices"],
  ["record", "plans"],
  ["record", "goal_summaries"],
  ["record", "goal_phases"],
  ["record", "goal_measures"],
  ["record", "goals"],
  ["record", "group_members"],
  ["record", "circle_mutes"],
  ["record", "circle"],
  [
    "record",
    "gate.family_sessions",
    `link_id in (select link_id from gate.family_links where ${ofGuardian})`,
  ],
  ["record", "gate.family_links", ofGuardian],
  ["record", "gate.family_codes", ofGuardian],
  ["record", "gate.family_accounts", ofGuardian],
  ["record", "guardians"],
];

const functions = `
-- Erases what one erasing names, and marks it as done. Asks nothing: only what is behind the gate calls it, and the owner after a restore.
create function gate.erase_rows(p_school uuid, p_erasure uuid) returns jsonb
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare
  here uuid := p_school;
  p_student uuid;
  plan public.erasures;
  whole boolean;
  one record;
  gone bigint;
  counted jsonb := '{}';
  pictures jsonb := '[]';
  accounts uuid[];
begin
  select * into plan from public.erasures e where e.school_id = here and e.erasure_id = p_erasure;
  p_student := plan.student_id;
  whole := 'record' = any(plan.kinds);
  if whole or 'jots' = any(plan.kinds) then
    pictures := coalesce((select jsonb_agg(distinct p.sha256) from public.pictures p where p.school_id = here and p.student_id = p_student
      and not exists (select 1 from public.pictures o where o.school_id = here and o.sha256 = p.sha256 and o.student_id <> p_student)), '[]');
  end if;
  if whole then
    select array_agg(f.account_id) into accounts from gate.family_accounts f join public.guardians g
      on g.school_id = f.school_id and g.guardian_id = f.guardian_id where g.school_id = here and g.student_id = p_student;
    -- The queue holds ids; those of this student and of its guardians go too.
    if to_regclass('jobs.job') is not null then
      execute 'delete from jobs.job where data::text like ''%'' || $1 || ''%''
        or exists (select 1 from public.guardians g where g.school_id = $2 and g.student_id = $1 and data::text like ''%'' || g.guardian_id || ''%'')'
        using p_student, here;
    end if;
  end if;
  for one in select r.of_table, r.of_student from gate.record_rows r where whole or r.kind = any(plan.kinds) order by r.place loop
    execute format('delete from %s t where %s', case when one.of_table like 'gate.%' then one.of_table else 'public.' || one.of_table end, one.of_student)
      using here, p_student;
    get diagnostics gone = row_count;
    if gone > 0 then
      counted := counted || jsonb_build_object(one.of_table, coalesce((counted ->> one.of_table)::bigint, 0) + gone);
    end if;
  end loop;
  -- What names several students loses this one.
  update public.open_sittings o set goals = coalesce((select jsonb_agg(g) from jsonb_array_elements(o.goals) g where g ->> 'studentId' <> p_student::text), '[]')
    where o.school_id = here and o.goals::text like '%' || p_student || '%';
  update public.message_batches b set choice = jsonb_set(b.choice, '{out}', coalesce((select jsonb_agg(x) from jsonb_array_elements(b.choice -> 'out') x
      where x::text not like '%' || p_student || '%'), '[]'))
    where b.school_id = here and b.choice::text like '%' || p_student || '%';
  if whole then
    -- An account of a family that is tied to nothing else any more.
    for one in select a.account_id from gate.accounts a where a.account_id = any(accounts)
      and not exists (select 1 from gate.family_accounts f where f.account_id = a.account_id)
      and not exists (select 1 from gate.memberships m where m.account_id = a.account_id)
      and not exists (select 1 from gate.district_people d where d.account_id = a.account_id)
    loop
      perform gate.forget_account(one.account_id);
    end loop;
    update public.students s set
      given_name = case when plan.keeps_name then s.given_name else '—' end,
      family_name = case when plan.keeps_name then s.family_name else '' end,
      initials = case when plan.keeps_name then s.initials else '—' end,
      grade = case when plan.keeps_name then s.grade else '' end,
      left_on = coalesce(s.left_on, public.clock_now()::date), preferred_name = null, alias = null, iep_from = null, iep_to = null, source_id = null, born_on = null, family_after = null
      where s.school_id = here and s.student_id = p_student;
    -- Names were noted as they changed, by the lines above too. Their hashes stay, which the seals cover.
    update public.audit_changes c set changes = null, ids = c.ids - 'source_id' where c.school_id = here and c.student_id = p_student;
  end if;
  update public.erasures e set done_at = public.clock_now(), erased = counted
    where e.school_id = here and e.erasure_id = plan.erasure_id;
  return jsonb_build_object('erasureId', plan.erasure_id, 'kinds', to_jsonb(plan.kinds), 'pictures', pictures);
end $$;

-- Erases what is planned for a student, as the server's own work alone may. Refused while a request or a hold is open, where the student is
-- at the school, and where nothing is planned that is due. Answers which kinds went, and the hashes of pictures.
create function gate.erase_planned(p_student uuid) returns jsonb
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare
  here uuid := gate.school_now();
  today date := nullif(current_setting('app.today', true), '')::date;
  planned uuid;
begin
  if here is null or gate.is_work_now() is not true then
    raise exception using errcode = 'insufficient_privilege', message = 'only the server''s own work erases';
  end if;
  perform 1 from public.students s where s.school_id = here and s.student_id = p_student for update;
  select e.erasure_id into planned from public.erasures e where e.school_id = here and e.student_id = p_student
    and e.cancelled_at is null and e.done_at is null and e.planned_on <= today for update;
  if planned is null
    or not exists (select 1 from public.students s where s.school_id = here and s.student_id = p_student and s.left_on <= today)
    or exists (select 1 from public.record_holds h where h.school_id = here and h.student_id = p_student and h.ended_at is null)
    or exists (select 1 from public.rights_requests r where r.school_id = here and r.student_id = p_student and r.ended_on is null)
  then return null; end if;
  return gate.erase_rows(here, planned);
end $$;

-- An account and what hangs on it: wherever a table of the gate names it.
create function gate.forget_account(p_account uuid) returns void
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare one record;
begin
  for one in select k.conrelid::regclass::text as of_table, a.attname as of_column from pg_constraint k
    join pg_attribute a on a.attrelid = k.conrelid and a.attnum = k.conkey[1]
    where k.contype = 'f' and k.confrelid = 'gate.accounts'::regclass
    order by k.conrelid::regclass::text = 'gate.tickets'
  loop
    execute format('delete from %s where %I = $1', one.of_table, one.of_column) using p_account;
  end loop;
  delete from gate.accounts where account_id = p_account;
end $$;

-- Which students have something planned that is due, in every school: for the work of the night.
create function gate.erasures_due(p_key bytea) returns table (school_id uuid, student_id uuid)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select e.school_id, e.student_id from public.erasures e join public.schools s on s.school_id = e.school_id
  where gate.is_app(p_key) and e.cancelled_at is null and e.done_at is null
    and e.planned_on <= (public.clock_now() at time zone s.time_zone)::date
$$;
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await knex.batchInsert(
    "gate.record_rows",
    rows.map(([kind, of_table, of_student = mine], place) => ({ place, of_table, kind, of_student })),
  );
  await knex.raw(functions);
  const orAdministrator =
    "using (student_id = any((select gate.students_now())::uuid[]) or (select gate.is_administrator()))";
  await lockSealed(knex, "retention", "select, insert, update (years, source), delete", []);
  await lockSealed(knex, "record_holds", "select, insert, update (ended_at, ended_by)", [orAdministrator]);
  await lockSealed(
    knex,
    "rights_requests",
    "select, insert, update (outcome, outcome_words, ended_on, ended_by)",
    [orAdministrator],
  );
  await lockSealed(knex, "parent_statements", "select, insert, update (withdrawn_at, withdrawn_by)", [
    ofSealedStudents,
  ]);
  await lockSealed(
    knex,
    "erasures",
    `select, insert (school_id, erasure_id, student_id, kinds, keeps_name, why, told_on, told_how, told_whom, planned_on, person_id),
     update (cancelled_at, cancelled_by)`,
    [orAdministrator],
  );
  await lockSealed(knex, "roll_overs", "select, insert, update (undone_at, remained)", []);
  await lockSealed(knex, "roll_over_steps", "select, insert", [
    "using (student_id is null or student_id = any((select gate.students_now())::uuid[]))",
  ]);
  await knex.raw(`
    create trigger note_change after insert or update or delete on retention for each row execute function gate.note_change();
    revoke execute on function gate.erase_planned, gate.erase_rows, gate.forget_account, gate.erasures_due from public;
    grant execute on function gate.erase_planned, gate.erasures_due to gentle_margin_app;`);
}
