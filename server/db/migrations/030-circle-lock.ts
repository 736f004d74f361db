import type { Knex } from "knex";
import { lockToCircle } from "./school-table.ts";

/**
 * The second lock, by circle. Who acts in a transaction is found out by the database itself, from the hash of a session's token, and sealed with
 * a key that only its owner can read: what the application sends as SQL can name neither a school nor a student of its own choice.
 */
const thingsOf: Record<string, [table: string, id: string]> = {
  entry: ["entries", "entry_id"],
  incident: ["incidents", "incident_id"],
  "not measured": ["not_measured", "note_id"],
  decision: ["goal_decisions", "decision_id"],
  goal: ["goals", "goal_id"],
  plan: ["plans", "plan_id"],
  jot: ["jots", "jot_id"],
  statement: ["progress_statements", "statement_id"],
  edition: ["editions", "edition_id"],
};
const isOf = Object.entries(thingsOf)
  .map(
    ([thing, [table, id]]) =>
      `when '${thing}' then return exists (select 1 from public.${table} t where t.school_id = p_school and t.${id} = p_id and t.student_id = any(p_students));`,
  )
  .join("\n    ");

/** The hash of what is sealed, nested, with the row `k` of keys: good in this transaction of this connection alone. */
const hashOf = (here: string) => `encode(sha256(k.second_key || sha256(k.first_key || convert_to(
    concat_ws('|', ${here}, pg_backend_pid(), extract(epoch from transaction_timestamp())), 'UTF8'))), 'hex')`;

/** A function that answers with what was sealed, or a part of it. Each compares the seal itself: a policy asks one for every table of a statement. */
export const sealedPart = (name: string, type: string, value: string) => `
create or replace function gate.${name}() returns ${type}
language plpgsql stable parallel restricted security definer set search_path = pg_catalog, pg_temp as $$
declare here text := current_setting('app.here', true); k gate.seal_keys;
begin
  if here is null or here = '' or left(here, 36) is distinct from current_setting('app.school', true) then return null; end if;
  select * into k from gate.seal_keys;
  if ${hashOf("here")}
    is distinct from current_setting('app.seal', true) then return null; end if;
  return ${value};
end $$;`;

const seal = `
-- What a seal is made with. Nobody but the owner reads it.
create table gate.seal_keys (only_row boolean primary key default true check (only_row), first_key bytea not null, second_key bytea not null);

-- The application shows with a key that it, and not only SQL in its name, asks: it is made of the password of its address, and here is its hash.
create table gate.app_keys (key_hash bytea primary key, seen_at timestamptz not null default now());

-- A nested hash of what is sealed, good in this transaction of this connection alone. What is asked often is written in plpgsql: a connection
-- plans it once, and the body of a function in SQL for every statement.
create function gate.seal_of(p_here text) returns text
language plpgsql stable security definer set search_path = pg_catalog, pg_temp as $$
declare k gate.seal_keys;
begin
  select * into k from gate.seal_keys;
  return ${hashOf("p_here")};
end $$;

-- Who acts: the school, the person (zeros where it is none), the kind, two marks for an administrator and a case manager, the moment in
-- millionths of a second, the hand-over of a device to a colleague (zeros where there is none), and the students.
create function gate.set_here(p_school uuid, p_person uuid, p_kind text, p_administrator boolean, p_case_manager boolean, p_students uuid[],
  p_handover uuid default null)
returns void language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare here text := concat(p_school, coalesce(p_person, '00000000-0000-0000-0000-000000000000'), p_kind,
  case when p_administrator then 'a' else '-' end, case when p_case_manager then 'c' else '-' end,
  (extract(epoch from public.clock_now()) * 1000000)::bigint, coalesce(p_handover, '00000000-0000-0000-0000-000000000000'),
  coalesce(p_students, '{}'));
begin
  perform set_config('app.school', p_school::text, true), set_config('app.here', here, true),
    set_config('app.seal', gate.seal_of(here), true);
end $$;

-- What was sealed, whole and in its parts; null where nothing was, or where this, or the school beside it, is not what was sealed.
${sealedPart("sealed", "text", "here")}
${sealedPart("school_now", "uuid", "left(here, 36)::uuid")}
${sealedPart("person_now", "uuid", "nullif(substr(here, 37, 36)::uuid, '00000000-0000-0000-0000-000000000000')")}
${sealedPart("is_administrator", "boolean", "substr(here, 74, 1) = 'a'")}
${sealedPart("runs_school", "boolean", "substr(here, 74, 2) <> '--'")}
${sealedPart("moment_now", "bigint", "substr(here, 76, 16)::bigint")}
${sealedPart("handover_now", "uuid", "nullif(substr(here, 92, 36)::uuid, '00000000-0000-0000-0000-000000000000')")}
${sealedPart("sender_now", "uuid", "case when substr(here, 92, 36) <> '00000000-0000-0000-0000-000000000000' then substr(here, 37, 36)::uuid end")}
${sealedPart("students_now", "uuid[]", "substr(here, 128)::uuid[]")}

-- Is a thing, or what hangs on it, one of these students'?
create function gate.is_of(p_thing text, p_id uuid, p_school uuid, p_students uuid[]) returns boolean
language plpgsql stable parallel restricted security definer set search_path = pg_catalog, pg_temp as $$
begin
  case p_thing
    ${isOf}
    else return false;
  end case;
end $$;

-- Another key, as for a database that was put back from a backup: whoever has the backup has the key in it.
create function gate.new_seal_key() returns void
language plpgsql set search_path = pg_catalog, pg_temp as $$
declare random text := '';
begin
  for one in 1..8 loop random := random || replace(gen_random_uuid()::text, '-', ''); end loop;
  insert into gate.seal_keys (first_key, second_key) values (decode(left(random, 128), 'hex'), decode(substr(random, 129), 'hex'))
    on conflict (only_row) do update set first_key = excluded.first_key, second_key = excluded.second_key;
end $$;
select gate.new_seal_key();
`;

