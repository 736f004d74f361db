import type { Knex } from "knex";
import { lockSealed, ofSealedStudents } from "./school-table.ts";

const tables = `
-- Outgoing messages, each to one reader, and what became of them. The text is made when a message is sent; it is stored in message_texts,
-- and not at all where it lets somebody in.
create table messages (
  school_id uuid not null,
  message_id uuid not null,
  kind text not null check (length(kind) between 1 and 20),
  -- The reader: a member of staff, or a guardian.
  person_id uuid,
  guardian_id uuid,
  reader_id uuid not null generated always as (coalesce(person_id, guardian_id)) stored,
  student_id uuid,
  -- What it is about, by ids.
  about jsonb not null default '{}',
  batch_id uuid,
  is_urgent boolean not null default false,
  made_at timestamptz not null default clock_now(),
  -- In the order in which they were made, one reader's messages go out.
  place bigint not null generated always as identity,
  state text not null default 'waiting'
    check (state in ('waiting', 'held', 'sending', 'sent', 'deferred', 'refused', 'given up', 'unknown', 'cancelled')),
  why text check (length(why) <= 40),
  -- When it is looked at next; of no meaning once it is over.
  next_at timestamptz not null default clock_now(),
  tries integer not null default 0,
  -- When the try under way began, by real time.
  begun_at timestamptz,
  to_address text,
  subject text,
  -- What the mail server answered to the last try.
  answer text check (length(answer) <= 300),
  over_at timestamptz,
  -- Who cancelled it, or said what became of it.
  decided_by uuid,
  opened_at timestamptz,
  primary key (school_id, message_id),
  foreign key (school_id, person_id) references people,
  foreign key (school_id, guardian_id) references guardians,
  foreign key (school_id, student_id) references students,
  check ((person_id is null) <> (guardian_id is null))
);
create index messages_of_reader on messages (school_id, reader_id, place) where state in ('waiting', 'held', 'sending', 'deferred');
create index messages_due on messages (next_at) where state in ('waiting', 'held', 'sending', 'deferred');
create index messages_by_student on messages (school_id, student_id, made_at);
create index messages_by_place on messages (school_id, place);
create index messages_by_batch on messages (school_id, batch_id) where batch_id is not null;
create index messages_sent on messages (school_id, over_at) where state in ('sent', 'unknown');

-- The text of a message as it was sent.
create table message_texts (
  school_id uuid not null,
  message_id uuid not null,
  student_id uuid,
  person_id uuid,
  body text not null,
  primary key (school_id, message_id),
  foreign key (school_id, message_id) references messages
);

-- One message to many readers.
create table message_batches (
  school_id uuid not null,
  batch_id uuid not null,
  person_id uuid not null,
  made_at timestamptz not null default clock_now(),
  -- What was chosen and written; who got none and why.
  choice jsonb not null,
  cancelled_at timestamptz,
  primary key (school_id, batch_id),
  foreign key (school_id, person_id) references people
);

-- What happened and is still to be looked at for messages. The server's own work takes it out.
create table news (
  school_id uuid not null,
  news_id bigint not null generated always as identity,
  at timestamptz not null default clock_now(),
  -- Who did it; null where it was no member of staff.
  person_id uuid,
  thing text not null,
  act text not null,
  thing_id uuid,
  student_id uuid,
  primary key (school_id, news_id)
);

-- What waits for a person's next summary.
create table summary_news (
  school_id uuid not null,
  person_id uuid not null,
  kind text not null,
  student_id uuid not null,
  thing_id uuid not null,
  due_at timestamptz not null,
  at timestamptz not null default clock_now(),
  primary key (school_id, person_id, kind, student_id, thing_id),
  foreign key (school_id, person_id) references people,
  foreign key (school_id, student_id) references students
);
create index summary_news_due on summary_news (due_at);

-- The standing of a goal, and the patterns of a student, that people were last told of.
create table standings_told (
  school_id uuid not null,
  student_id uuid not null,
  goal_id uuid not null,
  standing text not null,
  at timestamptz not null default clock_now(),
  primary key (school_id, goal_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, goal_id) references goals on delete cascade
);
create table patterns_told (
  school_id uuid not null,
  student_id uuid not null,
  finding text not null,
  at timestamptz not null default clock_now(),
  primary key (school_id, student_id, finding),
  foreign key (school_id, student_id) references students
);

-- Which messages a person wants, and when.
create table message_choices (
  school_id uuid not null,
  person_id uuid not null,
  kind text not null,
  way text not null check (way in ('once', 'daily', 'weekly', 'off')),
  primary key (school_id, person_id, kind),
  foreign key (school_id, person_id) references people
);
create table message_hours (
  school_id uuid not null,
  person_id uuid not null,
  quiet_from text check (quiet_from ~ '^\\d\\d:\\d\\d$'),
  quiet_to text check (quiet_to ~ '^\\d\\d:\\d\\d$'),
  school_days_only boolean not null,
  summary_at text not null check (summary_at ~ '^\\d\\d:\\d\\d$'),
  summary_on integer not null check (summary_on between 1 and 7),
  primary key (school_id, person_id),
  foreign key (school_id, person_id) references people,
  check ((quiet_from is null) = (quiet_to is null))
);
-- People who wanted no messages before there was more to choose.
insert into message_choices (school_id, person_id, kind, way)
  select school_id, person_id, kind, 'off' from people,
    unnest(array['incident', 'entry', 'jot', 'finding', 'edition', 'statement', 'question', 'held']) as kind
  where not mail_notices;

-- A student of whom a person in the circle is sent nothing, but for harm.
create table circle_mutes (
  school_id uuid not null,
  student_id uuid not null,
  person_id uuid not null,
  muted_by uuid not null,
  at timestamptz not null default clock_now(),
  primary key (school_id, student_id, person_id),
  foreign key (school_id, student_id) references students,
  foreign key (school_id, person_id) references people
);

-- The words of a school's messages where they are its own.
create table message_templates (
  school_id uuid not null,
  kind text not null,
  language text not null check (language in ('en', 'es')),
  subject text not null check (length(subject) between 1 and 200),
  body text not null check (length(body) between 1 and 5000),
  person_id uuid not null,
  at timestamptz not null default clock_now(),
  primary key (school_id, kind, language)
);

-- How a school sends.
create table message_settings (
  school_id uuid primary key references schools,
  daily_limit integer check (daily_limit between 1 and 100000),
  -- Readers whose messages may hold what was recorded.
  content_for text[] not null default '{}'
);

-- Addresses that a mail server refused.
create table wrong_addresses (
  school_id uuid not null,
  email text not null,
  answer text not null,
  at timestamptz not null default clock_now(),
  primary key (school_id, email)
);

alter table guardians add column mail_agreed_on date;
-- The address to which a code was mailed that opened the family's page, or that a member of staff has checked.
alter table guardians add column confirmed_email text;
alter table gate.family_codes add column mailed_to text;

-- The mail server of a school, where it has its own.
create table gate.mail_servers (
  school_id uuid primary key references public.schools,
  host text not null check (length(host) between 1 and 255),
  port integer not null check (port between 1 and 65535),
  security text not null check (security in ('tls', 'starttls', 'none')),
  username text check (length(username) <= 300),
  password text check (length(password) <= 500),
  from_address text not null check (length(from_address) between 3 and 320),
  -- When it last took a test message, as it is set now.
  tested_at timestamptz,
  is_on boolean not null default false,
  check (not is_on or tested_at is not null)
);
`;

