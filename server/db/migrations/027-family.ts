import type { Knex } from "knex";
import { lockToSchool } from "./school-table.ts";

/** Guardians of a student, the links and accounts with which they read what is theirs to read, their questions, and the day rights pass. */
const tables = `
create table guardians (
  school_id uuid not null,
  guardian_id uuid not null,
  student_id uuid not null,
  name text not null check (length(name) between 1 and 100),
  relation text not null default '' check (length(relation) <= 60),
  email text check (email = lower(email) and length(email) between 3 and 254),
  language text not null check (language in ('en', 'es')),
  -- Why this guardian may see nothing, as after a court's order: for staff only.
  no_access_reason text check (length(no_access_reason) between 1 and 500),
  person_id uuid not null,
  made_at timestamptz not null default clock_now(),
  removed_at timestamptz,
  primary key (school_id, guardian_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, person_id) references people
);
create index guardians_by_student on guardians (school_id, student_id);

create table family_questions (
  school_id uuid not null,
  question_id uuid not null,
  student_id uuid not null,
  guardian_id uuid not null,
  words text not null check (length(words) between 1 and 2000),
  asked_at timestamptz not null default clock_now(),
  answer text check (length(answer) between 1 and 2000),
  answered_by uuid,
  answered_at timestamptz,
  primary key (school_id, question_id),
  foreign key (school_id, guardian_id) references guardians,
  foreign key (school_id, student_id) references students,
  foreign key (school_id, answered_by) references people,
  check ((answered_at is null) = (answered_by is null))
);
create index family_questions_by_student on family_questions (school_id, student_id, asked_at);

alter table students add column born_on date;
-- What a person decided when the rights passed to the student: the family reads no longer, or reads on because the student agrees.
alter table students add column family_after text check (family_after in ('ended', 'student agrees'));

alter table edition_shares drop constraint edition_shares_how_check;
alter table edition_shares add constraint edition_shares_how_check
  check (how in ('printed', 'in the meeting', 'mailed', 'family page', 'other'));

create table gate.family_links (
  link_id uuid primary key,
  token_hash bytea not null unique,
  school_id uuid not null,
  guardian_id uuid not null,
  made_at timestamptz not null default now(),
  expires_at timestamptz not null,
  revoked_at timestamptz,
  foreign key (school_id, guardian_id) references guardians
);
create index family_links_by_guardian on gate.family_links (school_id, guardian_id);

-- The one code that opens a link now, for ten minutes and one use.
create table gate.family_codes (
  school_id uuid not null,
  guardian_id uuid not null,
  code_hash bytea not null,
  expires_at timestamptz not null default now() + interval '10 minutes',
  used_at timestamptz,
  primary key (school_id, guardian_id),
  foreign key (school_id, guardian_id) references guardians
);

create table gate.family_accounts (
  account_id uuid not null references gate.accounts,
  school_id uuid not null,
  guardian_id uuid not null,
  primary key (account_id, school_id, guardian_id),
  foreign key (school_id, guardian_id) references guardians
);
create index family_accounts_by_guardian on gate.family_accounts (school_id, guardian_id);

-- A guardian who is signed in: by a link, for one student; or by an account, for every student it is tied to.
create table gate.family_sessions (
  token_hash bytea primary key,
  link_id uuid references gate.family_links,
  account_id uuid references gate.accounts,
  seen_at timestamptz not null default now(),
  expires_at timestamptz not null default now() + interval '12 hours',
  ended_at timestamptz,
  check ((link_id is null) <> (account_id is null))
);
create index family_sessions_by_link on gate.family_sessions (link_id);
create index family_sessions_by_account on gate.family_sessions (account_id);
`;