const entering = `
create function gate.is_app(p_key bytea) returns boolean
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select exists (select 1 from gate.app_keys k where k.key_hash = sha256(p_key))
$$;

-- The limits of a transaction and the school's own day. Nothing waits for a lock longer than a quarter of a second (who waits holds a
-- connection; the application tries again without one), and nothing runs or stands idle for longer than ten.
create function gate.begin_here(p_school uuid, out moment timestamptz, out local_time text, out time_zone text)
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  perform set_config('lock_timeout', '250ms', true), set_config('statement_timeout', '10s', true),
    set_config('idle_in_transaction_session_timeout', '10s', true);
  moment := public.clock_now();
  time_zone := (select s.time_zone from public.schools s where s.school_id = p_school);
  local_time := to_char(moment at time zone time_zone, 'YYYY-MM-DD"T"HH24:MI:SS');
  perform set_config('app.today', coalesce(left(local_time, 10), ''), true);
end $$;

-- The students in whose circle a person is now.
create function gate.students_of(p_school uuid, p_person uuid) returns uuid[]
language plpgsql stable security definer set search_path = pg_catalog, pg_temp as $$
begin
  return (select array_agg(c.student_id) from public.circle c
    where c.school_id = p_school and c.person_id = p_person and public.in_circle_now(c.from_on, c.to_on));
end $$;

create function gate.part_of(p_school uuid, p_person uuid, p_student uuid) returns text
language plpgsql stable security definer set search_path = pg_catalog, pg_temp as $$
begin
  return (select c.part from public.circle c where c.school_id = p_school and c.student_id = p_student and c.person_id = p_person
    and public.in_circle_now(c.from_on, c.to_on));
end $$;

-- Who is behind each session that goes on: over after two idle hours and after twelve in all, and where the account is not in the school today.
create view gate.present as
  select s.token_hash, p.school_id, p.person_id, p.role, p.case_manager, p.given_name, p.family_name, sc.name as school_name, sc.time_zone
  from gate.sessions s
  join gate.memberships m on m.account_id = s.account_id and m.school_id = s.school_id and m.person_id = s.person_id
  join public.people p on p.school_id = m.school_id and p.person_id = m.person_id
  join public.schools sc on sc.school_id = m.school_id,
    lateral (select (public.clock_now() at time zone sc.time_zone)::date as today) d
  where s.ended_at is null and s.expires_at > now() and s.seen_at > now() - interval '2 hours'
    and m.from_on <= d.today and (m.to_on is null or m.to_on >= d.today) and (p.left_on is null or p.left_on >= d.today);

create or replace function gate.session_of(p_token_hash bytea, p_touch boolean)
returns table (school_id uuid, person_id uuid, role text, case_manager boolean, given_name text, family_name text, school_name text, time_zone text)
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  if p_touch then
    update gate.sessions s set seen_at = now() where s.token_hash = p_token_hash and s.ended_at is null and s.expires_at > now()
      and s.seen_at > now() - interval '2 hours' and s.seen_at < now() - interval '1 minute';
  end if;
  return query select p.school_id, p.person_id, p.role, p.case_manager, p.given_name, p.family_name, p.school_name, p.time_zone
    from gate.present p where p.token_hash = p_token_hash;
end $$;

-- The person of a session enters their school, for the rest of the transaction; no row where the session is over. Every page asks it, so
-- it asks for all of it at once.
create function gate.enter(p_token_hash bytea, p_student uuid)
returns table (circle_role text, moment timestamptz, local_time text, time_zone text)
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare me record; students uuid[];
begin
  select p.school_id, p.person_id, p.role = 'administrator' as administrator, p.case_manager, p.time_zone,
    to_char(public.clock_now() at time zone p.time_zone, 'YYYY-MM-DD"T"HH24:MI:SS') as local_time into me
    from gate.present p where p.token_hash = p_token_hash;
  if not found then return; end if;
  perform set_config('lock_timeout', '250ms', true), set_config('statement_timeout', '10s', true),
    set_config('idle_in_transaction_session_timeout', '10s', true), set_config('app.today', left(me.local_time, 10), true);
  select array_agg(c.student_id), max(c.part) filter (where c.student_id = p_student) into students, circle_role from public.circle c
    where c.school_id = me.school_id and c.person_id = me.person_id and public.in_circle_now(c.from_on, c.to_on);
  perform gate.set_here(me.school_id, me.person_id, 'p', me.administrator, me.case_manager, students);
  moment := public.clock_now();
  local_time := me.local_time;
  time_zone := me.time_zone;
  return next;
end $$;

-- A guardian enters the record of one student; no row where they may not read now.
create function gate.enter_family(p_token_hash bytea, p_guardian uuid)
returns table (circle_role text, moment timestamptz, local_time text, time_zone text)
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare mine record;
begin
  select * into mine from gate.family_of(p_token_hash) f where f.guardian_id = p_guardian;
  if not found then return; end if;
  select b.* into moment, local_time, time_zone from gate.begin_here(mine.school_id) b;
  perform gate.set_here(mine.school_id, null, 'l', false, false, array[mine.student_id]);
  return next;
end $$;

-- Work of the server itself enters a school, with the key of the application.
create function gate.enter_work(p_key bytea, p_school uuid)
returns table (circle_role text, moment timestamptz, local_time text, time_zone text)
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  if not gate.is_app(p_key) then return; end if;
  select b.* into moment, local_time, time_zone from gate.begin_here(p_school) b;
  perform gate.set_here(p_school, null, 'j', false, false, (select array_agg(s.student_id) from public.students s where s.school_id = p_school));
  return next;
end $$;

-- After a change of circles: the person's students of now.
create function gate.enter_again() returns void
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare here text := gate.sealed();
begin
  if substr(here, 73, 1) = 'p' then
    perform gate.set_here(gate.school_now(), gate.person_now(), 'p', gate.is_administrator(), substr(here, 75, 1) = 'c',
      gate.students_of(gate.school_now(), gate.person_now()));
  end if;
end $$;

-- A device of the person was handed over to a colleague: their students beside the person's own. What is written from then on names the
-- hand-over (031).
create function gate.enter_for_colleague(p_handover uuid) returns void
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare here text := gate.sealed(); school uuid := gate.school_now(); colleague uuid;
begin
  select h.person_id into colleague from public.handovers h
    where h.school_id = school and h.handover_id = p_handover and h.from_id = gate.person_now();
  if found then
    perform gate.set_here(school, gate.person_now(), 'p', gate.is_administrator(), substr(here, 75, 1) = 'c',
      gate.students_now() || gate.students_of(school, colleague), p_handover);
  end if;
end $$;

-- Notes that a colleague took over the device of who acts, having given their PIN: on the application's word.
create function gate.hand_over(p_key bytea, p_handover uuid, p_person uuid) returns boolean
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  if not gate.is_app(p_key) then return false; end if;
  insert into public.handovers (school_id, handover_id, from_id, person_id)
    values (gate.school_now(), p_handover, gate.person_now(), p_person);
  return true;
end $$;

-- As it was called before there was a seal: for the version that is served while this one takes its place, and closed after it.
create or replace function enter_school(p_school uuid, p_person uuid, p_student uuid, out circle_role text, out moment timestamptz, out local_time text, out time_zone text)
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare me record;
begin
  select b.* into moment, local_time, time_zone from gate.begin_here(p_school) b;
  select * into me from public.people p where p.school_id = p_school and p.person_id = p_person;
  perform gate.set_here(p_school, p_person, case when p_person is null then 'j' else 'p' end, me.role = 'administrator', me.case_manager,
    case when p_person is null then (select array_agg(s.student_id) from public.students s where s.school_id = p_school)
      else gate.students_of(p_school, p_person) end);
  if p_student is not null then circle_role := gate.part_of(p_school, p_person, p_student); end if;
end $$;
`;

