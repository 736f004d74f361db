import type pg from "pg";

/** Is a school entered, then its rows; where none is, as in a migration or a backup, all. */
const ofSchool = `nullif(current_setting('app.school', true), '') is null
  or school_id = nullif(current_setting('app.school', true), '')::uuid`;

/**
 * Closes the ways in that the version before needs while this one takes its place: the application names no school and no account without the
 * hash of a token or its key. Done once no process of that version serves any more.
 */
export async function closeOldWays(client: Pick<pg.Client, "query">): Promise<void> {
  await client.query(`
    revoke execute on function public.enter_school(uuid, uuid, uuid), gate.credentials_of(text), gate.account_by_email(text),
      gate.open_session(bytea, uuid, uuid, uuid, bytea), gate.open_half(bytea, uuid), gate.open_family_account(uuid, bytea),
      gate.add_ticket_link(uuid, bytea), gate.set_family_code(uuid, uuid, bytea), gate.add_family_link(uuid, uuid, bytea, integer)
      from gentle_margin_app;
    revoke insert on public.handovers from gentle_margin_app;`);
}

/**
 * Locks what the database's owner may do as well: its rights are those of every function that the application may call. Within a school
 * it sees the rows of that school, and nobody but the owner makes temporary tables, which a name could be taken for. Done after every
 * migration and every restore, since none of it is part of a copy of the database; does nothing where all of it is done.
 */
export async function lockOwner(client: pg.Client): Promise<void> {
  await client.query(`
    do $$
    declare one record;
    begin
      execute format('revoke temporary on database %I from public', current_database());
      for one in
        select c.relname as name, c.relforcerowsecurity as forced,
          exists (select 1 from pg_policy p where p.polrelid = c.oid and p.polname = 'owner_lock') as locked
        from pg_class c join pg_namespace n on n.oid = c.relnamespace and n.nspname = 'public'
        where c.relkind = 'r' and c.relrowsecurity
      loop
        if not one.locked then
          execute format('create policy owner_lock on public.%I to current_user using (%s) with check (%s)', one.name,
            $lock$${ofSchool}$lock$, $lock$${ofSchool}$lock$);
        end if;
        if not one.forced then execute format('alter table public.%I force row level security', one.name); end if;
      end loop;
    end $$;`);
}
