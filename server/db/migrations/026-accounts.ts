import type { Knex } from "knex";

/**
 * Accounts that belong to no school: links that invite or reset, devices an account has signed in on, and the schools of an account.
 * All of it lies behind the gate. A function that acts for a person of a school acts in the school that the transaction has entered.
 */
const tables = `
-- A device on which an account has signed in: what others guess elsewhere does not slow it down.
create table gate.known_devices (
  account_id uuid not null references gate.accounts,
  device_hash bytea not null,
  seen_at timestamptz not null default now(),
  primary key (account_id, device_hash)
);

alter table gate.memberships add column last_in timestamptz;
update gate.memberships m set last_in = (select max(s.opened_at) from gate.sessions s where s.account_id = m.account_id and s.school_id = m.school_id);
create unique index memberships_by_person on gate.memberships (school_id, person_id);

-- What a link is for. An invitation names a person of a school, a reset an account.
create table gate.tickets (
  ticket_id uuid primary key,
  purpose text not null check (purpose in ('invitation', 'reset')),
  school_id uuid,
  person_id uuid,
  account_id uuid references gate.accounts,
  made_by uuid,
  made_at timestamptz not null default now(),
  expires_at timestamptz not null,
  used_at timestamptz,
  revoked_at timestamptz,
  foreign key (school_id, person_id) references public.people,
  check ((purpose = 'invitation' and person_id is not null) or (purpose = 'reset' and account_id is not null))
);
create index tickets_by_person on gate.tickets (school_id, person_id);
create index tickets_by_account on gate.tickets (account_id);

-- The links of a ticket: one that was shown and one that was mailed are two, and the first one used ends both.
create table gate.ticket_links (
  token_hash bytea primary key,
  ticket_id uuid not null references gate.tickets on delete cascade
);
create index ticket_links_by_ticket on gate.ticket_links (ticket_id);

-- Accounts that see the schools of this installation, and nothing in them.
create table gate.district_people (account_id uuid primary key references gate.accounts);

-- What an account is asked for after its password: a code of six digits that changes with the time. Asked for once it is confirmed.
create table gate.second_steps (
  account_id uuid primary key references gate.accounts,
  secret text not null,
  confirmed_at timestamptz,
  -- The number of the last half minute whose code was used: no code is good twice.
  last_counter bigint not null default 0
);
create table gate.recovery_codes (
  account_id uuid not null references gate.accounts,
  code_hash bytea not null,
  used_at timestamptz,
  primary key (account_id, code_hash)
);
-- A sign-in that has shown its password and not its second step.
create table gate.half_sign_ins (
  token_hash bytea primary key,
  account_id uuid not null references gate.accounts,
  expires_at timestamptz not null default now() + interval '10 minutes'
);

alter table public.schools add column second_step_for text not null default 'nobody'
  check (second_step_for in ('nobody', 'administrators', 'administrators and case managers'));
grant update (second_step_for) on public.schools to gentle_margin_app;

-- Has this person done with the first steps, or skipped them? Who is here already has.
alter table public.people add column trail_over boolean not null default false;
update public.people set trail_over = true;
grant update (trail_over) on public.people to gentle_margin_app;

-- The code that the first person of an installation has to know; it is printed where the server was started.
create table gate.set_up (only_row boolean primary key default true check (only_row), code_hash bytea not null, made_at timestamptz not null default now());
`;

