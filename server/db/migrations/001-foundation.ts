import type { Knex } from "knex";

/** Every table here that belongs to a school: `school_id` leads its keys, and row-level security is its second lock. */
const schoolTables = [
  "people",
  "students",
  "circle",
  "goals",
  "goal_measures",
  "goal_phases",
  "entries",
  "entry_revisions",
  "goal_summaries",
  "audit",
];

const tables = `
create table schools (
  school_id uuid primary key,
  name text not null check (length(name) between 1 and 200),
  time_zone text not null,
  made_at timestamptz not null default now()
);

create table people (
  school_id uuid not null references schools,
  person_id uuid not null,
  given_name text not null check (length(given_name) between 1 and 100),
  family_name text not null check (length(family_name) between 1 and 100),
  preferred_name text,
  position text not null default '',
  role text not null check (role in ('administrator', 'staff')),
  email text,
  source_id text,
  primary key (school_id, person_id),
  unique (school_id, source_id)
);

create table students (
  school_id uuid not null references schools,
  student_id uuid not null,
  given_name text not null check (length(given_name) between 1 and 100),
  family_name text not null check (length(family_name) between 1 and 100),
  preferred_name text,
  alias text,
  grade text not null default '',
  iep_from date,
  iep_to date,
  source_id text,
  left_on date,
  primary key (school_id, student_id),
  unique (school_id, source_id)
);

create table circle (
  school_id uuid not null,
  student_id uuid not null,
  person_id uuid not null,
  part text not null check (part in ('lead', 'record', 'read')),
  from_on date not null default current_date,
  to_on date,
  primary key (school_id, student_id, person_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, person_id) references people
);
create index circle_by_person on circle (school_id, person_id, student_id);

create table goals (
  school_id uuid not null,
  goal_id uuid not null,
  student_id uuid not null,
  number text not null check (length(number) between 1 and 12),
  position integer not null,
  area text not null default '',
  title text not null check (length(title) between 1 and 200),
  wording text not null check (length(wording) between 1 and 2000),
  criterion jsonb,
  baseline_on date,
  baseline_value double precision,
  start_on date,
  due_on date,
  met_on date,
  measure_version integer not null default 1,
  primary key (school_id, goal_id),
  foreign key (school_id, student_id) references students
);
create index goals_by_student on goals (school_id, student_id, position);

create table goal_measures (
  school_id uuid not null,
  goal_id uuid not null,
  version integer not null,
  measure jsonb not null,
  from_at timestamptz not null default now(),
  closed_at timestamptz,
  primary key (school_id, goal_id, version),
  foreign key (school_id, goal_id) references goals
);

create table goal_phases (
  school_id uuid not null,
  phase_id uuid not null,
  goal_id uuid not null,
  name text not null check (length(name) between 1 and 100),
  is_baseline boolean not null default false,
  starts_on date not null,
  reason text not null default '',
  primary key (school_id, phase_id),
  foreign key (school_id, goal_id) references goals
);
create index goal_phases_by_goal on goal_phases (school_id, goal_id, starts_on);

create table entries (
  school_id uuid not null,
  entry_id uuid not null,
  goal_id uuid not null,
  student_id uuid not null,
  measure_version integer not null,
  author_id uuid not null,
  observed_at timestamptz not null,
  observed_on date not null,
  purpose text not null check (purpose in ('probe', 'teaching', 'generalisation', 'maintenance')),
  entry jsonb not null,
  score jsonb not null,
  value double precision,
  numerator double precision,
  denominator double precision,
  note text check (length(note) <= 2000),
  state text not null default 'kept' check (state in ('kept', 'removed')),
  revision integer not null default 1,
  made_hash text not null,
  saved_at timestamptz not null default now(),
  primary key (school_id, entry_id),
  foreign key (school_id, goal_id) references goals,
  foreign key (school_id, student_id) references students,
  foreign key (school_id, author_id) references people
);
create index entries_by_goal on entries (school_id, goal_id, observed_at);
create index entries_by_student on entries (school_id, student_id, observed_at desc);

create table entry_revisions (
  school_id uuid not null,
  entry_id uuid not null,
  revision integer not null,
  act text not null check (act in ('made', 'corrected', 'removed', 'restored')),
  person_id uuid not null,
  at timestamptz not null default now(),
  reason text check (length(reason) <= 500),
  observed_at timestamptz not null,
  entry jsonb not null,
  score jsonb not null,
  note text,
  content_hash text not null,
  primary key (school_id, entry_id, revision),
  foreign key (school_id, entry_id) references entries
);

create table goal_summaries (
  school_id uuid not null,
  goal_id uuid not null,
  student_id uuid not null,
  summary jsonb,
  primary key (school_id, goal_id),
  foreign key (school_id, goal_id) references goals
);
create index goal_summaries_by_student on goal_summaries (school_id, student_id);

create table audit (
  school_id uuid not null references schools,
  audit_id bigint generated always as identity,
  at timestamptz not null default now(),
  person_id uuid not null,
  act text not null,
  thing text not null,
  thing_id uuid,
  student_id uuid,
  primary key (school_id, audit_id)
);
create index audit_by_student on audit (school_id, student_id, at);

create table rate_limits (
  key varchar(255) primary key,
  points integer not null default 0,
  expire bigint
);
`;

/**
 * Accounts and sign-in sessions belong to no school and lie behind a gate: the application's role may not read the
 * tables and reaches them only through these functions, each of which answers one question.
 */