const functions = `
-- What an administrator sees of the mail server of their school: all but the password.
create function gate.mail_server_here()
returns table (host text, port integer, security text, username text, has_password boolean, from_address text, tested_at timestamptz, is_on boolean)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select m.host, m.port, m.security, m.username, m.password is not null, m.from_address, m.tested_at, m.is_on from gate.mail_servers m
  where m.school_id = gate.school_now() and gate.is_administrator()
$$;

-- Does the school send by a server of its own?
create function gate.school_mails() returns boolean
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select exists (select 1 from gate.mail_servers m where m.school_id = gate.school_now() and m.is_on)
$$;

-- Sets the mail server. Without a password the one that is there stays, as long as it goes to the same place. Another server has to be tested again.
create function gate.set_mail_server(p_host text, p_port integer, p_security text, p_username text, p_password text, p_from text) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  if not coalesce(gate.is_administrator(), false) then return false; end if;
  insert into gate.mail_servers as m (school_id, host, port, security, username, password, from_address)
    values (gate.school_now(), p_host, p_port, p_security, p_username, p_password, p_from)
    on conflict (school_id) do update set host = excluded.host, port = excluded.port, security = excluded.security, username = excluded.username,
      password = case when excluded.password is not null then excluded.password
        when excluded.username is null then null
        when m.host = excluded.host and m.port = excluded.port and m.username = excluded.username then m.password end,
      from_address = excluded.from_address, tested_at = null, is_on = false;
  return true;
end $$;

create function gate.remove_mail_server() returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  delete from gate.mail_servers m where m.school_id = gate.school_now() and gate.is_administrator();
  return found;
end $$;

-- The mail server of a school with its password, for the application alone.
create function gate.mail_server_of(p_key bytea, p_school uuid)
returns table (host text, port integer, security text, username text, password text, from_address text, is_on boolean)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select m.host, m.port, m.security, m.username, m.password, m.from_address, m.is_on from gate.mail_servers m
  where gate.is_app(p_key) and m.school_id = p_school
$$;

-- Does any school send by a server of its own?
create function gate.mails_anywhere(p_key bytea) returns boolean
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select gate.is_app(p_key) and exists (select 1 from gate.mail_servers m where m.is_on)
$$;

-- It took a test message: from now on it is used.
create function gate.mail_server_works(p_key bytea, p_school uuid, p_host text, p_port integer, p_from text) returns void
language sql security definer set search_path = pg_catalog, pg_temp as $$
  update gate.mail_servers m set tested_at = now(), is_on = true
  where gate.is_app(p_key) and m.school_id = p_school and m.host = p_host and m.port = p_port and m.from_address = p_from
$$;

-- Whose messages are due, or were being sent by a process that is no longer heard of.
create function gate.mail_due(p_key bytea, p_silent interval) returns table (school_id uuid, reader_id uuid)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select distinct m.school_id, m.reader_id from public.messages m
  where gate.is_app(p_key) and (m.state in ('waiting', 'held', 'deferred') and m.next_at <= public.clock_now()
    or m.state = 'sending' and m.begun_at < now() - p_silent)
  limit 500
$$;

-- In which schools something happened that may be worth a message, or a summary is due.
create function gate.news_due(p_key bytea) returns table (school_id uuid)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select n.school_id from public.news n where gate.is_app(p_key)
  union select s.school_id from public.summary_news s where gate.is_app(p_key) and s.due_at <= public.clock_now()
$$;

-- Whose a ticket is: the school and the person, or the guardian whose account asked for another password.
create function gate.reader_of_ticket(p_key bytea, p_ticket uuid)
returns table (school_id uuid, person_id uuid, guardian_id uuid, purpose text)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select coalesce(t.school_id, m.school_id, f.school_id), coalesce(t.person_id, m.person_id),
    case when t.person_id is null and m.person_id is null then f.guardian_id end, t.purpose
  from gate.tickets t
  left join lateral (select m.school_id, m.person_id from gate.memberships m
    join public.people p on p.school_id = m.school_id and p.person_id = m.person_id
    where m.account_id = t.account_id and (p.left_on is null or p.left_on >= current_date) order by m.from_on, m.school_id limit 1) m on true
  left join lateral (select f.school_id, f.guardian_id from gate.family_accounts f
    where f.account_id = t.account_id order by f.school_id, f.guardian_id limit 1) f on true
  where gate.is_app(p_key) and t.ticket_id = p_ticket
$$;

-- Which of these people have an account here: nobody else is written to about a student.
create function gate.joined_here(p_people uuid[]) returns uuid[]
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select array_agg(m.person_id) from gate.memberships m where m.school_id = gate.school_now() and m.person_id = any(p_people)
$$;

-- A code goes to this address by mail: whoever opens the page with it reads mail there.
create function gate.code_mailed(p_key bytea, p_school uuid, p_guardian uuid, p_email text) returns void
language sql security definer set search_path = pg_catalog, pg_temp as $$
  update gate.family_codes c set mailed_to = lower(p_email) where gate.is_app(p_key) and c.school_id = p_school and c.guardian_id = p_guardian
$$;

-- As before; a code that is not mailed confirms no address.
create or replace function gate.set_family_code(p_school uuid, p_guardian uuid, p_code_hash bytea) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  insert into gate.family_codes (school_id, guardian_id, code_hash)
    select n.school_id, n.guardian_id, p_code_hash from gate.guardian_now(p_school, p_guardian) n
    on conflict (school_id, guardian_id) do update
      set code_hash = excluded.code_hash, expires_at = now() + interval '10 minutes', used_at = null, mailed_to = null;
  return found;
end $$;

-- As before, and notes the address that the code was mailed to as confirmed.
create or replace function gate.open_family(p_link_hash bytea, p_code_hash bytea, p_token_hash bytea) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare opened record; shown text;
begin
  select l.* into opened from gate.open_link(p_link_hash) l, lateral gate.guardian_now(l.school_id, l.guardian_id) n;
  if not found then return false; end if;
  update gate.family_codes c set used_at = now()
    where c.school_id = opened.school_id and c.guardian_id = opened.guardian_id and c.code_hash = p_code_hash
      and c.used_at is null and c.expires_at > now() returning c.mailed_to into shown;
  if not found then return false; end if;
  update public.guardians g set confirmed_email = shown
    where shown is not null and g.school_id = opened.school_id and g.guardian_id = opened.guardian_id and lower(g.email) = shown;
  delete from gate.family_sessions s where s.expires_at < now() - interval '30 days';
  insert into gate.family_sessions (token_hash, link_id) values (p_token_hash, opened.link_id);
  return true;
end $$;
`;

