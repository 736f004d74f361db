import type { Knex } from "knex";

/** Passkeys of an account: keys on its owner's devices, of which only the public half is here. One of them alone signs in. */
const tables = `
create table gate.passkeys (
  credential_id text primary key check (length(credential_id) between 1 and 1400),
  account_id uuid not null references gate.accounts,
  public_key bytea not null,
  counter bigint not null,
  transports text[] not null,
  name text not null check (length(name) between 1 and 80),
  made_at timestamptz not null default now(),
  used_at timestamptz
);
create index passkeys_by_account on gate.passkeys (account_id);

-- What an authenticator was asked to sign: for five minutes and one answer.
create table gate.challenges (
  token_hash bytea primary key,
  challenge text not null,
  expires_at timestamptz not null default now() + interval '5 minutes'
);
`;

const functions = `
-- A passkey is a second step too: a password alone is not enough any more.
create or replace function gate.has_second_step(p_account uuid) returns boolean
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select exists (select 1 from gate.second_steps s where s.account_id = p_account and s.confirmed_at is not null)
    or exists (select 1 from gate.passkeys k where k.account_id = p_account)
$$;

create or replace function gate.end_second_step_here(p_person uuid) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare theirs uuid := (select m.account_id from gate.memberships m where m.school_id = gate.school_now() and m.person_id = p_person
  and not exists (select 1 from gate.memberships o where o.account_id = m.account_id and o.school_id <> m.school_id)
  and not exists (select 1 from gate.district_people d where d.account_id = m.account_id));
declare had boolean := gate.has_second_step(theirs);
begin
  delete from gate.recovery_codes c where c.account_id = theirs;
  delete from gate.second_steps s where s.account_id = theirs;
  delete from gate.passkeys k where k.account_id = theirs;
  return coalesce(had, false);
end $$;

create function gate.set_challenge(p_token_hash bytea, p_challenge text) returns void
language sql security definer set search_path = pg_catalog, pg_temp as $$
  delete from gate.challenges where expires_at < now();
  insert into gate.challenges (token_hash, challenge) values (p_token_hash, p_challenge);
$$;

create function gate.take_challenge(p_token_hash bytea) returns text
language sql security definer set search_path = pg_catalog, pg_temp as $$
  delete from gate.challenges where token_hash = p_token_hash and expires_at > now() returning challenge
$$;

-- The passkeys of the account behind a session, or behind a sign-in that is half done.
create function gate.passkeys_at(p_token_hash bytea)
returns table (credential_id text, transports text[], name text, made_at timestamptz, used_at timestamptz)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select k.credential_id, k.transports, k.name, k.made_at, k.used_at from gate.passkeys k
  where k.account_id = gate.account_at(p_token_hash) order by k.made_at
$$;

create function gate.add_passkey(p_token_hash bytea, p_credential text, p_key bytea, p_counter bigint, p_transports text[], p_name text)
returns boolean language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  insert into gate.passkeys (credential_id, account_id, public_key, counter, transports, name)
    select p_credential, a.account_id, p_key, p_counter, p_transports, p_name from gate.account_of(p_token_hash) a
    on conflict do nothing;
  return found;
end $$;

create function gate.remove_passkey(p_token_hash bytea, p_credential text) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  delete from gate.passkeys k using gate.account_of(p_token_hash) a where k.account_id = a.account_id and k.credential_id = p_credential;
  return found;
end $$;

create function gate.passkey(p_credential text) returns table (account_id uuid, public_key bytea, counter bigint, transports text[])
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select k.account_id, k.public_key, k.counter, k.transports from gate.passkeys k where k.credential_id = p_credential
$$;

-- Notes the use of a passkey. A counter that does not grow, where the authenticator counts, is a copied key: false.
create function gate.use_passkey(p_credential text, p_counter bigint) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  update gate.passkeys k set counter = p_counter, used_at = now()
    where k.credential_id = p_credential and (p_counter > k.counter or (p_counter = 0 and k.counter = 0));
  return found;
end $$;
`;

const granted = [
  ...[
    "set_challenge",
    "take_challenge",
    "passkeys_at",
    "add_passkey",
    "remove_passkey",
    "passkey",
    "use_passkey",
  ],
];

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await knex.raw(functions);
  await knex.raw("revoke execute on all functions in schema gate from public");
  for (const name of granted) await knex.raw(`grant execute on function gate.${name} to gentle_margin_app`);
}