const onItsWord = `
-- What the gate takes the application's word for, it takes with the application's key: that a password was right, and that a link or a code is to be made.
create function gate.account_by_email(p_key bytea, p_email text) returns table (account_id uuid, password_hash text)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select a.* from gate.account_by_email(p_email) a where gate.is_app(p_key)
$$;
create function gate.open_session(p_key bytea, p_token_hash bytea, p_account uuid, p_school uuid, p_person uuid, p_replaced bytea) returns void
language sql security definer set search_path = pg_catalog, pg_temp as $$
  select gate.open_session(p_token_hash, p_account, p_school, p_person, p_replaced) where gate.is_app(p_key)
$$;
create function gate.open_half(p_key bytea, p_token_hash bytea, p_account uuid) returns void
language sql security definer set search_path = pg_catalog, pg_temp as $$
  select gate.open_half(p_token_hash, p_account) where gate.is_app(p_key)
$$;
create function gate.open_family_account(p_key bytea, p_account uuid, p_token_hash bytea) returns boolean
language sql security definer set search_path = pg_catalog, pg_temp as $$
  select gate.is_app(p_key) and gate.open_family_account(p_account, p_token_hash)
$$;
create function gate.add_ticket_link(p_key bytea, p_ticket uuid, p_token_hash bytea)
returns table (purpose text, school_name text, locale text, time_zone text, given_name text, family_name text, email text, expires_at timestamptz)
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
begin
  if gate.is_app(p_key) then return query select * from gate.add_ticket_link(p_ticket, p_token_hash); end if;
end $$;
create function gate.set_family_code(p_key bytea, p_school uuid, p_guardian uuid, p_code_hash bytea) returns boolean
language sql security definer set search_path = pg_catalog, pg_temp as $$
  select gate.is_app(p_key) and gate.set_family_code(p_school, p_guardian, p_code_hash)
$$;
create function gate.add_family_link(p_key bytea, p_link uuid, p_guardian uuid, p_token_hash bytea, p_days integer) returns timestamptz
language sql security definer set search_path = pg_catalog, pg_temp as $$
  select gate.add_family_link(p_link, p_guardian, p_token_hash, p_days) where gate.is_app(p_key) and exists (
    select 1 from public.guardians g where g.school_id = gate.school_now() and g.guardian_id = p_guardian and g.student_id = any(gate.students_now()))
$$;
`;

