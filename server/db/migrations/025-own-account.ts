import type { Knex } from "knex";

/**
 * What a person may do with their own account. Each function takes the hash of a session's token, or the password hash that was just
 * shown to be known: nothing else names an account.
 */
const functions = `
alter table gate.sessions add column agent text not null default '' check (length(agent) <= 80);

-- The account of a session that is open now.
create function gate.account_of(p_token_hash bytea) returns table (account_id uuid, email text, password_hash text)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select a.account_id, a.email, a.password_hash
  from gate.sessions s join gate.accounts a on a.account_id = s.account_id
  where s.token_hash = p_token_hash and s.ended_at is null and s.expires_at > now() and s.seen_at > now() - interval '2 hours'
$$;

-- Sets a password hash in place of the one that is there: only who knows that one can name it.
create function gate.replace_hash(p_account uuid, p_old text, p_new text) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  update gate.accounts set password_hash = p_new where account_id = p_account and password_hash = p_old;
  return found;
end $$;

-- On what a session was opened: "Firefox on Windows".
create function gate.note_agent(p_token_hash bytea, p_agent text) returns void
language sql security definer set search_path = pg_catalog, pg_temp as $$
  update gate.sessions set agent = left(p_agent, 80) where token_hash = p_token_hash;
$$;

-- The open sessions of the account behind a session, the last used first. Their ids lead back to no token.
create function gate.sessions_of(p_token_hash bytea)
returns table (session_id text, agent text, opened_at timestamptz, seen_at timestamptz, is_this boolean)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select encode(sha256(s.token_hash), 'hex'), s.agent, s.opened_at, s.seen_at, s.token_hash = p_token_hash
  from gate.account_of(p_token_hash) a join gate.sessions s on s.account_id = a.account_id
  where s.ended_at is null and s.expires_at > now() and s.seen_at > now() - interval '2 hours'
  order by s.seen_at desc
$$;

-- Ends one other session of the same account, or all others where none is named. Answers how many.
create function gate.end_other_sessions(p_token_hash bytea, p_session text) returns integer
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare ended integer;
begin
  update gate.sessions s set ended_at = now()
  from gate.account_of(p_token_hash) a
  where s.account_id = a.account_id and s.token_hash <> p_token_hash and s.ended_at is null
    and (p_session is null or encode(sha256(s.token_hash), 'hex') = p_session);
  get diagnostics ended = row_count;
  return ended;
end $$;
`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(functions);
  await knex.raw(`
    revoke execute on function gate.account_of, gate.replace_hash, gate.note_agent, gate.sessions_of, gate.end_other_sessions from public;
    grant execute on function gate.account_of, gate.replace_hash, gate.note_agent, gate.sessions_of, gate.end_other_sessions
      to gentle_margin_app;
  `);
}
