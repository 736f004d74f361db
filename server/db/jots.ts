import { createHash } from "node:crypto";
import stringify from "safe-stable-stringify";
import type { Jot, JotDetails, JotPicture } from "#core/model/jot.ts";
import type { RevisedContent, Revision } from "#core/model/revision.ts";
import type { ReportSpan } from "#core/report/document.ts";
import { shortName } from "#core/model/student-names.ts";
import { observerWords } from "#core/words/observer-words.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { Invalid, notFound } from "../errors.ts";
import type { RevisionChange, SaveOutcome } from "./entries.ts";
import type { IncidentTime } from "./incidents.ts";
import { listStoredCategories, offeredLevels, type StoredCategory } from "./jot-categories.ts";
import { listRevisions, recordStep } from "./revisions.ts";
import type { Tables } from "./tables.ts";
import type { Wanted } from "./wanted.ts";

/** What a person writes of a jot. */
export interface JotContent {
  time: IncidentTime;
  categoryId: string | null;
  details: JotDetails;
  note: string | null;
  /** The student's own rating. */
  own: boolean;
  teamOnly: boolean;
  observerId: string | null;
}

export interface NewJot extends JotContent {
  jotId: string;
  /** The clock of the device that recorded it, ISO, and by how many milliseconds the server's was ahead. */
  deviceAt?: string;
  clockAhead?: number;
}

type Stored = RevisedContent["jot"];

function toStored({ time, categoryId, details, note, own, teamOnly, observerId }: JotContent): Stored {
  const local = "local" in time ? time.local : null;
  return {
    on: local === null && "on" in time ? time.on : (local ?? "").slice(0, 10),
    // The school's own time, to the second.
    at: local === null ? null : local.slice(11),
    period: "period" in time ? time.period : null,
    ...{ categoryId, note, own, teamOnly, observerId },
    levelId: details.levelId,
    link: details.link && { url: details.link.url, words: details.link.words },
    pictures: details.pictures.map(({ pictureId, caption }) => ({ pictureId, caption })),
  };
}

/** Two saves with the same id are the same save if this text is. */
const hashOf = (stored: Stored) => createHash("sha256").update(stringify(stored)).digest("base64url");

const columnsOf = ({ levelId, link, pictures, ...stored }: Stored, { trx, timeZone }: Scope) => ({
  noted_on: stored.on,
  noted_at:
    stored.at === null
      ? null
      : trx.raw("?::timestamp at time zone ?", [`${stored.on}T${stored.at}`, timeZone]),
  period: stored.period,
  category_id: stored.categoryId,
  content: JSON.stringify({ levelId, link, pictures } satisfies JotDetails),
  note: stored.note,
  ...{ own: stored.own, team_only: stored.teamOnly, observer_id: stored.observerId },
});

/** A level belongs to its category; one that is no longer offered may stay where it was chosen before. */
async function requireLevel(scope: Scope, { categoryId, levelId }: Stored): Promise<void> {
  if (categoryId === null && levelId === null) return;
  const category = (await listStoredCategories(scope)).find((one) => one.categoryId === categoryId);
  if (!category) throw new Invalid({ categoryId: "This category is not there any more. Choose another." });
  if (levelId !== null && !category.levels.some((level) => level.levelId === levelId))
    throw new Invalid({ levelId: `“${category.name}” has no such level. Choose one of its levels.` });
}

/**
 * Saves a jot. The device made its id: the same id with the same content is one jot however often it is sent; with other content it is a
 * conflict and changes nothing.
 */
export async function saveJot(scope: PersonScope, studentId: string, made: NewJot): Promise<SaveOutcome> {
  requirePermission(scope, "jot.record");
  const { trx, schoolId, actor } = scope;
  const stored = toStored(made);
  await requireLevel(scope, stored);
  const hash = hashOf(stored);
  const added = await trx("jots")
    .insert({
      ...{ school_id: schoolId, jot_id: made.jotId, student_id: studentId, author_id: actor.personId },
      ...columnsOf(stored, scope),
      made_hash: hash,
      device_at: made.deviceAt === undefined ? null : new Date(made.deviceAt),
      clock_ahead: made.clockAhead === undefined ? null : String(made.clockAhead),
    })
    .onConflict(["school_id", "jot_id"])
    .ignore()
    .returning<unknown[]>("jot_id");
  if (added.length === 0) {
    const there = await trx.raw<{ rows: { made_hash: string }[] }>(
      "select made_hash from jots where school_id = ? and jot_id = ? and student_id = ?",
      [schoolId, made.jotId, studentId],
    );
    return there.rows[0]?.made_hash === hash ? "already" : "conflict";
  }
  await recordStep(scope, "jot", {
    ...{ studentId, thingId: made.jotId, revision: 1, act: "made", content: stored },
  });
  return "saved";
}