/** What belongs to a goal and is read with it all the time names the goal's student itself. */
const withStudent = ["goal_measures", "goal_phases", "tally_presses"]
  .map(
    (table) => `
alter table ${table} add column student_id uuid;
update ${table} t set student_id = g.student_id from goals g where g.school_id = t.school_id and g.goal_id = t.goal_id;
create trigger name_student before insert on ${table} for each row execute function name_student();`,
  )
  .join("\n");
const students = `
create function name_student() returns trigger language plpgsql set search_path = pg_catalog, pg_temp as $$
begin
  new.student_id := (select g.student_id from public.goals g where g.school_id = new.school_id and g.goal_id = new.goal_id);
  return new;
end $$;
grant execute on function name_student to gentle_margin_app;
${withStudent}
`;

/** What reaches beyond a person's circles, each by a function that gives no more than its name says. */
const beyond = `
-- The names of all students of the school, those who left too: a text is looked through for them before it goes out.
create function gate.names_here()
returns table (student_id uuid, given_name text, family_name text, preferred_name text, alias text, initials text)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select s.student_id, s.given_name, s.family_name, s.preferred_name, s.alias, s.initials from public.students s where s.school_id = gate.school_now()
$$;

-- How many students of each group the person does not see.
create function gate.others_in_groups() returns table (group_id uuid, others integer)
language plpgsql stable security definer set search_path = pg_catalog, pg_temp as $$
declare school uuid := gate.school_now(); mine uuid[] := gate.students_now();
begin
  return query select m.group_id, count(*)::int from public.group_members m
    join public.students s on s.school_id = m.school_id and s.student_id = m.student_id and s.left_on is null
    where m.school_id = school and s.student_id <> all(coalesce(mine, '{}')) group by m.group_id;
end $$;

-- The incidents of the school without a name, a note or an id of a student: for what is counted over all of it by who runs it.
create function gate.incidents_of_school(p_from date, p_to date)
returns table (student integer, occurred_on date, occurred_at timestamptz, period text, content jsonb)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select dense_rank() over (order by i.student_id)::int, i.occurred_on, i.occurred_at, i.period, i.content from public.incidents i
  where i.school_id = gate.school_now() and gate.runs_school() and i.state = 'kept' and i.same_as is null
    and i.occurred_on between p_from and p_to
$$;
create function gate.choices_of_school() returns table (choice_id uuid, name text)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select c.choice_id, c.name from public.choices c where c.school_id = gate.school_now() and gate.runs_school()
$$;

-- Of which goals people of a student's circle are the usual measurer or write the statements: ids, for who says who is in the circle.
create function gate.open_work(p_student uuid) returns table (kind text, person_id uuid, goal_id uuid)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select w.* from (
    select 'measures', g.measured_by, g.goal_id from public.goals g where g.school_id = gate.school_now() and g.student_id = p_student
      and g.measured_by is not null and g.ended_on is null and g.met_on is null
    union all
    select 'writes', w.person_id, w.goal_id from public.statement_writers w
      join public.goals g on g.school_id = w.school_id and g.goal_id = w.goal_id
      where w.school_id = gate.school_now() and w.student_id = p_student and g.ended_on is null
  ) w where gate.is_administrator() or p_student = any(gate.students_now())
$$;

-- How far a school is with its first steps.
create function gate.school_has() returns table (student boolean, goal boolean, entry boolean)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select exists (select 1 from public.students s where s.school_id = gate.school_now()),
    exists (select 1 from public.goals g where g.school_id = gate.school_now()),
    exists (select 1 from public.entries e where e.school_id = gate.school_now())
  where gate.runs_school()
$$;

-- May who acts say who is in this circle: its leads, an administrator, and who has just added the student.
create function gate.may_change_circle(p_student uuid) returns boolean
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select gate.is_administrator() or gate.part_of(gate.school_now(), gate.person_now(), p_student) is not distinct from 'lead'
    or gate.runs_school() and not exists (select 1 from public.circle c where c.school_id = gate.school_now() and c.student_id = p_student)
$$;

-- A goal that was never used is removed in the sealed school, and of a student of the sealed circles.
do $$
declare
  source text := pg_get_functiondef('public.remove_unused_goal(uuid)'::regprocedure);
  sealed text := replace(replace(source, $q$nullif(current_setting('app.school', true), '')::uuid;
begin
$q$, $q$gate.school_now();
begin
  if not exists (select 1 from public.goals g where g.school_id = school and g.goal_id = p_goal and g.student_id = any(gate.students_now()))
    then return false; end if;
$q$), 'CREATE FUNCTION', 'CREATE OR REPLACE FUNCTION');
begin
  if position('students_now' in sealed) = 0 then raise exception 'remove_unused_goal is not what it was'; end if;
  execute sealed;
end $$;
`;