const granted = [
  ...[
    "mail_server_here()",
    "school_mails()",
    "remove_mail_server()",
    "news_due(bytea)",
    "mails_anywhere(bytea)",
  ],
  ...["set_mail_server(text, integer, text, text, text, text)", "mail_server_of(bytea, uuid)"],
  ...["mail_server_works(bytea, uuid, text, integer, text)", "mail_due(bytea, interval)"],
  ...["reader_of_ticket(bytea, uuid)", "joined_here(uuid[])", "code_mailed(bytea, uuid, uuid, text)"],
];

/** Rows that the server's own work reads and takes out, whoever wrote them. */
const ofWork = ["select", "update", "delete"].map(
  (command) => `for ${command} using ((select gate.is_work_now()))`,
);
const own = "(select gate.is_work_now()) or person_id = (select gate.person_now())";
const ofReaders = `${own} or student_id = any((select gate.students_now())::uuid[])`;
const changed =
  "about, state, why, next_at, tries, begun_at, to_address, subject, answer, over_at, decided_by, opened_at";

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await knex.raw(functions);
  await knex.raw("revoke execute on all functions in schema gate from public");
  for (const one of granted) await knex.raw(`grant execute on function gate.${one} to gentle_margin_app`);
  // An administrator sees that there was a message, and not its text.
  await lockSealed(knex, "messages", `select, insert, update (${changed})`, [
    `using (${ofReaders} or (select gate.is_administrator()))`,
  ]);
  await lockSealed(knex, "message_texts", "select, insert, update (body)", [`using (${ofReaders})`]);
  await lockSealed(knex, "message_batches", "select, insert, update (cancelled_at)", [
    `using (${own} or (select gate.is_administrator()))`,
  ]);
  await lockSealed(knex, "news", "select, insert, delete, update (at)", ofWork);
  await lockSealed(knex, "summary_news", "select, insert, delete, update (due_at)", [
    "using ((select gate.is_work_now()))",
  ]);
  await lockSealed(knex, "standings_told", "select, insert, update (standing, at)", [ofSealedStudents]);
  await lockSealed(knex, "patterns_told", "select, insert", [ofSealedStudents]);
  await lockSealed(knex, "message_choices", "select, insert, update (way), delete", [`using (${own})`]);
  const hours = "quiet_from, quiet_to, school_days_only, summary_at, summary_on";
  await lockSealed(knex, "message_hours", `select, insert, update (${hours})`, [`using (${own})`]);
  await lockSealed(knex, "circle_mutes", "select, insert, delete", [
    "using (student_id = any((select gate.students_now())::uuid[]) or (select gate.is_administrator()))",
  ]);
  await lockSealed(
    knex,
    "message_templates",
    "select, insert, update (subject, body, person_id, at), delete",
  );
  await lockSealed(knex, "message_settings", "select, insert, update (daily_limit, content_for)");
  await lockSealed(knex, "wrong_addresses", "select, insert, delete, update (answer, at)");
}
