import { type PacketChoice, packetChoiceSchema } from "#core/report/packet.ts";
import type { ReportDocument } from "#core/report/document.ts";
import { editionContentSchema, editionFormat } from "#core/report/edition.ts";
import type { JobActor } from "../access/actor.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { notFound } from "../errors.ts";
import { keyIn } from "./app-key.ts";
import type { Database } from "./connection.ts";
import { canonicalContent } from "./editions.ts";
import { recordEvent } from "./events.ts";
import { withScope } from "./school.ts";
import type { Tables } from "./tables.ts";

export type PacketState = Tables["packets"]["state"];
export type PacketReportState = Tables["packet_reports"]["state"];

/** Reports of several students that leave together. */
export interface Packet {
  packetId: string;
  personId: string;
  choice: PacketChoice;
  recipient: string;
  reason: string | null;
  state: PacketState;
  /** How many students were chosen. */
  students: number;
  madeAt: Date;
  file: { name: string; type: string; size: number } | null;
}

/** The report of one student in a packet. */
export interface PacketReport {
  studentId: string;
  /** Its place in the packet, from 1. */
  place: number;
  state: PacketReportState;
  edition: { editionId: string; number: number } | null;
}

const toPacket = (row: Tables["packets"]): Packet => ({
  ...{ packetId: row.packet_id, personId: row.person_id, recipient: row.recipient, reason: row.reason },
  ...{ state: row.state, students: row.students, madeAt: row.made_at },
  choice: packetChoiceSchema.parse(row.choice),
  file:
    row.file_name === null || row.file_type === null || row.file_size === null
      ? null
      : { name: row.file_name, type: row.file_type, size: row.file_size },
});

const toReport = (row: Omit<Tables["packet_reports"], "content">): PacketReport => ({
  ...{ studentId: row.student_id, place: row.place, state: row.state },
  edition:
    row.edition_id === null || row.edition_number === null
      ? null
      : { editionId: row.edition_id, number: row.edition_number },
});

const reportColumns = ["student_id", "place", "state", "edition_id", "edition_number"] as const;

/**
 * Asks for a packet: from then on a process works at it. The form made its id: sent twice, it is one. So is the same packet for the same
 * reader while the first one is being made.
 *
 * @param studentIds in the order of the packet. Whether the person may make files of each was asked before
 * @returns the id of the packet that is made
 */
export async function askForPacket(
  scope: PersonScope,
  packetId: string,
  {
    choice,
    recipient,
    reason,
    studentIds,
  }: Pick<Packet, "choice" | "recipient" | "reason"> & { studentIds: readonly string[] },
): Promise<string> {
  requirePermission(scope, "packet.make");
  const { trx, schoolId, actor } = scope;
  // Two forms of one person take turns, so that the second finds the first.
  await trx.raw("select pg_advisory_xact_lock(hashtextextended(?, 36))", [`packet ${actor.personId}`]);
  const { rows } = await trx.raw<{ rows: { packet_id: string }[] }>(
    `select p.packet_id from packets p where p.school_id = :schoolId and p.person_id = :personId and (p.packet_id = :packetId
       or p.state in ('reading', 'names', 'making') and p.choice = :choice::jsonb and p.recipient = :recipient
         and (select array_agg(r.student_id order by r.place) from packet_reports r
              where r.school_id = p.school_id and r.packet_id = p.packet_id) = :studentIds::uuid[]) limit 1`,
    {
      ...{ schoolId, personId: actor.personId, packetId, recipient, studentIds: [...studentIds] },
      choice: JSON.stringify(choice),
    },
  );
  if (rows[0]) return rows[0].packet_id;
  await trx("packets").insert({
    ...{ school_id: schoolId, packet_id: packetId, person_id: actor.personId, recipient, reason },
    ...{ choice: JSON.stringify(choice), students: studentIds.length },
  });
  await trx("packet_reports").insert(
    studentIds.map((student_id, at) => ({
      ...{ school_id: schoolId, packet_id: packetId, student_id, place: at + 1 },
    })),
  );
  await recordEvent(scope, { thing: "packet", act: "asked", thingId: packetId, studentId: null });
  return packetId;
}