/** A row of one of the sealed students. */
const mine = "student_id = any((select gate.students_now())::uuid[])";
const isAdministrator = "(select gate.is_administrator())";
const me = "(select gate.person_now())";

const here = "(select gate.school_now()), (select gate.students_now())";

/** Tables that hang on another: a row is there for who sees what it hangs on. */
const hanging: Record<string, string> = {
  incident_choices: `gate.is_of('incident', incident_id, ${here})`,
  edition_shares: `gate.is_of('edition', edition_id, ${here})`,
};
const history = `gate.is_of(thing, thing_id, ${here})`;

/**
 * Who reads and writes rows about a student, where it is not only the circle. An administrator says who is in a circle, and so sees the
 * students and groups of the school, what happened to circles and who writes statements, and nothing of a record.
 */
const apart: Record<string, string[]> = {
  students: [
    `for select using (${mine} or ${isAdministrator})`,
    `for update using (${mine} or ${isAdministrator})`,
    "for insert with check ((select gate.runs_school()))",
  ],
  circle: [
    "for insert with check (gate.may_change_circle(student_id))",
    "for update using (gate.may_change_circle(student_id))",
    "for delete using (gate.may_change_circle(student_id))",
  ],
  group_members: [`using (${mine} or ${isAdministrator})`],
  statement_writers: [`using (${mine} or ${isAdministrator})`],
  report_views: [`using (${mine} or ${isAdministrator})`],
  // What is not about one student, what is about oneself, and who came and went.
  audit: [`for select using (student_id is null or ${mine} or thing_id = ${me} or ${isAdministrator})`],
  choices: [`using (student_id is null or ${mine})`],
  // What was recorded before a part ended is brought by who is no longer in the circle.
  held_items: [`using (${mine} or person_id = ${me})`],
  // A step is written together with its thing, which a statement does not see before its end.
  revisions: [
    `for select using ((extract(epoch from at) * 1000000)::bigint = (select gate.moment_now()) or ${history})`,
  ],
};

