import type { Knex } from "knex";

/**
 * The identity provider of a school. Who signs in by it is known to that school alone: such a session opens no other school, and nothing of
 * the account itself, whose owner has a password for that.
 */
const tables = `
create table gate.providers (
  school_id uuid primary key references public.schools,
  issuer text not null check (length(issuer) <= 500),
  client_id text not null check (length(client_id) <= 300),
  client_secret text not null check (length(client_secret) <= 500),
  label text not null check (length(label) <= 60),
  -- When a sign-in by it was last tried with success, as it is set now.
  tested_at timestamptz,
  is_on boolean not null default false,
  changed_at timestamptz not null default now(),
  check (not is_on or tested_at is not null)
);

-- Whom a provider knows by what number.
create table gate.identities (
  school_id uuid not null,
  issuer text not null,
  subject text not null check (length(subject) <= 300),
  account_id uuid not null references gate.accounts,
  made_at timestamptz not null default now(),
  primary key (school_id, issuer, subject),
  foreign key (account_id, school_id) references gate.memberships
);

alter table gate.sessions add column by_provider boolean not null default false;
`;

const functions = `
-- What an administrator sees of the provider of their school: all but the secret.
create function gate.provider_here()
returns table (issuer text, client_id text, label text, tested_at timestamptz, is_on boolean)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select p.issuer, p.client_id, p.label, p.tested_at, p.is_on from gate.providers p
  where p.school_id = gate.school_now() and gate.is_administrator()
$$;

-- Sets the provider of the school; without a secret the one that is there stays. What was changed has to be tried again.
create function gate.set_provider(p_issuer text, p_client text, p_secret text, p_label text) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  if not coalesce(gate.is_administrator(), false) then return false; end if;
  if p_secret is null then
    update gate.providers p set label = p_label, issuer = p_issuer, client_id = p_client, changed_at = now(),
      tested_at = case when p.issuer = p_issuer and p.client_id = p_client then p.tested_at end,
      is_on = p.is_on and p.issuer = p_issuer and p.client_id = p_client
      where p.school_id = gate.school_now();
    return found;
  end if;
  insert into gate.providers (school_id, issuer, client_id, client_secret, label)
    values (gate.school_now(), p_issuer, p_client, p_secret, p_label)
    on conflict (school_id) do update set issuer = excluded.issuer, client_id = excluded.client_id, client_secret = excluded.client_secret,
      label = excluded.label, changed_at = now(), tested_at = null, is_on = false;
  return true;
end $$;

create function gate.turn_provider(p_on boolean) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  update gate.providers p set is_on = p_on where p.school_id = gate.school_now() and gate.is_administrator() and (not p_on or p.tested_at is not null);
  return found;
end $$;

create function gate.remove_provider() returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  if not coalesce(gate.is_administrator(), false) then return false; end if;
  update gate.sessions s set ended_at = now() where s.school_id = gate.school_now() and s.by_provider and s.ended_at is null;
  delete from gate.identities i where i.school_id = gate.school_now();
  delete from gate.providers p where p.school_id = gate.school_now();
  return found;
end $$;

-- The schools in which one can sign in by a provider: for the sign-in page.
create function gate.providers_on() returns table (school_id uuid, school_name text, label text)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select p.school_id, sc.name, p.label from gate.providers p join public.schools sc on sc.school_id = p.school_id where p.is_on order by sc.name
$$;

-- A provider with its secret, for the application alone.
create function gate.provider_of(p_key bytea, p_school uuid)
returns table (issuer text, client_id text, client_secret text, label text, is_on boolean)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select p.issuer, p.client_id, p.client_secret, p.label, p.is_on from gate.providers p where gate.is_app(p_key) and p.school_id = p_school
$$;

create function gate.note_provider_tested(p_key bytea, p_school uuid) returns void
language sql security definer set search_path = pg_catalog, pg_temp as $$
  update gate.providers p set tested_at = now() where gate.is_app(p_key) and p.school_id = p_school
$$;

-- The account of whom a school's provider has just named: known by its number, or by the e-mail of somebody who works there and has an
-- account, or of an open invitation, which is used then. Nothing for anybody else.
create function gate.account_by_provider(p_key bytea, p_school uuid, p_issuer text, p_subject text, p_email text, p_new_account uuid, p_new_hash text)
returns table (account_id uuid, person_id uuid, joined boolean)
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare found_account uuid; invited record; has_joined boolean := false; today date := (select (public.clock_now() at time zone s.time_zone)::date from public.schools s where s.school_id = p_school);
begin
  if not gate.is_app(p_key) then return; end if;
  select i.account_id into found_account from gate.identities i where i.school_id = p_school and i.issuer = p_issuer and i.subject = p_subject;
  if found_account is null and p_email is not null then
    select m.account_id into found_account from gate.memberships m
      join public.people p on p.school_id = m.school_id and p.person_id = m.person_id
      where m.school_id = p_school and lower(p.email) = lower(p_email);
    if found_account is null then
      select t.ticket_id, t.person_id into invited from gate.tickets t
        join public.people p on p.school_id = t.school_id and p.person_id = t.person_id
        where t.school_id = p_school and t.purpose = 'invitation' and lower(p.email) = lower(p_email) and t.used_at is null
          and t.revoked_at is null and t.expires_at > now() and (p.left_on is null or p.left_on >= today)
        order by t.made_at desc limit 1 for update of t;
      if invited.person_id is null then return; end if;
      select a.account_id into found_account from gate.accounts a where a.email = lower(p_email);
      if found_account is null then
        insert into gate.accounts (account_id, email, password_hash) values (p_new_account, lower(p_email), p_new_hash);
        found_account := p_new_account;
      end if;
      insert into gate.memberships (account_id, school_id, person_id) values (found_account, p_school, invited.person_id) on conflict do nothing;
      update gate.tickets t set used_at = now() where t.ticket_id = invited.ticket_id;
      has_joined := true;
    end if;
    insert into gate.identities (school_id, issuer, subject, account_id) values (p_school, p_issuer, p_subject, found_account);
  end if;
  return query select m.account_id, m.person_id, has_joined from gate.memberships m
    join public.people p on p.school_id = m.school_id and p.person_id = m.person_id
    where m.account_id = found_account and m.school_id = p_school and m.from_on <= today and (m.to_on is null or m.to_on >= today)
      and (p.left_on is null or p.left_on >= today);
end $$;

-- Marks a session that was just opened as one of the school's provider.
create function gate.note_by_provider(p_key bytea, p_token_hash bytea) returns void
language sql security definer set search_path = pg_catalog, pg_temp as $$
  update gate.sessions s set by_provider = true where gate.is_app(p_key) and s.token_hash = p_token_hash
$$;

-- Was a session opened by the provider of its school, which is turned on?
create function gate.provider_session(p_token_hash bytea) returns uuid
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select s.school_id from gate.sessions s where s.token_hash = p_token_hash and s.by_provider
$$;

-- As before, but for sessions of a provider: those have no word in what is the account's own.
create or replace function gate.account_of(p_token_hash bytea) returns table (account_id uuid, email text, password_hash text)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select a.account_id, a.email, a.password_hash from gate.sessions s join gate.accounts a on a.account_id = s.account_id
  where s.token_hash = p_token_hash and s.ended_at is null and s.expires_at > now() and s.seen_at > now() - interval '2 hours'
    and not s.by_provider
$$;

-- As before: who signed in by the school's provider is in this school and has no more to show here than the provider asked for.
create or replace function gate.person_here(p_token_hash bytea, p_touch boolean)
returns table (school_id uuid, person_id uuid, role text, case_manager boolean, given_name text, family_name text, school_name text,
  time_zone text, locale text, schools integer, is_district boolean, misses_step boolean, trail_over boolean)
language sql security definer set search_path = pg_catalog, pg_temp as $$
  select p.*, case when s.by_provider then 1 else (select count(*)::int from gate.memberships m where m.account_id = s.account_id) end,
    not s.by_provider and exists (select 1 from gate.district_people d where d.account_id = s.account_id),
    not s.by_provider and not gate.has_second_step(s.account_id) and (sc.second_step_for <> 'nobody' and p.role = 'administrator'
      or sc.second_step_for = 'administrators and case managers' and p.case_manager),
    own.trail_over
  from gate.person_of(p_token_hash, p_touch) p
  join public.people own on own.school_id = p.school_id and own.person_id = p.person_id
  join gate.sessions s on s.token_hash = p_token_hash
  join public.schools sc on sc.school_id = p.school_id
$$;
`;

const granted = [
  ...[
    "provider_here()",
    "set_provider(text, text, text, text)",
    "turn_provider(boolean)",
    "remove_provider()",
  ],
  ...["providers_on()", "provider_of(bytea, uuid)", "note_provider_tested(bytea, uuid)"],
  ...["account_by_provider(bytea, uuid, text, text, text, uuid, text)", "note_by_provider(bytea, bytea)"],
  ...["provider_session(bytea)"],
];

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await knex.raw(functions);
  await knex.raw("revoke execute on all functions in schema gate from public");
  for (const one of granted) await knex.raw(`grant execute on function gate.${one} to gentle_margin_app`);
}
