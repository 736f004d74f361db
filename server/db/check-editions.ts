import { createHash } from "node:crypto";
import type { ReportBlock } from "#core/report/document.ts";
import { editionContentSchema } from "#core/report/edition.ts";
import { pictureFolder, readPictureFile } from "../attachments/picture-folder.ts";
import type { Database } from "./connection.ts";
import { canonicalContent, sha256Of } from "./editions.ts";

/** An edition that is not what was frozen, and in what. */
export interface WrongEdition {
  editionId: string;
  studentId: string;
  number: number;
  why: string;
}

/** The pictures that blocks show, each with the hash that was frozen with it. */
const picturesIn = (
  blocks: readonly ReportBlock[],
): (readonly [pictureId: string, sha256: string | undefined])[] =>
  blocks.flatMap((block) =>
    block.kind === "pictures"
      ? block.items.map(({ pictureId, sha256 }) => [pictureId, sha256] as const)
      : block.kind === "line"
        ? (block.line.pictures ?? []).flatMap(({ pictureId, isHere, sha256 }) =>
            isHere ? [[pictureId, sha256] as const] : [],
          )
        : [],
  );

/** Is the content what its hash says, readable, and in its canonical form? Says why not. */
function contentProblem(
  content: string,
  sha256: string,
): { why: string } | { pictures: ReturnType<typeof picturesIn> } {
  if (sha256Of(content) !== sha256) return { why: "its content does not have its SHA-256" };
  try {
    const read = editionContentSchema.parse(JSON.parse(content));
    if (canonicalContent(read) !== content) return { why: "its content is not in its canonical form" };
    return { pictures: read.document.sections.flatMap(({ blocks }) => picturesIn(blocks)) };
  } catch {
    return { why: "its content cannot be read" };
  }
}

interface PictureRow {
  school_id: string;
  sha256: string;
  content: Buffer | null;
}

async function pictureProblem(
  row: PictureRow | undefined,
  frozen: string | undefined,
): Promise<string | null> {
  if (!row) return "a picture of it is not there";
  if (frozen !== undefined && frozen !== row.sha256) return "a picture of it is another one";
  try {
    const bytes = row.content ?? (await readPictureFile(pictureFolder() ?? "", row.school_id, row.sha256));
    const hash = createHash("sha256").update(bytes).digest("hex");
    return hash === row.sha256 ? null : "a picture of it does not have its SHA-256";
  } catch {
    return "a picture of it cannot be read";
  }
}

/**
 * Goes through every edition of every school, a hundred at a time: its content has its hash and can be read, and its pictures are there
 * and have theirs.
 */
export async function checkEditions(owner: Database): Promise<{ checked: number; wrong: WrongEdition[] }> {
  const wrong: WrongEdition[] = [];
  let checked = 0;
  let after = "00000000-0000-0000-0000-000000000000";
  for (;;) {
    const { rows } = await owner.raw<{
      rows: (Record<"edition_id" | "school_id" | "student_id" | "content" | "sha256", string> & {
        number: number;
      })[];
    }>(
      `select edition_id, school_id, student_id, number, content, sha256 from editions
       where edition_id > ? order by edition_id limit 100`,
      [after],
    );
    for (const { edition_id, school_id, student_id, number, content, sha256 } of rows) {
      const about = { editionId: edition_id, studentId: student_id, number };
      const read = contentProblem(content, sha256);
      if ("why" in read) wrong.push({ ...about, why: read.why });
      else
        for (const [pictureId, frozen] of new Map(read.pictures)) {
          const found = await owner.raw<{ rows: PictureRow[] }>(
            "select school_id, sha256, content from pictures where school_id = ? and picture_id = ?",
            [school_id, pictureId],
          );
          const why = await pictureProblem(found.rows[0], frozen);
          if (why !== null) wrong.push({ ...about, why });
        }
      checked += 1;
      after = edition_id;
    }
    if (rows.length < 100) return { checked, wrong };
  }
}

/**
 * Deletes the editions that are older than their school keeps them. The owner of the tables alone can; the application never deletes one.
 *
 * @returns how many
 */
export async function removeOldEditions(owner: Database): Promise<number> {
  return owner.transaction(async (trx) => {
    const { rows } = await trx.raw<{ rows: { school_id: string; edition_id: string }[] }>(
      `select e.school_id, e.edition_id from editions e join schools s on s.school_id = e.school_id
       where s.edition_years is not null
         and e.made_on < (clock_now() at time zone s.time_zone)::date - make_interval(years => s.edition_years)`,
    );
    const ids = rows.map(({ edition_id }) => edition_id);
    await trx.raw("delete from edition_shares where edition_id = any(?)", [ids]);
    await trx.raw("update editions set replaces = null where replaces = any(?)", [ids]);
    await trx.raw("delete from editions where edition_id = any(?)", [ids]);
    return ids.length;
  });
}