/**
 * A packet of the person's own with its reports in order. Reports of students in whose circle they are no longer are not among them.
 *
 * @throws NotFound
 */
export async function findPacket(
  { trx, schoolId }: Scope,
  packetId: string,
): Promise<{ packet: Packet; reports: PacketReport[] }> {
  const row =
    (await trx("packets").where({ school_id: schoolId, packet_id: packetId }).first()) ?? notFound();
  const reports = await trx("packet_reports")
    .where({ school_id: schoolId, packet_id: packetId })
    .orderBy("place")
    .select(...reportColumns, "school_id", "packet_id");
  return { packet: toPacket(row), reports: reports.map(toReport) };
}

/** The person's packets, the newest first. */
export async function listPackets({ trx, schoolId, actor }: PersonScope, limit: number): Promise<Packet[]> {
  const rows = await trx("packets")
    .where({ school_id: schoolId, person_id: actor.personId })
    .orderBy("made_at", "desc")
    .limit(limit);
  return rows.map(toPacket);
}

/** The report of a student as it was read for a packet; null where it was not read, and after a day. */
export async function readPacketReport(
  { trx, schoolId }: Scope,
  packetId: string,
  studentId: string,
): Promise<ReportDocument | null> {
  const row = await trx("packet_reports")
    .where({ school_id: schoolId, packet_id: packetId, student_id: studentId })
    .first("content");
  return row?.content ? editionContentSchema.parse(JSON.parse(row.content)).document : null;
}

/** A piece of the file of a packet; null after the last. */
export async function readPiece(
  { trx, schoolId }: Scope,
  packetId: string,
  place: number,
): Promise<Buffer | null> {
  const row = await trx("packet_pieces")
    .where({ school_id: schoolId, packet_id: packetId, place })
    .first("content");
  return row?.content ?? null;
}

/** Stops a packet that is not done: what was read for it is deleted. */
export async function cancelPacket(scope: PersonScope, packetId: string): Promise<void> {
  const { trx, schoolId } = scope;
  const changed = await trx("packets")
    .where({ school_id: schoolId, packet_id: packetId })
    .whereIn("state", ["reading", "names", "making"])
    .update({ state: "cancelled", worker: null });
  if (changed === 0) return;
  await trx("packet_reports").where({ school_id: schoolId, packet_id: packetId }).update({ content: null });
  await trx("packet_pieces").where({ school_id: schoolId, packet_id: packetId }).delete();
  await recordEvent(scope, { thing: "packet", act: "cancelled", thingId: packetId, studentId: null });
}

/**
 * Goes on with a packet that waited for somebody to look at names: the reports of these students stay in it, the others are left out, or
 * read once more where they were corrected.
 *
 * @param then what becomes of the others
 */
export async function goOnWithPacket(
  scope: PersonScope,
  packetId: string,
  keptIds: readonly string[],
  then: "left out" | "waiting",
): Promise<void> {
  const { trx, schoolId } = scope;
  const of = { school_id: schoolId, packet_id: packetId };
  const changed = await trx("packets")
    .where({ ...of, state: "names" })
    .update({ state: "reading", worker: null, tries: 0, heard_at: trx.raw("now()") });
  if (changed === 0) return;
  await trx("packet_reports")
    .where({ ...of, state: "names" })
    .whereIn("student_id", [...keptIds])
    .update({ state: "read" });
  await trx("packet_reports")
    .where({ ...of, state: "names" })
    .update({ state: then, content: null });
  await recordEvent(scope, { thing: "packet", act: "looked through", thingId: packetId, studentId: null });
}

type WorkScope = Scope<JobActor>;

/** How long a process may be silent before another takes over its packet. */
export const silentFor = "60 seconds";

/**
 * Takes a packet, for one process. What another works at, and what is done, stopped or waits for a person, is not taken.
 *
 * @param worker an id of the process's own for this packet
 * @returns how often it was taken, this time included; null where it is not to be taken
 */
