import type { Knex } from "knex";
import { sealedPart } from "./030-circle-lock.ts";
import { lockSealed, ofSealedStudents } from "./school-table.ts";

const tables = `
-- Is it work of the server itself?
${sealedPart("is_work_now", "boolean", "substr(here, 73, 1) = 'j'")}
revoke execute on function gate.is_work_now from public;
grant execute on function gate.is_work_now to gentle_margin_app;

-- Reports of several students that leave together. What is in one is stored for a day; the row stays.
create table packets (
  school_id uuid not null,
  packet_id uuid not null,
  person_id uuid not null,
  made_at timestamptz not null default clock_now(),
  choice jsonb not null,
  recipient text not null check (length(recipient) between 1 and 200),
  reason text check (length(reason) between 1 and 500),
  -- How many students were chosen.
  students integer not null check (students between 1 and 500),
  state text not null default 'reading' check (state in ('reading', 'names', 'making', 'done', 'cancelled', 'failed')),
  -- The process that works at it, and when it was last heard of, by real time.
  worker uuid,
  tries integer not null default 0,
  heard_at timestamptz not null default now(),
  done_at timestamptz,
  file_name text,
  file_type text,
  file_size integer,
  primary key (school_id, packet_id),
  foreign key (school_id, person_id) references people
);
create index packets_by_person on packets (school_id, person_id, made_at);
create index packets_under_way on packets (heard_at) where state in ('reading', 'making');

-- The report of one student in a packet, as it was read.
create table packet_reports (
  school_id uuid not null,
  packet_id uuid not null,
  student_id uuid not null,
  place integer not null,
  state text not null default 'waiting'
    check (state in ('waiting', 'read', 'names', 'left out', 'made', 'not lead', 'nothing', 'failed')),
  edition_id uuid,
  edition_number integer check ((edition_number is null) = (edition_id is null)),
  content text,
  primary key (school_id, packet_id, student_id),
  unique (school_id, packet_id, place),
  foreign key (school_id, packet_id) references packets,
  foreign key (school_id, student_id) references students
);

-- The file, in pieces, so that nothing holds all of it.
create table packet_pieces (
  school_id uuid not null,
  packet_id uuid not null,
  place integer not null,
  content bytea not null,
  primary key (school_id, packet_id, place),
  foreign key (school_id, packet_id) references packets
);

alter table disclosures add column packet_id uuid;

-- Packets that nobody works at though they are not done: their process has ended, or the whole site was started anew.
create function gate.packets_left(p_key bytea, p_silent interval) returns table (school_id uuid, packet_id uuid)
language sql stable security definer set search_path = pg_catalog, pg_temp as $$
  select p.school_id, p.packet_id from public.packets p
  where gate.is_app(p_key) and p.state in ('reading', 'making') and p.heard_at < now() - p_silent
$$;

-- Deletes what packets of a day ago and earlier hold.
create function gate.forget_packets(p_key bytea) returns integer
language plpgsql security definer set search_path = pg_catalog, pg_temp as $$
declare n integer;
begin
  if not gate.is_app(p_key) then return 0; end if;
  delete from public.packet_pieces c using public.packets p
    where p.school_id = c.school_id and p.packet_id = c.packet_id and p.made_at < public.clock_now() - interval '1 day';
  update public.packet_reports r set content = null from public.packets p
    where r.content is not null and p.school_id = r.school_id and p.packet_id = r.packet_id and p.made_at < public.clock_now() - interval '1 day';
  get diagnostics n = row_count;
  update public.packets p set state = 'failed' where p.state in ('reading', 'names', 'making') and p.made_at < public.clock_now() - interval '1 day';
  return n;
end $$;
revoke execute on function gate.packets_left, gate.forget_packets from public;
grant execute on function gate.packets_left, gate.forget_packets to gentle_margin_app;
`;

/** A packet is seen by who asked for it, and by the work that makes it. */
const ownPacket = "(select gate.is_work_now()) or person_id = (select gate.person_now())";
/** The lock of packets stands in the query. */
const ofPacket = (table: string) =>
  `using (exists (select 1 from packets p where p.school_id = ${table}.school_id and p.packet_id = ${table}.packet_id))`;

export async function up(knex: Knex): Promise<void> {
  await knex.raw(tables);
  await lockSealed(
    knex,
    "packets",
    "select, insert, update (state, worker, tries, heard_at, done_at, file_name, file_type, file_size)",
    [`using (${ownPacket})`],
  );
  await lockSealed(
    knex,
    "packet_reports",
    "select, insert, update (state, edition_id, edition_number, content)",
    [ofSealedStudents, ofPacket("packet_reports")],
  );
  await lockSealed(knex, "packet_pieces", "select, insert, delete", [ofPacket("packet_pieces")]);
}