const functions = `
create function gate.school_now() returns uuid
language sql stable set search_path = pg_catalog, pg_temp as $$
  select nullif(current_setting('app.school', true), '')::uuid
$$;

-- Does this device belong to the account of an e-mail?
create function gate.is_known_device(p_email text, p_device_hash bytea) returns boolean
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select exists (select 1 from gate.known_devices d join gate.accounts a on a.account_id = d.account_id
    where a.email = lower(p_email) and d.device_hash = p_device_hash and d.seen_at > now() - interval '400 days')
$$;

-- The device of a session that was just opened.
create function gate.know_device(p_token_hash bytea, p_device_hash bytea) returns void
language sql security definer set search_path = pg_catalog, pg_temp as $$
  delete from gate.known_devices d using gate.account_of(p_token_hash) a
    where d.account_id = a.account_id and d.seen_at < now() - interval '400 days';
  insert into gate.known_devices (account_id, device_hash)
    select a.account_id, p_device_hash from gate.account_of(p_token_hash) a
    on conflict (account_id, device_hash) do update set seen_at = now();
$$;

-- After a change of password: the other devices are as strange as any.
create function gate.forget_other_devices(p_token_hash bytea, p_device_hash bytea) returns void
language sql security definer set search_path = pg_catalog, pg_temp as $$
  delete from gate.known_devices d using gate.account_of(p_token_hash) a
    where d.account_id = a.account_id and d.device_hash is distinct from p_device_hash;
$$;

-- The account of an e-mail, whatever schools it is in now.
create function gate.account_by_email(p_email text) returns table (account_id uuid, password_hash text)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select a.account_id, a.password_hash from gate.accounts a where a.email = lower(p_email)
$$;

-- The schools an account is in today, by each school's own date, the one used last first.
create function gate.schools_of(p_account uuid)
returns table (school_id uuid, person_id uuid, school_name text, position_name text, role text, last_in timestamptz)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select m.school_id, m.person_id, sc.name, p.position, p.role, m.last_in
  from gate.memberships m
  join public.people p on p.school_id = m.school_id and p.person_id = m.person_id
  join public.schools sc on sc.school_id = m.school_id,
    lateral (select (public.clock_now() at time zone sc.time_zone)::date as today) d
  where m.account_id = p_account and m.from_on <= d.today and (m.to_on is null or m.to_on >= d.today)
    and (p.left_on is null or p.left_on >= d.today)
  order by m.last_in desc nulls last, sc.name
$$;

create or replace function gate.open_session(p_token_hash bytea, p_account uuid, p_school uuid, p_person uuid, p_replaced bytea)
returns void language sql security definer set search_path = pg_catalog, pg_temp as $$
  update gate.sessions set ended_at = now() where token_hash = p_replaced and ended_at is null;
  delete from gate.sessions where expires_at < now() - interval '30 days';
  update gate.memberships set last_in = now()
  where account_id = p_account and school_id = p_school and person_id = p_person;
  insert into gate.sessions (token_hash, account_id, school_id, person_id)
  select p_token_hash, m.account_id, m.school_id, m.person_id from gate.memberships m
  where m.account_id = p_account and m.school_id = p_school and m.person_id = p_person;
$$;

-- Opens a session in another school of the same account in place of this one, with the same end and on the same device.
create function gate.switch_school(p_token_hash bytea, p_next_hash bytea, p_school uuid) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare made integer;
begin
  insert into gate.sessions (token_hash, account_id, school_id, person_id, opened_at, expires_at, agent)
    select p_next_hash, s.account_id, o.school_id, o.person_id, s.opened_at, s.expires_at, s.agent
    from gate.account_of(p_token_hash) a join gate.sessions s on s.token_hash = p_token_hash,
      lateral gate.schools_of(a.account_id) o where o.school_id = p_school;
  get diagnostics made = row_count;
  if made = 0 then return false; end if;
  update gate.memberships m set last_in = now() from gate.sessions s
    where s.token_hash = p_next_hash and m.account_id = s.account_id and m.school_id = s.school_id;
  update gate.sessions set ended_at = now() where token_hash = p_token_hash;
  return true;
end $$;

-- Invites a person of the school that was entered: ends the invitations before. False for who has an account here, has left, or has no e-mail.
create function gate.invite(p_ticket uuid, p_person uuid, p_by uuid) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare made integer;
begin
  update gate.tickets set revoked_at = now()
    where school_id = gate.school_now() and person_id = p_person and purpose = 'invitation' and used_at is null and revoked_at is null;
  insert into gate.tickets (ticket_id, purpose, school_id, person_id, made_by, expires_at)
    select p_ticket, 'invitation', p.school_id, p.person_id, p_by, now() + interval '7 days'
    from public.people p
    where p.school_id = gate.school_now() and p.person_id = p_person and p.email is not null
      and (p.left_on is null or p.left_on >= public.scope_today())
      and not exists (select 1 from gate.memberships m where m.school_id = p.school_id and m.person_id = p.person_id);
  get diagnostics made = row_count;
  return made = 1;
end $$;

-- A reset that an administrator hands over: only for an account that is used in this school and in no other.
create function gate.reset_here(p_ticket uuid, p_person uuid, p_by uuid) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare made integer;
begin
  update gate.tickets t set revoked_at = now() from gate.memberships m
    where m.school_id = gate.school_now() and m.person_id = p_person and t.account_id = m.account_id
      and t.purpose = 'reset' and t.used_at is null and t.revoked_at is null;
  insert into gate.tickets (ticket_id, purpose, school_id, person_id, account_id, made_by, expires_at)
    select p_ticket, 'reset', m.school_id, m.person_id, m.account_id, p_by, now() + interval '24 hours'
    from gate.memberships m
    where m.school_id = gate.school_now() and m.person_id = p_person
      and not exists (select 1 from gate.memberships o where o.account_id = m.account_id and o.school_id <> m.school_id)
      and not exists (select 1 from gate.district_people d where d.account_id = m.account_id);
  get diagnostics made = row_count;
  return made = 1;
end $$;

-- A reset that somebody asks for by e-mail; false where no account has it.
create function gate.ask_reset(p_ticket uuid, p_email text) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare made integer;
begin
  update gate.tickets t set revoked_at = now() from gate.accounts a
    where a.email = lower(p_email) and t.account_id = a.account_id and t.purpose = 'reset' and t.used_at is null and t.revoked_at is null;
  insert into gate.tickets (ticket_id, purpose, account_id, expires_at)
    select p_ticket, 'reset', a.account_id, now() + interval '1 hour' from gate.accounts a where a.email = lower(p_email);
  get diagnostics made = row_count;
  return made = 1;
end $$;

-- Takes back what was sent to a person of this school and is not used.
create function gate.revoke_tickets(p_person uuid) returns integer
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare ended integer;
begin
  update gate.tickets set revoked_at = now()
    where school_id = gate.school_now() and person_id = p_person and used_at is null and revoked_at is null;
  get diagnostics ended = row_count;
  return ended;
end $$;

-- A ticket that is open: not used, not taken back, not run out, its person still there and its account as it was.
create function gate.open_ticket(p_ticket uuid)
returns table (ticket_id uuid, purpose text, school_id uuid, person_id uuid, account_id uuid, school_name text, locale text, time_zone text,
  given_name text, family_name text, email text, expires_at timestamptz)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select t.ticket_id, t.purpose, t.school_id, t.person_id, coalesce(t.account_id, held.account_id), sc.name, sc.locale, sc.time_zone, p.given_name,
    p.family_name, coalesce(a.email, p.email), t.expires_at
  from gate.tickets t
  left join gate.accounts a on a.account_id = t.account_id
  left join public.people p on p.school_id = t.school_id and p.person_id = t.person_id
  left join public.schools sc on sc.school_id = t.school_id
  left join gate.accounts held on t.purpose = 'invitation' and held.email = lower(p.email)
  where t.ticket_id = p_ticket and t.used_at is null and t.revoked_at is null and t.expires_at > now()
    and (t.purpose = 'reset' or (p.email is not null and (p.left_on is null or p.left_on >= (public.clock_now() at time zone sc.time_zone)::date)))
$$;

-- Adds a link to a ticket that is open, and answers with whom it is for; nothing where it is not open.
create function gate.add_ticket_link(p_ticket uuid, p_token_hash bytea)
returns table (purpose text, school_name text, locale text, time_zone text, given_name text, family_name text, email text, expires_at timestamptz)
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  insert into gate.ticket_links (token_hash, ticket_id) select p_token_hash, o.ticket_id from gate.open_ticket(p_ticket) o;
  return query select o.purpose, o.school_name, o.locale, o.time_zone, o.given_name, o.family_name, o.email, o.expires_at from gate.open_ticket(p_ticket) o;
end $$;

-- What a link opens; nothing once it is used, taken back or run out.
create function gate.ticket_of(p_token_hash bytea)
returns table (ticket_id uuid, purpose text, school_id uuid, person_id uuid, account_id uuid, school_name text, locale text, time_zone text,
  given_name text, family_name text, email text, expires_at timestamptz)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select o.* from gate.ticket_links l, lateral gate.open_ticket(l.ticket_id) o where l.token_hash = p_token_hash
$$;

-- Uses an invitation. Without an account the one of the person's e-mail is made, with this password; with one, which has shown its
-- password, the school is added to it. Answers who that is here; nothing where the link is no longer good or the account is here already.
create function gate.accept_invitation(p_token_hash bytea, p_account uuid, p_new_hash text)
returns table (account_id uuid, school_id uuid, person_id uuid)
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare opened record;
begin
  perform 1 from gate.tickets t join gate.ticket_links l on l.ticket_id = t.ticket_id where l.token_hash = p_token_hash for update of t;
  select * into opened from gate.ticket_of(p_token_hash) o where o.purpose = 'invitation';
  if not found then return; end if;
  if exists (select 1 from gate.memberships m where m.school_id = opened.school_id
    and (m.account_id = p_account or m.person_id = opened.person_id)) then return; end if;
  if p_new_hash is not null then
    if exists (select 1 from gate.accounts a where a.email = lower(opened.email)) then return; end if;
    insert into gate.accounts (account_id, email, password_hash) values (p_account, lower(opened.email), p_new_hash);
  end if;
  insert into gate.memberships (account_id, school_id, person_id) values (p_account, opened.school_id, opened.person_id);
  update gate.tickets t set used_at = now() where t.ticket_id = opened.ticket_id;
  return query select p_account, opened.school_id::uuid, opened.person_id::uuid;
end $$;

-- Uses a reset: another password, the end of all sessions, and no device is known any more.
create function gate.use_reset(p_token_hash bytea, p_new_hash text) returns text
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare opened record;
begin
  perform 1 from gate.tickets t join gate.ticket_links l on l.ticket_id = t.ticket_id where l.token_hash = p_token_hash for update of t;
  select * into opened from gate.ticket_of(p_token_hash) o where o.purpose = 'reset';
  if not found then return null; end if;
  update gate.accounts a set password_hash = p_new_hash where a.account_id = opened.account_id;
  update gate.sessions s set ended_at = now() where s.account_id = opened.account_id and s.ended_at is null;
  delete from gate.known_devices d where d.account_id = opened.account_id;
  update gate.tickets t set used_at = now() where t.ticket_id = opened.ticket_id;
  return opened.email;
end $$;

create function gate.has_second_step(p_account uuid) returns boolean
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select exists (select 1 from gate.second_steps s where s.account_id = p_account and s.confirmed_at is not null)
$$;

-- How the people of this school sign in: the address of the account, when they last did, what was sent to them, in how many places they are.
create function gate.accounts_here()
returns table (person_id uuid, account_email text, last_in timestamptz, invited_at timestamptz, invited_until timestamptz, reset_until timestamptz,
  is_elsewhere boolean, open_sessions integer, has_step boolean)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select p.person_id, a.email, m.last_in, t.made_at, t.expires_at, r.expires_at,
    exists (select 1 from gate.memberships o where o.account_id = m.account_id and o.school_id <> p.school_id)
      or exists (select 1 from gate.district_people d where d.account_id = m.account_id),
    (select count(*)::int from gate.sessions s where s.account_id = m.account_id and s.school_id = p.school_id
      and s.ended_at is null and s.expires_at > now() and s.seen_at > now() - interval '2 hours'),
    gate.has_second_step(m.account_id)
  from public.people p
  left join gate.memberships m on m.school_id = p.school_id and m.person_id = p.person_id
  left join gate.accounts a on a.account_id = m.account_id
  left join lateral (select t.made_at, t.expires_at from gate.tickets t where t.school_id = p.school_id and t.person_id = p.person_id
    and t.purpose = 'invitation' and t.used_at is null and t.revoked_at is null order by t.made_at desc limit 1) t on m.account_id is null
  left join lateral (select r.expires_at from gate.tickets r where r.school_id = p.school_id and r.person_id = p.person_id
    and r.purpose = 'reset' and r.used_at is null and r.revoked_at is null order by r.made_at desc limit 1) r on true
  where p.school_id = gate.school_now()
$$;

-- Where a person is signed in to this school. What they have open in another school is no concern of this one.
create function gate.sessions_here(p_person uuid) returns table (session_id text, agent text, opened_at timestamptz, seen_at timestamptz)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select encode(sha256(s.token_hash), 'hex'), s.agent, s.opened_at, s.seen_at from gate.sessions s
  where s.school_id = gate.school_now() and s.person_id = p_person
    and s.ended_at is null and s.expires_at > now() and s.seen_at > now() - interval '2 hours'
  order by s.seen_at desc
$$;

-- Ends one session of a person in this school, or all where none is named.
create function gate.end_sessions_here(p_person uuid, p_session text) returns integer
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare ended integer;
begin
  update gate.sessions s set ended_at = now()
    where s.school_id = gate.school_now() and s.person_id = p_person and s.ended_at is null
      and (p_session is null or encode(sha256(s.token_hash), 'hex') = p_session);
  get diagnostics ended = row_count;
  return ended;
end $$;

-- The schools of this installation with their administrators, for an account that may see them: names and addresses, no student.
create function gate.district_schools(p_token_hash bytea)
returns table (school_id uuid, school_name text, made_at timestamptz, people integer, administrators jsonb)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select sc.school_id, sc.name, sc.made_at,
    (select count(*)::int from public.people p where p.school_id = sc.school_id and p.left_on is null),
    (select coalesce(jsonb_agg(jsonb_build_object('name', p.given_name || ' ' || p.family_name, 'email', p.email) order by p.given_name), '[]')
      from public.people p where p.school_id = sc.school_id and p.role = 'administrator' and p.left_on is null)
  from gate.account_of(p_token_hash) a
  join gate.district_people d on d.account_id = a.account_id
  cross join public.schools sc
  order by sc.name
$$;

-- The account behind a session, or behind a sign-in that is half done.
create function gate.account_at(p_token_hash bytea) returns uuid
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select a.account_id from gate.account_of(p_token_hash) a
  union all
  select h.account_id from gate.half_sign_ins h where h.token_hash = p_token_hash and h.expires_at > now()
  limit 1
$$;

create function gate.open_half(p_token_hash bytea, p_account uuid) returns void
language sql security definer set search_path = pg_catalog, pg_temp as $$
  delete from gate.half_sign_ins where expires_at < now();
  insert into gate.half_sign_ins (token_hash, account_id) values (p_token_hash, p_account);
$$;

create function gate.close_half(p_token_hash bytea) returns void
language sql security definer set search_path = pg_catalog, pg_temp as $$
  delete from gate.half_sign_ins where token_hash = p_token_hash;
$$;

create function gate.second_step_at(p_token_hash bytea)
returns table (account_id uuid, email text, secret text, is_confirmed boolean, codes_left integer)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select a.account_id, a.email, s.secret, s.confirmed_at is not null,
    (select count(*)::int from gate.recovery_codes c where c.account_id = s.account_id and c.used_at is null)
  from gate.accounts a left join gate.second_steps s on s.account_id = a.account_id
  where a.account_id = gate.account_at(p_token_hash)
$$;

-- Begins a second step; one that is confirmed stays as it is.
create function gate.begin_second_step(p_token_hash bytea, p_secret text) returns void
language sql security definer set search_path = pg_catalog, pg_temp as $$
  insert into gate.second_steps (account_id, secret) select a.account_id, p_secret from gate.account_of(p_token_hash) a
    on conflict (account_id) do update set secret = excluded.secret, last_counter = 0 where gate.second_steps.confirmed_at is null;
$$;

-- From now on it is asked for. The codes replace those before.
create function gate.confirm_second_step(p_token_hash bytea, p_counter bigint, p_code_hashes bytea[]) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare mine uuid := (select a.account_id from gate.account_of(p_token_hash) a);
begin
  update gate.second_steps s set confirmed_at = coalesce(s.confirmed_at, now()), last_counter = p_counter
    where s.account_id = mine and s.last_counter < p_counter;
  if not found then return false; end if;
  delete from gate.recovery_codes c where c.account_id = mine;
  insert into gate.recovery_codes (account_id, code_hash) select mine, h from unnest(p_code_hashes) as h;
  return true;
end $$;

-- Uses the code of a half minute; false where it, or a later one, was used before.
create function gate.use_counter(p_token_hash bytea, p_counter bigint) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  update gate.second_steps s set last_counter = p_counter
    where s.account_id = gate.account_at(p_token_hash) and s.confirmed_at is not null and s.last_counter < p_counter;
  return found;
end $$;

create function gate.use_recovery_code(p_token_hash bytea, p_code_hash bytea) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  update gate.recovery_codes c set used_at = now()
    where c.account_id = gate.account_at(p_token_hash) and c.code_hash = p_code_hash and c.used_at is null;
  return found;
end $$;

create function gate.end_second_step(p_token_hash bytea) returns void
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare mine uuid := (select a.account_id from gate.account_of(p_token_hash) a);
begin
  delete from gate.recovery_codes c where c.account_id = mine;
  delete from gate.second_steps s where s.account_id = mine;
end $$;

-- An administrator takes the second step from a person who has lost both phone and codes: where the account is used in this school only.
create function gate.end_second_step_here(p_person uuid) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare theirs uuid := (select m.account_id from gate.memberships m where m.school_id = gate.school_now() and m.person_id = p_person
  and not exists (select 1 from gate.memberships o where o.account_id = m.account_id and o.school_id <> m.school_id)
  and not exists (select 1 from gate.district_people d where d.account_id = m.account_id));
begin
  delete from gate.recovery_codes c where c.account_id = theirs;
  delete from gate.second_steps s where s.account_id = theirs;
  return found;
end $$;

-- The person of a session, in how many schools the account is, and whether the school asks for a second step that is not there.
create function gate.person_here(p_token_hash bytea, p_touch boolean)
returns table (school_id uuid, person_id uuid, role text, case_manager boolean, given_name text, family_name text, school_name text,
  time_zone text, locale text, schools integer, is_district boolean, misses_step boolean, trail_over boolean)
language sql security definer set search_path = pg_catalog, pg_temp as $$
  select p.*, (select count(*)::int from gate.memberships m where m.account_id = s.account_id),
    exists (select 1 from gate.district_people d where d.account_id = s.account_id),
    not gate.has_second_step(s.account_id) and (sc.second_step_for <> 'nobody' and p.role = 'administrator'
      or sc.second_step_for = 'administrators and case managers' and p.case_manager),
    own.trail_over
  from gate.person_of(p_token_hash, p_touch) p
  join public.people own on own.school_id = p.school_id and own.person_id = p.person_id
  join gate.sessions s on s.token_hash = p_token_hash
  join public.schools sc on sc.school_id = p.school_id
$$;

-- The first school, for who knows the code that was printed.
create function gate.make_first_school(
  p_code_hash bytea, p_school uuid, p_name text, p_time_zone text, p_locale text, p_person uuid, p_given text, p_family text,
  p_case_manager boolean, p_account uuid, p_email text, p_hash text)
returns boolean language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  if not exists (select 1 from gate.set_up s where s.code_hash = p_code_hash) then return false; end if;
  if not gate.make_first_school(p_school, p_name, p_time_zone, p_locale, p_person, p_given, p_family, p_case_manager, p_account, p_email,
    p_hash) then return false; end if;
  delete from gate.set_up;
  return true;
end $$;

create function gate.is_set_up_code(p_code_hash bytea) returns boolean
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select exists (select 1 from gate.set_up s where s.code_hash = p_code_hash)
$$;

create function gate.is_district(p_token_hash bytea) returns boolean
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select exists (select 1 from gate.account_of(p_token_hash) a join gate.district_people d on d.account_id = a.account_id)
$$;
`;