export async function takePacket(
  { trx, schoolId }: WorkScope,
  packetId: string,
  worker: string,
): Promise<number | null> {
  const { rows } = await trx.raw<{ rows: { tries: number }[] }>(
    `update packets set worker = :worker, heard_at = now(), tries = tries + 1 where school_id = :schoolId and packet_id = :packetId
       and state in ('reading', 'making') and (worker is null or worker = :worker or heard_at < now() - :silentFor::interval)
     returning tries`,
    { worker, schoolId, packetId, silentFor },
  );
  return rows[0]?.tries ?? null;
}

/**
 * Says that a process is at work at a packet, and that it makes the file now where it does.
 *
 * @returns whether it is still the one that works at it: not where the packet was stopped, or given to another
 */
export async function workAtPacket(
  { trx, schoolId }: WorkScope,
  packetId: string,
  worker: string,
  state?: "making",
): Promise<boolean> {
  const changed = await trx("packets")
    .where({ school_id: schoolId, packet_id: packetId, worker })
    .update({ heard_at: trx.raw("now()"), ...(state ? { state } : {}) });
  return changed > 0;
}

/** Lets a packet go, so that another process takes it at once. */
export async function leavePacket(
  { trx, schoolId }: WorkScope,
  packetId: string,
  worker: string,
): Promise<void> {
  await trx("packets").where({ school_id: schoolId, packet_id: packetId, worker }).update({ worker: null });
}

/** Stores the report of a student for a packet, or why there is none. */
export async function storePacketReport(
  { trx, schoolId }: WorkScope,
  packetId: string,
  studentId: string,
  state: PacketReportState,
  {
    document,
    edition,
  }: { document?: ReportDocument; edition?: { editionId: string; number: number } | null } = {},
): Promise<void> {
  await trx("packet_reports")
    .where({ school_id: schoolId, packet_id: packetId, student_id: studentId })
    .update({
      state,
      ...(edition ? { edition_id: edition.editionId, edition_number: edition.number } : {}),
      ...(document ? { content: canonicalContent({ format: editionFormat, document }) } : {}),
    });
}

/** Stores a piece of the file. The first one deletes what an earlier process stored. */
export async function storePiece(
  { trx, schoolId }: WorkScope,
  packetId: string,
  place: number,
  content: Buffer,
): Promise<void> {
  const of = { school_id: schoolId, packet_id: packetId };
  if (place === 1) await trx("packet_pieces").where(of).delete();
  await trx("packet_pieces").insert({ ...of, place, content });
}

/** How a packet ended: with a file, waiting for a person, or without anything to make a file of. */
export async function endPacket(
  scope: WorkScope,
  packetId: string,
  worker: string,
  ended:
    { state: "names" | "failed" } | { state: "done"; file: { name: string; type: string; size: number } },
): Promise<boolean> {
  const { trx, schoolId } = scope;
  const changed = await trx("packets")
    .where({ school_id: schoolId, packet_id: packetId, worker })
    .update({
      ...{ state: ended.state, worker: null },
      ...(ended.state === "done"
        ? {
            ...{ done_at: trx.raw("clock_now()"), file_name: ended.file.name },
            ...{ file_type: ended.file.type, file_size: ended.file.size },
          }
        : {}),
    });
  if (changed > 0 && ended.state === "done")
    await recordEvent(scope, { thing: "packet", act: "made", thingId: packetId, studentId: null });
  return changed > 0;
}

/** The packets that nobody works at though they are not done, in all schools. */
export async function listLeftPackets(database: Database): Promise<{ schoolId: string; packetId: string }[]> {
  const { rows } = await database.raw<{ rows: { school_id: string; packet_id: string }[] }>(
    "select * from gate.packets_left(?, ?::interval)",
    [keyIn(database), silentFor],
  );
  return rows.map((row) => ({ schoolId: row.school_id, packetId: row.packet_id }));
}

/** Deletes what packets of a day ago and earlier hold, in all schools. */
export async function forgetPackets(database: Database): Promise<void> {
  await database.raw("select gate.forget_packets(?)", [keyIn(database)]);
}

/** Work at packets, in their school. */
export const inPacketWork = <T>(
  database: Database,
  schoolId: string,
  studentId: string | null,
  work: (scope: WorkScope) => Promise<T>,
): Promise<T> => withScope(database, { kind: "job", schoolId, name: "packet" }, studentId, work);