interface Locked {
  author_id: string;
  state: "kept" | "removed";
  revision: number;
}

async function lockJot({ trx, schoolId }: Scope, studentId: string, jotId: string) {
  const { rows } = await trx.raw<{ rows: Locked[] }>(
    "select author_id, state, revision from jots where school_id = ? and jot_id = ? and student_id = ? for update",
    [schoolId, jotId, studentId],
  );
  return rows[0] ?? notFound();
}

const lastContent = async (scope: Scope, jotId: string): Promise<Stored> =>
  (await listRevisions(scope, "jot", jotId)).at(-1)?.content ?? notFound();

/** Corrects a jot. The earlier version stays in its history; pictures that it named stay there too. */
export async function correctJot(
  scope: PersonScope,
  { studentId, jotId }: { studentId: string; jotId: string },
  change: RevisionChange,
  content: JotContent,
): Promise<SaveOutcome> {
  const { trx, schoolId } = scope;
  const stands = await lockJot(scope, studentId, jotId);
  requirePermission(scope, "jot.correct", stands.author_id);
  const stored = toStored(content);
  await requireLevel(scope, stored);
  if (stands.state === "removed" || stands.revision !== change.expectedRevision)
    return stands.state === "kept" && hashOf(await lastContent(scope, jotId)) === hashOf(stored)
      ? "already"
      : "conflict";
  const revision = stands.revision + 1;
  await trx("jots")
    .where({ school_id: schoolId, jot_id: jotId })
    .update({ ...columnsOf(stored, scope), revision });
  await recordStep(scope, "jot", {
    ...{ studentId, thingId: jotId, revision, act: "corrected", reason: change.reason, content: stored },
  });
  return "saved";
}

/** Marks a jot as removed, or takes that back; both are steps in its history. */
export async function changeJotState(
  scope: PersonScope,
  { studentId, jotId }: { studentId: string; jotId: string },
  change: RevisionChange,
  state: "kept" | "removed",
): Promise<SaveOutcome> {
  const { trx, schoolId } = scope;
  const stands = await lockJot(scope, studentId, jotId);
  requirePermission(scope, "jot.correct", stands.author_id);
  if (stands.state === state) return "already";
  if (stands.revision !== change.expectedRevision) return "conflict";
  const revision = stands.revision + 1;
  await trx("jots").where({ school_id: schoolId, jot_id: jotId }).update({ state, revision });
  await recordStep(scope, "jot", {
    ...{ studentId, thingId: jotId, revision, reason: change.reason },
    act: state === "removed" ? "removed" : "restored",
    content: await lastContent(scope, jotId),
  });
  return "saved";
}

interface JotRow extends Pick<
  Tables["jots"],
  | "jot_id"
  | "student_id"
  | "author_id"
  | "observer_id"
  | "period"
  | "category_id"
  | "note"
  | "own"
  | "team_only"
  | "state"
  | "revision"
> {
  on: string;
  at: string | null;
  content: JotDetails;
  category_name: string | null;
  category_levels: StoredCategory["levels"] | null;
  files: Record<string, NonNullable<JotPicture["file"]>> | null;
  given_name: string;
  family_name: string;
  writer_given: string | null;
  writer_family: string | null;
}

const columns = `j.jot_id, j.student_id, j.author_id, j.observer_id, j.noted_on as on, j.period, j.category_id, j.content, j.note, j.own,
  j.team_only, j.state, j.revision, to_char(j.noted_at at time zone :timeZone, 'HH24:MI') as at,
  (select jsonb_object_agg(f.picture_id, jsonb_build_object('width', f.width, 'height', f.height, 'sha256', f.sha256)) from pictures f
    where f.school_id = j.school_id and f.jot_id = j.jot_id) as files,
  c.name as category_name, c.levels as category_levels,
  p.given_name, p.family_name, w.given_name as writer_given, w.family_name as writer_family`;