const gate = `
create schema gate;

create table gate.accounts (
  account_id uuid primary key,
  email text not null unique check (email = lower(email) and length(email) between 3 and 254),
  password_hash text not null,
  made_at timestamptz not null default now()
);

create table gate.memberships (
  account_id uuid not null references gate.accounts,
  school_id uuid not null,
  person_id uuid not null,
  from_on date not null default current_date,
  to_on date,
  primary key (account_id, school_id),
  foreign key (school_id, person_id) references people
);

create table gate.sessions (
  token_hash bytea primary key,
  account_id uuid not null references gate.accounts,
  school_id uuid not null,
  person_id uuid not null,
  opened_at timestamptz not null default now(),
  seen_at timestamptz not null default now(),
  expires_at timestamptz not null default now() + interval '12 hours',
  ended_at timestamptz
);
create index sessions_by_account on gate.sessions (account_id);

create function gate.credentials_of(p_email text)
returns table (account_id uuid, password_hash text, school_id uuid, person_id uuid)
language sql stable security definer set search_path = pg_catalog, gate as $$
  select a.account_id, a.password_hash, m.school_id, m.person_id
  from gate.accounts a
  join gate.memberships m on m.account_id = a.account_id
    and m.from_on <= current_date + 1 and (m.to_on is null or m.to_on >= current_date)
  where a.email = lower(p_email)
  order by m.from_on desc limit 1
$$;

create function gate.open_session(p_token_hash bytea, p_account uuid, p_school uuid, p_person uuid, p_replaced bytea)
returns void language sql security definer set search_path = pg_catalog, gate as $$
  update gate.sessions set ended_at = now() where token_hash = p_replaced and ended_at is null;
  delete from gate.sessions where expires_at < now() - interval '30 days';
  insert into gate.sessions (token_hash, account_id, school_id, person_id)
  select p_token_hash, m.account_id, m.school_id, m.person_id from gate.memberships m
  where m.account_id = p_account and m.school_id = p_school and m.person_id = p_person;
$$;

create function gate.close_session(p_token_hash bytea) returns void
language sql security definer set search_path = pg_catalog, gate as $$
  update gate.sessions set ended_at = now() where token_hash = p_token_hash and ended_at is null;
$$;

-- Who is behind a cookie; p_touch is false where a stream asks, which is no sign of a person. Nobody once the session ended, expired (12 h) or stood idle (2 h), or the membership is over.
create function gate.session_of(p_token_hash bytea, p_touch boolean)
returns table (school_id uuid, person_id uuid, role text, given_name text, family_name text, school_name text, time_zone text)
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
  select p.school_id, p.person_id, p.role, p.given_name, p.family_name, sc.name, sc.time_zone
  from gate.memberships m
  join public.people p on p.school_id = m.school_id and p.person_id = m.person_id
  join public.schools sc on sc.school_id = m.school_id
  where m.account_id = opened.account_id and m.school_id = opened.school_id and m.person_id = opened.person_id
    and m.from_on <= current_date + 1 and (m.to_on is null or m.to_on >= current_date);
end $$;

create function gate.any_school() returns boolean
language sql stable security definer set search_path = pg_catalog, public as $$ select exists (select 1 from public.schools) $$;

-- The first-run page: makes the school and its first account, and works exactly once.
create function gate.make_first_school(
  p_school uuid, p_name text, p_time_zone text, p_person uuid, p_given text, p_family text, p_account uuid, p_email text, p_hash text)
returns boolean language plpgsql security definer set search_path = pg_catalog, gate, public as $$
begin
  perform pg_advisory_xact_lock(hashtext('gentle-margin first school'));
  if exists (select 1 from public.schools) then return false; end if;
  insert into public.schools (school_id, name, time_zone) values (p_school, p_name, p_time_zone);
  insert into public.people (school_id, person_id, given_name, family_name, role, email)
    values (p_school, p_person, p_given, p_family, 'administrator', lower(p_email));
  insert into gate.accounts (account_id, email, password_hash) values (p_account, lower(p_email), p_hash);
  insert into gate.memberships (account_id, school_id, person_id) values (p_account, p_school, p_person);
  return true;
end $$;

-- Enters a school for the rest of the transaction, and says which part the person has in a student's circle.
create function enter_school(p_school uuid, p_person uuid, p_student uuid) returns text
language plpgsql set search_path = pg_catalog, public as $$
begin
  perform set_config('app.school', p_school::text, true);
  if p_student is null then return null; end if;
  return (select c.part from circle c
    where c.school_id = p_school and c.student_id = p_student and c.person_id = p_person
      and c.from_on <= current_date + 1 and (c.to_on is null or c.to_on >= current_date));
end $$;
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await knex.raw(gate);
  await knex.raw(`
    revoke all on schema public from public;
    revoke execute on all functions in schema gate from public;
    revoke execute on function enter_school from public;
    grant usage on schema public, gate to gentle_margin_app;
    grant execute on all functions in schema gate to gentle_margin_app;
    grant execute on function enter_school to gentle_margin_app;
    grant select on schools to gentle_margin_app;
    grant select, insert, update, delete on rate_limits to gentle_margin_app;
    alter table schools enable row level security;
    create policy school_lock on schools to gentle_margin_app
      using (school_id = nullif(current_setting('app.school', true), '')::uuid);
  `);
  for (const table of schoolTables) {
    const writes =
      table === "audit" || table === "entry_revisions" ? "select, insert" : "select, insert, update";
    await knex.raw(`
      grant ${writes} on ${table} to gentle_margin_app;
      alter table ${table} enable row level security;
      create policy school_lock on ${table} to gentle_margin_app
        using (school_id = nullif(current_setting('app.school', true), '')::uuid)
        with check (school_id = nullif(current_setting('app.school', true), '')::uuid);
    `);
  }
}