const granted = [
  ...[
    "sealed()",
    "person_now()",
    "is_administrator()",
    "runs_school()",
    "moment_now()",
    "handover_now()",
    "sender_now()",
    "students_now()",
  ],
  ...["is_of(text, uuid, uuid, uuid[])"],
  ...["enter(bytea, uuid)", "enter_family(bytea, uuid)", "enter_work(bytea, uuid)", "enter_again()"],
  ...["enter_for_colleague(uuid)", "hand_over(bytea, uuid, uuid)", "may_change_circle(uuid)"],
  ...[
    "names_here()",
    "others_in_groups()",
    "open_work(uuid)",
    "incidents_of_school(date, date)",
    "choices_of_school()",
    "school_has()",
    "account_by_email(bytea, text)",
  ],
  ...["open_session(bytea, bytea, uuid, uuid, uuid, bytea)", "open_half(bytea, bytea, uuid)"],
  ...["open_family_account(bytea, uuid, bytea)", "add_ticket_link(bytea, uuid, bytea)"],
  ...["set_family_code(bytea, uuid, uuid, bytea)", "add_family_link(bytea, uuid, uuid, bytea, integer)"],
];

export async function up(knex: Knex): Promise<void> {
  for (const sql of [seal, students, entering, onItsWord, beyond]) await knex.raw(sql);
  await knex.raw("revoke execute on all functions in schema gate from public");
  for (const one of granted) await knex.raw(`grant execute on function gate.${one} to gentle_margin_app`);
  const { rows: about } = await knex.raw<{ rows: { name: string }[] }>(
    `select c.relname as name from pg_class c where c.relnamespace = 'public'::regnamespace and c.relkind = 'r'
       and exists (select 1 from pg_attribute a where a.attrelid = c.oid and a.attname = 'student_id' and not a.attisdropped)`,
  );
  const ofCircle = new Set([
    ...about.flatMap(({ name }) => (name in apart ? [] : [name])),
    ...Object.keys(hanging),
  ]);
  // The school, too, is the sealed one. Where every rule asks for the sealed students, the setting is enough: it is compared with the seal there.
  const { rows: locks } = await knex.raw<{ rows: { name: string; checks: boolean }[] }>(
    `select polrelid::regclass::text as name, polwithcheck is not null as checks from pg_policy where polname = 'school_lock'`,
  );
  for (const { name, checks } of locks) {
    if (ofCircle.has(name)) continue;
    const ours = "(school_id = (select gate.school_now()))";
    await knex.raw(`alter policy school_lock on ${name} using ${ours} ${checks ? `with check ${ours}` : ""}`);
  }
  for (const { name } of about) if (!(name in apart)) await lockToCircle(knex, name, [`using (${mine})`]);
  for (const [name, of] of Object.entries(hanging)) await lockToCircle(knex, name, [`using (${of})`]);
  for (const [name, rules] of Object.entries(apart)) await lockToCircle(knex, name, rules);
}
