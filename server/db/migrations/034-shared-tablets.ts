import type { Knex } from "knex";

const changes = `
-- For how many days a device keeps readable what it records with, after it last heard from a person who is signed in.
alter table schools add column offline_days smallint not null default 7 check (offline_days between 1 and 30);
-- After how many minutes without use a recording screen asks for the PIN; null where it never does.
alter table schools add column pin_minutes smallint default 15 check (pin_minutes between 1 and 240);
grant update (offline_days, pin_minutes) on schools to gentle_margin_app;

-- A key made of the PIN: with it the server seals a device's own key, which the device is left with while its screen is locked. Null for
-- a PIN that was set before there was one.
alter table pins add column lock_key bytea check (octet_length(lock_key) = 32);
alter table pins add column lock_salt bytea check (octet_length(lock_salt) = 16);
grant update (lock_key, lock_salt) on pins to gentle_margin_app;

-- Seconds since the person of a session signed in; nothing where it is over.
create function gate.session_age(p_token_hash bytea) returns integer
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select extract(epoch from now() - s.opened_at)::integer from gate.sessions s
  where s.token_hash = p_token_hash and s.ended_at is null and s.expires_at > now()
$$;

-- The devices on which a person of the school records without a network, for its administrators: no key.
create function gate.devices_here(p_person uuid) returns table (device_id uuid, name text, used_at timestamptz)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select d.device_id, d.name, d.used_at from public.device_keys d
  where gate.is_administrator() and d.school_id = gate.school_now() and d.person_id = p_person and d.forgotten_at is null
  order by d.used_at desc
$$;

-- Deletes the key of one of them; false where there is none.
create function gate.forget_device_here(p_person uuid, p_device uuid) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  update public.device_keys d set key = null, forgotten_at = public.clock_now()
    where gate.is_administrator() and d.school_id = gate.school_now() and d.person_id = p_person and d.device_id = p_device
      and d.forgotten_at is null;
  return found;
end $$;

-- The key of a device of somebody who left its school within 60 days: what is sealed with it comes from there.
create function gate.device_of_gone(p_key bytea, p_person uuid, p_device uuid) returns table (school_id uuid, device_key bytea)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select d.school_id, d.key from public.device_keys d
  join public.people p on p.school_id = d.school_id and p.person_id = d.person_id
  join public.schools s on s.school_id = d.school_id
  where gate.is_app(p_key) and d.person_id = p_person and d.device_id = p_device and d.forgotten_at is null
    and p.left_on between (public.clock_now() at time zone s.time_zone)::date - 60 and (public.clock_now() at time zone s.time_zone)::date - 1
$$;

revoke execute on function gate.device_of_gone, gate.session_age, gate.devices_here, gate.forget_device_here from public;
grant execute on function gate.device_of_gone, gate.session_age, gate.devices_here, gate.forget_device_here to gentle_margin_app;
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(changes);
}
