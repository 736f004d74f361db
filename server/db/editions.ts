import type { Audience } from "#core/report/audience.ts";
import { createHash } from "node:crypto";
import stringify from "safe-stable-stringify";
import type { ReportDocument, ReportSpan } from "#core/report/document.ts";
import {
  type EditionChanges,
  type EditionContent,
  editionChanges,
  editionChangesSchema,
  editionContentSchema,
  editionFormat,
  noChanges,
} from "#core/report/edition.ts";
import { shortName } from "#core/model/student-names.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { notFound } from "../errors.ts";
import { recordEvent } from "./events.ts";
import type { Tables } from "./tables.ts";

export type ShareWay = Tables["edition_shares"]["how"];

/** How an edition was given to others. */
export interface EditionShare {
  how: ShareWay;
  on: string;
  note: string | null;
  by: string;
}

/** An edition without its content. */
export interface Edition {
  editionId: string;
  number: number;
  audience: Audience;
  span: ReportSpan;
  madeOn: string;
  by: string;
  sha256: string;
  /** The number of the edition it replaces, and what is different since; null where it is the first for its audience. */
  replaces: { number: number; changes: EditionChanges } | null;
  /** The number of the one that replaced it. */
  replacedBy: number | null;
  shares: EditionShare[];
}

interface EditionRow extends Pick<
  Tables["editions"],
  "edition_id" | "number" | "audience" | "from_on" | "to_on" | "made_on" | "sha256" | "changes"
> {
  given_name: string;
  family_name: string;
  replaces_number: number | null;
  replaced_by: number | null;
  shares: { how: ShareWay; on: string; note: string | null; given_name: string; family_name: string }[];
}

const columns = `
  e.edition_id, e.number, e.audience, e.from_on, e.to_on, e.made_on, e.sha256, e.changes, p.given_name, p.family_name,
  r.number as replaces_number,
  (select min(l.number) from editions l where l.school_id = e.school_id and l.replaces = e.edition_id) as replaced_by,
  coalesce((select jsonb_agg(jsonb_build_object('how', s.how, 'on', s.shared_on, 'note', s.note, 'given_name', sp.given_name,
      'family_name', sp.family_name) order by s.shared_on, s.at)
    from edition_shares s join people sp on sp.school_id = s.school_id and sp.person_id = s.person_id
    where s.school_id = e.school_id and s.edition_id = e.edition_id), '[]') as shares`;
const tables = `
  editions e join people p on p.school_id = e.school_id and p.person_id = e.person_id
  left join editions r on r.school_id = e.school_id and r.edition_id = e.replaces`;

function toEdition(row: EditionRow): Edition {
  return {
    ...{ editionId: row.edition_id, number: row.number, audience: row.audience, madeOn: row.made_on },
    span: { from: row.from_on, to: row.to_on },
    by: shortName(row.given_name, row.family_name),
    sha256: row.sha256,
    replaces:
      row.replaces_number === null
        ? null
        : { number: row.replaces_number, changes: editionChangesSchema.parse(row.changes) },
    replacedBy: row.replaced_by,
    shares: row.shares.map(({ how, on, note, given_name, family_name }) => ({
      ...{ how, on, note, by: shortName(given_name, family_name) },
    })),
  };
}

/** A student's editions, the newest first. */
export async function listEditions({ trx, schoolId }: Scope, studentId: string): Promise<Edition[]> {
  const { rows } = await trx.raw<{ rows: EditionRow[] }>(
    `select ${columns} from ${tables} where e.school_id = ? and e.student_id = ? order by e.number desc`,
    [schoolId, studentId],
  );
  return rows.map(toEdition);
}

/** The latest edition for an audience of each of these students; students without one are left out. */
export async function listLatestEditions(
  { trx, schoolId }: Scope,
  audience: Audience,
  studentIds: readonly string[],
): Promise<Map<string, Pick<Edition, "editionId" | "number" | "madeOn">>> {
  const { rows } = await trx.raw<{
    rows: (Pick<EditionRow, "edition_id" | "number" | "made_on"> & { student_id: string })[];
  }>(
    `select distinct on (student_id) student_id, edition_id, number, made_on from editions
     where school_id = :schoolId and audience = :audience and student_id = any(:studentIds) order by student_id, number desc`,
    { schoolId, audience, studentIds: [...studentIds] },
  );
  return new Map(
    rows.map((row) => [
      row.student_id,
      { editionId: row.edition_id, number: row.number, madeOn: row.made_on },
    ]),
  );
}