const functions = `
-- May this guardian read now? Not once removed, refused, or where the student has the rights and the family reads no longer.
create function gate.guardian_now(p_school uuid, p_guardian uuid)
returns table (school_id uuid, guardian_id uuid, student_id uuid, guardian_name text, email text, language text, school_name text,
  time_zone text, locale text)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select g.school_id, g.guardian_id, g.student_id, g.name, g.email, g.language, sc.name, sc.time_zone, sc.locale
  from public.guardians g
  join public.students st on st.school_id = g.school_id and st.student_id = g.student_id
  join public.schools sc on sc.school_id = g.school_id
  where g.school_id = p_school and g.guardian_id = p_guardian and g.removed_at is null and g.no_access_reason is null
    and st.family_after is distinct from 'ended'
$$;

create function gate.open_link(p_token_hash bytea) returns table (link_id uuid, school_id uuid, guardian_id uuid)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select l.link_id, l.school_id, l.guardian_id from gate.family_links l
  where l.token_hash = p_token_hash and l.revoked_at is null and l.expires_at > now()
$$;

-- What the page of a link shows before a code was given: the school and a hint of the address, no student.
create function gate.family_link(p_token_hash bytea)
returns table (school_id uuid, guardian_id uuid, email text, language text, school_name text)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select n.school_id, n.guardian_id, n.email, n.language, n.school_name
  from gate.open_link(p_token_hash) l, lateral gate.guardian_now(l.school_id, l.guardian_id) n
$$;

create function gate.add_family_link(p_link uuid, p_guardian uuid, p_token_hash bytea, p_days integer) returns timestamptz
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare until timestamptz;
begin
  update gate.family_links l set revoked_at = now()
    where l.school_id = gate.school_now() and l.guardian_id = p_guardian and l.revoked_at is null;
  insert into gate.family_links (link_id, token_hash, school_id, guardian_id, expires_at)
    select p_link, p_token_hash, n.school_id, n.guardian_id, now() + make_interval(days => p_days)
    from gate.guardian_now(gate.school_now(), p_guardian) n
    returning expires_at into until;
  return until;
end $$;

-- Ends the links of a guardian and what was opened with them, and takes their accounts away where asked.
create function gate.end_family(p_guardian uuid, p_accounts boolean) returns void
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  update gate.family_sessions s set ended_at = now() from gate.family_links l
    where l.link_id = s.link_id and l.school_id = gate.school_now() and l.guardian_id = p_guardian and s.ended_at is null;
  update gate.family_links l set revoked_at = now()
    where l.school_id = gate.school_now() and l.guardian_id = p_guardian and l.revoked_at is null;
  delete from gate.family_codes c where c.school_id = gate.school_now() and c.guardian_id = p_guardian;
  if p_accounts then
    delete from gate.family_accounts a where a.school_id = gate.school_now() and a.guardian_id = p_guardian;
  end if;
end $$;

create function gate.set_family_code(p_school uuid, p_guardian uuid, p_code_hash bytea) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  insert into gate.family_codes (school_id, guardian_id, code_hash)
    select n.school_id, n.guardian_id, p_code_hash from gate.guardian_now(p_school, p_guardian) n
    on conflict (school_id, guardian_id) do update
      set code_hash = excluded.code_hash, expires_at = now() + interval '10 minutes', used_at = null;
  return found;
end $$;

-- Opens a family session with a link and its code; false where either is not good now.
create function gate.open_family(p_link_hash bytea, p_code_hash bytea, p_token_hash bytea) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare opened record;
begin
  select l.* into opened from gate.open_link(p_link_hash) l, lateral gate.guardian_now(l.school_id, l.guardian_id) n;
  if not found then return false; end if;
  update gate.family_codes c set used_at = now()
    where c.school_id = opened.school_id and c.guardian_id = opened.guardian_id and c.code_hash = p_code_hash
      and c.used_at is null and c.expires_at > now();
  if not found then return false; end if;
  delete from gate.family_sessions s where s.expires_at < now() - interval '30 days';
  insert into gate.family_sessions (token_hash, link_id) values (p_token_hash, opened.link_id);
  return true;
end $$;

-- The same for an account whose password was shown to be known; false where it is tied to no student now.
create function gate.open_family_account(p_account uuid, p_token_hash bytea) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  if not exists (select 1 from gate.family_accounts a, lateral gate.guardian_now(a.school_id, a.guardian_id) n
    where a.account_id = p_account) then return false; end if;
  insert into gate.family_sessions (token_hash, account_id) values (p_token_hash, p_account);
  return true;
end $$;

create function gate.close_family(p_token_hash bytea) returns void
language sql security definer set search_path = pg_catalog, pg_temp as $$
  update gate.family_sessions set ended_at = now() where token_hash = p_token_hash and ended_at is null;
$$;

-- Of whom a family session may read now. Over after two idle hours and after twelve in all, as any session.
create function gate.family_of(p_token_hash bytea)
returns table (school_id uuid, guardian_id uuid, student_id uuid, guardian_name text, email text, language text, school_name text,
  time_zone text, locale text, has_account boolean)
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  update gate.family_sessions s set seen_at = now() where s.token_hash = p_token_hash and s.seen_at < now() - interval '1 minute'
    and s.ended_at is null and s.seen_at > now() - interval '2 hours';
  return query
  select n.*, s.account_id is not null
  from gate.family_sessions s
  join lateral (
    select l.school_id, l.guardian_id from gate.family_links l
      where l.link_id = s.link_id and l.revoked_at is null and l.expires_at > now()
    union all
    select a.school_id, a.guardian_id from gate.family_accounts a where a.account_id = s.account_id
  ) t on true,
  lateral gate.guardian_now(t.school_id, t.guardian_id) n
  where s.token_hash = p_token_hash and s.ended_at is null and s.expires_at > now() and s.seen_at > now() - interval '2 hours';
end $$;

-- Is the account behind a session tied to a student as family?
create function gate.is_family(p_token_hash bytea) returns boolean
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select exists (select 1 from gate.account_of(p_token_hash) o join gate.family_accounts a on a.account_id = o.account_id,
    lateral gate.guardian_now(a.school_id, a.guardian_id) n)
$$;

-- Ties the guardian of a family session, who has shown a code of their address, to an account: a new one of that address, or one whose
-- password was shown to be known. False where the address has an account and a new one was asked for.
create function gate.keep_family(p_token_hash bytea, p_account uuid, p_new_hash text) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare mine record;
begin
  select * into mine from gate.family_of(p_token_hash) f where not f.has_account limit 1;
  if not found then return false; end if;
  if p_new_hash is not null then
    if mine.email is null or exists (select 1 from gate.accounts a where a.email = mine.email) then return false; end if;
    insert into gate.accounts (account_id, email, password_hash) values (p_account, mine.email, p_new_hash);
  end if;
  insert into gate.family_accounts (account_id, school_id, guardian_id) values (p_account, mine.school_id, mine.guardian_id)
    on conflict do nothing;
  update gate.family_sessions s set account_id = p_account, link_id = null where s.token_hash = p_token_hash;
  return true;
end $$;

-- How the guardians of a student can read: until when a link is good, and whether an account is tied to them.
create function gate.families_here(p_student uuid) returns table (guardian_id uuid, link_until timestamptz, has_account boolean)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select g.guardian_id,
    (select max(l.expires_at) from gate.family_links l where l.school_id = g.school_id and l.guardian_id = g.guardian_id
      and l.revoked_at is null and l.expires_at > now()),
    exists (select 1 from gate.family_accounts a where a.school_id = g.school_id and a.guardian_id = g.guardian_id)
  from public.guardians g where g.school_id = gate.school_now() and g.student_id = p_student
$$;
`;

const granted = [
  ...[
    "family_link",
    "add_family_link",
    "end_family",
    "set_family_code",
    "open_family",
    "open_family_account",
  ],
  ...["close_family", "family_of", "keep_family", "families_here", "guardian_now", "is_family"],
];

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await knex.raw(functions);
  await lockToSchool(knex, "guardians", "select, insert, update");
  await lockToSchool(knex, "family_questions", "select, insert, update");
  await knex.raw("grant update (born_on, family_after) on students to gentle_margin_app");
  await knex.raw("revoke execute on all functions in schema gate from public");
  for (const name of granted) await knex.raw(`grant execute on function gate.${name} to gentle_margin_app`);
}
