import type { Audience } from "#core/report/audience.ts";
import type { ReportDocument, ReportSpan } from "#core/report/document.ts";
import { editionContentSchema, editionFormat } from "#core/report/edition.ts";
import type { FileFormat } from "#core/report/file-formats.ts";
import { type Scope, requirePermission } from "../access/scope.ts";
import { notFound } from "../errors.ts";
import { keyIn } from "./app-key.ts";
import type { Database } from "./connection.ts";
import { canonicalContent } from "./editions.ts";
import { recordEvent } from "./events.ts";

/** A report that leaves the application as a file. */
export interface Disclosure {
  disclosureId: string;
  studentId: string;
  format: FileFormat;
  /** The edition it is of; null for a running report. */
  edition: { editionId: string; number: number } | null;
  /** Who receives it, in the words of who made it. */
  recipient: string;
  reason: string | null;
  /** The packet it leaves in, and who asked for that; its content is stored there. */
  packet?: { packetId: string; personId: string };
}

/**
 * Notes that a report leaves as a file, and stores the report as it is for a day, so that the file is made of what was looked through. The
 * form made its id: sent twice, it is one.
 */
export async function noteDisclosure(
  scope: Scope,
  { disclosureId, studentId, format, edition, recipient, reason, packet }: Disclosure,
  document: ReportDocument,
): Promise<void> {
  requirePermission(scope, "file.make");
  const { trx, schoolId, actor } = scope;
  const { audience, language, span } = document;
  const added = await trx("disclosures")
    .insert({
      ...{
        school_id: schoolId,
        disclosure_id: disclosureId,
        student_id: studentId,
        format,
        audience,
        language,
      },
      person_id: actor.kind === "person" ? actor.personId : (packet?.personId ?? null),
      packet_id: packet?.packetId ?? null,
      ...{ from_on: span.from, to_on: span.to, recipient, reason },
      ...{ edition_id: edition?.editionId ?? null, edition_number: edition?.number ?? null },
      // An edition is stored where it was frozen, a report in a packet with the packet.
      content: edition || packet ? null : canonicalContent({ format: editionFormat, document }),
    })
    .onConflict(["school_id", "disclosure_id"])
    .ignore()
    .returning<unknown[]>("disclosure_id");
  if (added.length > 0)
    await recordEvent(scope, { thing: "disclosure", act: "made", thingId: disclosureId, studentId });
}

/** A disclosure as it was noted. */
export interface NotedDisclosure extends Disclosure {
  audience: Audience;
  span: ReportSpan;
  personId: string | null;
  /** The report as it was; null for an edition, and after a day. */
  document: ReportDocument | null;
}

/**
 * One disclosure of a student.
 *
 * @throws NotFound
 */
export async function findDisclosure(
  { trx, schoolId }: Scope,
  studentId: string,
  disclosureId: string,
): Promise<NotedDisclosure> {
  const row =
    (await trx("disclosures")
      .where({ school_id: schoolId, student_id: studentId, disclosure_id: disclosureId })
      .first()) ?? notFound();
  return {
    ...{ disclosureId, studentId, format: row.format, audience: row.audience },
    ...{ recipient: row.recipient, reason: row.reason, personId: row.person_id },
    span: { from: row.from_on, to: row.to_on },
    edition:
      row.edition_id === null || row.edition_number === null
        ? null
        : { editionId: row.edition_id, number: row.edition_number },
    document: row.content === null ? null : editionContentSchema.parse(JSON.parse(row.content)).document,
  };
}

/** One of the files that were made of a student's reports, for a list. */
export interface ListedDisclosure extends Omit<Disclosure, "studentId"> {
  audience: Audience;
  on: string;
  by: { given: string; family: string } | null;
}

/** The files that were made of a student's reports, the newest first. */
export async function listDisclosures(
  { trx, schoolId, timeZone }: Scope,
  studentId: string,
  limit: number,
): Promise<ListedDisclosure[]> {
  const { rows } = await trx.raw<{
    rows: {
      disclosure_id: string;
      format: FileFormat;
      audience: Audience;
      edition_id: string | null;
      edition_number: number | null;
      recipient: string;
      reason: string | null;
      made_on: string;
      given_name: string | null;
      family_name: string | null;
    }[];
  }>(
    `select d.disclosure_id, d.format, d.audience, d.edition_id, d.edition_number, d.recipient, d.reason,
       (d.made_at at time zone :timeZone)::date as made_on, p.given_name, p.family_name
     from disclosures d left join people p on p.school_id = d.school_id and p.person_id = d.person_id
     where d.school_id = :schoolId and d.student_id = :studentId order by d.made_at desc limit :limit`,
    { schoolId, studentId, timeZone, limit },
  );
  return rows.map((row) => ({
    ...{ disclosureId: row.disclosure_id, format: row.format, audience: row.audience },
    ...{ recipient: row.recipient, reason: row.reason, on: row.made_on },
    edition:
      row.edition_id === null || row.edition_number === null
        ? null
        : { editionId: row.edition_id, number: row.edition_number },
    by: row.given_name === null ? null : { given: row.given_name, family: row.family_name ?? "" },
  }));
}

/** Deletes the reports that were stored for files a day ago and earlier, in all schools. Answers with how many there were. */
export async function forgetDisclosed(database: Database): Promise<number> {
  const { rows } = await database.raw<{ rows: { n: number }[] }>("select gate.forget_disclosed(?) as n", [
    keyIn(database),
  ]);
  return rows[0]?.n ?? 0;
}