const firstSchool = "make_first_school";
const granted = [
  ...[
    "school_now",
    "is_known_device",
    "know_device",
    "forget_other_devices",
    "account_by_email",
    "schools_of",
  ],
  ...["switch_school", "invite", "reset_here", "ask_reset", "revoke_tickets", "add_ticket_link", "ticket_of"],
  ...[
    "accept_invitation",
    "use_reset",
    "accounts_here",
    "sessions_here",
    "end_sessions_here",
    "district_schools",
  ],
  ...["is_district", "has_second_step", "open_half", "close_half", "second_step_at", "begin_second_step"],
  ...[
    "confirm_second_step",
    "use_counter",
    "use_recovery_code",
    "end_second_step",
    "end_second_step_here",
    "person_here",
  ],
  ...[
    "is_set_up_code",
    `${firstSchool}(bytea, uuid, text, text, text, uuid, text, text, boolean, uuid, text, text)`,
  ],
];

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await knex.raw(functions);
  await knex.raw("revoke execute on all functions in schema gate from public");
  // Without the code nobody is first.
  for (const before of [
    "uuid, text, text, uuid, text, text, uuid, text, text",
    "uuid, text, text, text, uuid, text, text, uuid, text, text",
    "uuid, text, text, text, uuid, text, text, boolean, uuid, text, text",
  ])
    await knex.raw(`revoke execute on function gate.${firstSchool}(${before}) from gentle_margin_app`);
  for (const name of granted) await knex.raw(`grant execute on function gate.${name} to gentle_margin_app`);
}