const tables = `jots j
  left join jot_categories c on c.school_id = j.school_id and c.category_id = j.category_id
  join people p on p.school_id = j.school_id and p.person_id = coalesce(j.observer_id, j.author_id)
  left join people w on w.school_id = j.school_id and j.observer_id is not null and w.person_id = j.author_id`;

/** The category and level in the words that they have now. */
function namedIn(
  category: Pick<StoredCategory, "categoryId" | "name" | "levels"> | null,
  levelId: string | null,
): Pick<Jot, "category" | "level"> {
  const level = category?.levels.find((one) => one.levelId === levelId);
  const offered = category ? offeredLevels(category.levels) : [];
  const at = offered.findIndex((one) => one.levelId === levelId);
  return {
    category: category ? { categoryId: category.categoryId, name: category.name } : null,
    level: level
      ? {
          ...{ levelId: level.levelId, name: level.name, meaning: level.meaning },
          ...{ step: at < 0 ? null : at + 1, of: offered.length },
        }
      : null,
  };
}

function toJot(row: JotRow): Jot {
  const observer = shortName(row.given_name, row.family_name);
  return {
    ...{ jotId: row.jot_id, studentId: row.student_id, authorId: row.author_id, observerId: row.observer_id },
    author: observerWords(
      observer,
      row.writer_given === null ? null : shortName(row.writer_given, row.writer_family ?? ""),
    ),
    rater: { personId: row.observer_id ?? row.author_id, name: observer },
    ...{ on: row.on, at: row.at, period: row.period, note: row.note, own: row.own, teamOnly: row.team_only },
    ...namedIn(
      row.category_id === null
        ? null
        : {
            categoryId: row.category_id,
            name: row.category_name ?? "",
            levels: row.category_levels ?? [],
          },
      row.content.levelId,
    ),
    link: row.content.link,
    pictures: row.content.pictures.map(({ pictureId, caption }) => ({
      ...{ pictureId, caption, file: row.files?.[pictureId] ?? null },
    })),
    ...{ state: row.state, revision: row.revision },
  };
}

/** A student's jots that are not removed, the newest first; those of a span of days, both included, where one is given. */
export async function listJots(
  scope: Scope,
  studentId: string,
  { limit = null, ids = null, span = null }: Wanted & { span?: ReportSpan | null },
): Promise<Jot[]> {
  const { rows } = await scope.trx.raw<{ rows: JotRow[] }>(
    `select ${columns} from ${tables}
     where j.school_id = :schoolId and j.student_id = :studentId and j.state = 'kept'
       and (:ids::uuid[] is null or j.jot_id = any(:ids))
       and (:from::date is null or j.noted_on >= :from::date) and (:to::date is null or j.noted_on <= :to::date)
     order by j.noted_on desc, j.noted_at desc nulls last, j.jot_id desc limit :limit`,
    {
      schoolId: scope.schoolId,
      timeZone: scope.timeZone,
      studentId,
      limit,
      ids: ids && [...ids],
      from: span?.from ?? null,
      to: span?.to ?? null,
    },
  );
  return rows.map(toJot);
}

/**
 * One jot of a student, a removed one too.
 *
 * @throws NotFound
 */
export async function findJot(scope: PersonScope, studentId: string, jotId: string): Promise<Jot> {
  const { rows } = await scope.trx.raw<{ rows: JotRow[] }>(
    `select ${columns} from ${tables} where j.school_id = :schoolId and j.student_id = :studentId and j.jot_id = :jotId`,
    { schoolId: scope.schoolId, timeZone: scope.timeZone, studentId, jotId },
  );
  return rows[0] ? toJot(rows[0]) : notFound();
}

/** One step in the history of a jot, with what stood then in the words of now. */
export interface JotRevision extends Omit<Revision<"jot">, "content"> {
  told: Pick<Jot, "category" | "level" | "link" | "pictures" | "note" | "own">;
}

/** Everything that happened to a jot, its first version first. */
export async function listJotRevisions(scope: PersonScope, jotId: string): Promise<JotRevision[]> {
  const categories = await listStoredCategories(scope);
  return (await listRevisions(scope, "jot", jotId)).map(({ content, ...step }) => ({
    ...step,
    told: {
      ...namedIn(
        categories.find(({ categoryId }) => categoryId === content.categoryId) ?? null,
        content.levelId,
      ),
      ...{ link: content.link, note: content.note, own: content.own },
      pictures: content.pictures.map((picture) => ({ ...picture, file: null })),
    },
  }));
}