/**
 * One edition with its content, as text and as what it says.
 *
 * @throws NotFound
 */
export async function findEdition(
  { trx, schoolId }: Scope,
  studentId: string,
  editionId: string,
): Promise<{ edition: Edition; content: string; document: ReportDocument }> {
  const { rows } = await trx.raw<{ rows: (EditionRow & { content: string })[] }>(
    `select ${columns}, e.content from ${tables} where e.school_id = ? and e.student_id = ? and e.edition_id = ?`,
    [schoolId, studentId, editionId],
  );
  const row = rows[0] ?? notFound();
  return { edition: toEdition(row), content: row.content, document: readContent(row.content).document };
}

const readContent = (text: string): EditionContent => editionContentSchema.parse(JSON.parse(text));

/** Content as it is kept and hashed: JSON with the keys of each object in order. */
export const canonicalContent = (content: EditionContent): string => stringify(content);

/** The SHA-256 of a text in UTF-8, in hexadecimal: what `sha256sum` prints of the file. */
export const sha256Of = (text: string): string => createHash("sha256").update(text, "utf8").digest("hex");

/** Freezes a report as the student's next edition. The form made its id: sent twice, it is one. */
export async function makeEdition(
  scope: PersonScope,
  { studentId, editionId }: { studentId: string; editionId: string },
  document: ReportDocument,
): Promise<"saved" | "already"> {
  requirePermission(scope, "edition.make");
  const { trx, schoolId, actor, today } = scope;
  // Two people at once take turns here, so that each edition has a number of its own.
  await trx.raw("select 1 from students where school_id = ? and student_id = ? for update", [
    schoolId,
    studentId,
  ]);
  const { rows } = await trx.raw<{
    rows: { edition_id: string; number: number; audience: Audience }[];
  }>(
    "select edition_id, number, audience from editions where school_id = ? and student_id = ? order by number desc",
    [schoolId, studentId],
  );
  if (rows.some(({ edition_id }) => edition_id === editionId)) return "already";
  const replaced = rows.find(({ audience }) => audience === document.audience);
  const before = replaced && (await findEdition(scope, studentId, replaced.edition_id)).document;
  const content = canonicalContent({ format: editionFormat, document });
  await trx("editions").insert({
    ...{
      school_id: schoolId,
      edition_id: editionId,
      student_id: studentId,
      number: (rows[0]?.number ?? 0) + 1,
    },
    ...{ audience: document.audience, language: document.language },
    ...{ from_on: document.span.from, to_on: document.span.to, made_on: today, person_id: actor.personId },
    replaces: replaced?.edition_id ?? null,
    changes: JSON.stringify(before ? editionChanges(before, document) : noChanges),
    ...{ content, sha256: sha256Of(content) },
  });
  await recordEvent(scope, { thing: "edition", act: "made", thingId: editionId, studentId });
  return "saved";
}

/** Notes how an edition was given to others. The form made its id: sent twice, it is one. */
export async function noteShare(
  scope: PersonScope,
  { studentId, editionId, shareId }: { studentId: string; editionId: string; shareId: string },
  { how, on, note }: { how: ShareWay; on: string; note: string | null },
): Promise<void> {
  requirePermission(scope, "edition.share");
  await findEdition(scope, studentId, editionId);
  const { trx, schoolId, actor } = scope;
  await trx("edition_shares")
    .insert({
      ...{ school_id: schoolId, share_id: shareId, edition_id: editionId, how, shared_on: on, note },
      person_id: actor.personId,
    })
    .onConflict(["school_id", "share_id"])
    .ignore();
  await recordEvent(scope, { thing: "edition", act: "shared", thingId: editionId, studentId, on });
}
