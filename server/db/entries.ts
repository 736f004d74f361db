import { createHash } from "node:crypto";
import type { Purpose } from "#core/criteria/criterion.ts";
import type { Measure, ObservedEntry } from "#core/measures/measure.ts";
import type { Score } from "#core/measures/score-schema.ts";
import type { Circumstances } from "#core/model/entry.ts";
import { type PersonScope, requirePermission } from "../access/scope.ts";
import { notFound } from "../errors.ts";
import type { Transaction } from "./connection.ts";
import type { SummarisedGoal } from "#core/progress/goal-figures.ts";
import { type ActOf, recordEvent, recordEvents } from "./events.ts";
import { entryRevision, revisionColumns, revisionHash } from "./revisions.ts";
import { lockGoal, lockGoals, writeSummaries } from "./summaries.ts";

/** What was observed, when and in which words; times are the school's own, `YYYY-MM-DDTHH:MM`. */
export interface EntryContent {
  observedLocal: string;
  purpose: Purpose;
  /** Where it was observed, in the school's own word for it. */
  setting?: string | null;
  entry: ObservedEntry;
  score: Score;
  note: string | null;
  circumstances?: Circumstances;
  /** Who watched, where it was not the author. */
  observerId?: string | null;
}

export interface NewEntry extends EntryContent {
  entryId: string;
  goalId: string;
  studentId: string;
  sittingId?: string;
  /** The clock of the device that kept it, ISO: beside the server's own. */
  deviceAt?: string;
  /** By how many milliseconds the server's clock was ahead of it. */
  clockAhead?: number;
}

export type SaveOutcome = "saved" | "already" | "conflict";

/**
 * Two saves with the same id are the same save if this text is: it holds what a person entered, not what we made of it. Every entry keeps its
 * hash: another way to write the text would make an entry that a device sends again look like another one.
 */
export function contentHash(goalId: string, content: Omit<EntryContent, "score">): string {
  const { observedLocal, purpose, setting, entry, note, circumstances = {}, observerId } = content;
  const { support, interrupted, noteForTeam } = circumstances;
  const sorted = Object.entries(entry)
    .filter(([, value]) => value !== undefined)
    .sort(([a], [b]) => (a < b ? -1 : 1));
  return createHash("sha256")
    .update(
      JSON.stringify([
        goalId,
        observedLocal,
        purpose,
        sorted,
        note,
        ...(setting || support || interrupted ? [setting ?? null] : []),
        ...(support || interrupted ? [support ?? null, interrupted ?? false] : []),
        ...(observerId ? [{ observerId }] : []),
        ...(noteForTeam ? [{ noteForTeam }] : []),
      ]),
    )
    .digest("base64url");
}

function contentBindings(scope: PersonScope, content: EntryContent) {
  const { score } = content;
  return {
    schoolId: scope.schoolId,
    personId: scope.actor.personId,
    timeZone: scope.timeZone,
    observedLocal: content.observedLocal,
    purpose: content.purpose,
    setting: content.setting ?? null,
    entry: JSON.stringify(content.entry),
    score: JSON.stringify(score),
    value: score.value,
    numerator: score.numerator,
    denominator: score.denominator,
    note: content.note,
    circumstances: JSON.stringify(content.circumstances ?? {}),
    observerId: content.observerId ?? null,
  };
}

/** Writes the goal's summary anew and records what happened to the entry. */
async function settle(
  scope: PersonScope,
  goal: SummarisedGoal,
  act: ActOf<"entry">,
  entryId: string,
): Promise<void> {
  await writeSummaries(scope.trx, scope.schoolId, [goal]);
  await recordEvent(scope, { act, thing: "entry", thingId: entryId, studentId: goal.studentId });
}

interface Draft {
  entry: NewEntry;
  /** The goal with the measure that the entry was recorded for. */
  goal: SummarisedGoal;
  hash: string;
}

/** Inserts entries with their first revisions; those whose ids are there already stay as they are. Answers the ids of the new ones. */
async function insertEntries(scope: PersonScope, drafts: readonly Draft[]): Promise<Set<string>> {
  const { trx, schoolId, timeZone, actor } = scope;
  const { rows } = await trx.raw<{ rows: { thing_id: string }[] }>(
    `with made as (
       insert into entries (school_id, entry_id, goal_id, student_id, measure_version, author_id, observed_at, observed_on,
         purpose, setting, entry, score, value, numerator, denominator, note, circumstances, observer_id, made_hash,
         sitting_id, device_at, clock_ahead)
       select :schoolId, d.entry_id, d.goal_id, d.student_id, d.measure_version, :personId,
         d.observed_local::timestamp at time zone :timeZone, d.observed_local::date,
         d.purpose, d.setting, d.entry, d.score, d.value, d.numerator, d.denominator, d.note, d.circumstances, d.observer_id,
         d.hash, d.sitting_id, d.device_at, d.clock_ahead
       from jsonb_to_recordset(:drafts) as d (entry_id uuid, goal_id uuid, student_id uuid, measure_version int,
         observed_local text, purpose text, setting text, entry jsonb, score jsonb, value double precision,
         numerator double precision, denominator double precision, note text, circumstances jsonb, observer_id uuid, hash text,
         sitting_id uuid, device_at timestamptz, clock_ahead bigint)
       on conflict do nothing returning *)
     insert into revisions (${revisionColumns})
     select school_id, 'entry', entry_id, 1, 'made', author_id, null, ${entryRevision("made")}, made_hash from made
     returning thing_id`,
    {
      ...{ schoolId, timeZone, personId: actor.personId },
      drafts: JSON.stringify(
        drafts.map(({ entry, goal, hash }) => ({
          ...{ entry_id: entry.entryId, goal_id: goal.goalId, student_id: goal.studentId, hash },
          ...{ measure_version: goal.measureVersion, observed_local: entry.observedLocal },
          ...{ purpose: entry.purpose, setting: entry.setting, note: entry.note },
          ...{ entry: entry.entry, score: entry.score, circumstances: entry.circumstances ?? {} },
          ...{ value: entry.score.value, numerator: entry.score.numerator },
          ...{ denominator: entry.score.denominator, observer_id: entry.observerId },
          ...{ sitting_id: entry.sittingId, device_at: entry.deviceAt, clock_ahead: entry.clockAhead },
        })),
      ),
    },
  );
  return new Set(rows.map(({ thing_id }) => thing_id));
}

/** What became of drafts whose ids were there already: the same content is the same entry, anything else a conflict. */
async function compareWithKept(
  scope: PersonScope,
  drafts: readonly Draft[],
): Promise<Map<string, SaveOutcome>> {
  if (drafts.length === 0) return new Map();
  const { rows } = await scope.trx.raw<{
    rows: { entry_id: string; student_id: string; made_hash: string }[];
  }>("select entry_id, student_id, made_hash from entries where school_id = ? and entry_id = any(?)", [
    scope.schoolId,
    drafts.map(({ entry }) => entry.entryId),
  ]);
  const isKept = ({ entry, goal, hash }: Draft) =>
    rows.some(
      (row) => row.entry_id === entry.entryId && row.student_id === goal.studentId && row.made_hash === hash,
    );
  return new Map(drafts.map((draft) => [draft.entry.entryId, isKept(draft) ? "already" : "conflict"]));
}

async function saveDrafts(
  scope: PersonScope,
  drafts: readonly Draft[],
  goals: readonly SummarisedGoal[],
): Promise<Map<string, SaveOutcome>> {
  const made = await insertEntries(scope, drafts);
  const isNew = ({ entry }: Draft) => made.has(entry.entryId);
  const outcomes = await compareWithKept(
    scope,
    drafts.filter((draft) => !isNew(draft)),
  );
  const fresh = drafts.filter(isNew);
  if (fresh.length === 0) return outcomes;
  const changed = new Set(fresh.map(({ goal }) => goal.goalId));
  await writeSummaries(
    scope.trx,
    scope.schoolId,
    goals.filter(({ goalId }) => changed.has(goalId)),
  );
  await recordEvents(
    scope,
    fresh.map(({ entry, goal }) => ({
      ...{ act: "made" as const, thing: "entry" as const },
      ...{ thingId: entry.entryId, studentId: goal.studentId },
    })),
  );
  for (const { entry } of fresh) outcomes.set(entry.entryId, "saved");
  return outcomes;
}

/**
 * Saves an entry. The id was made by whoever recorded it: the same id with the same content is one entry however often it
 * is sent, also after the entry has been corrected; the same id with other content is a conflict and changes nothing.
 */
export async function saveEntry(
  scope: PersonScope,
  draft: NewEntry | ((goal: SummarisedGoal) => NewEntry),
  ids: { goalId: string; studentId: string; measureVersion?: number },
): Promise<SaveOutcome> {
  requirePermission(scope, "entry.record");
  const { trx, schoolId } = scope;
  const now = (await lockGoal(trx, schoolId, ids.goalId, ids.studentId)) ?? notFound();
  const goal = await asOfVersion(trx, schoolId, now, ids.measureVersion);
  const entry = typeof draft === "function" ? draft(goal) : draft;
  const outcomes = await saveDrafts(scope, [{ entry, goal, hash: contentHash(goal.goalId, entry) }], [now]);
  return outcomes.get(entry.entryId) ?? "conflict";
}

/**
 * Saves many entries, of several students too, in as many statements as one. Each is saved as by `saveEntry`.
 *
 * @param scopes the scope of each student whose entries are among them
 * @returns what became of each, by its id
 */
export async function saveEntries(
  scopes: ReadonlyMap<string, PersonScope>,
  entries: readonly NewEntry[],
): Promise<Map<string, SaveOutcome>> {
  for (const { studentId } of entries) requirePermission(scopes.get(studentId) ?? notFound(), "entry.record");
  const [scope] = scopes.values();
  if (!scope || entries.length === 0) return new Map();
  const goals = await lockGoals(scope.trx, scope.schoolId, entries);
  const drafts = entries.map((entry) => {
    const goal = goals.get(entry.goalId) ?? notFound();
    return { entry, goal, hash: contentHash(goal.goalId, entry) };
  });
  return saveDrafts(scope, drafts, [...goals.values()]);
}

/** The goal with the measure of an earlier version: what a device recorded before a change keeps the meaning it had. */
export async function asOfVersion(
  trx: Transaction,
  schoolId: string,
  goal: SummarisedGoal,
  version: number | undefined,
): Promise<SummarisedGoal> {
  if (version === undefined || version === goal.measureVersion) return goal;
  const { rows } = await trx.raw<{ rows: { measure: Measure }[] }>(
    "select measure from goal_measures where school_id = ? and goal_id = ? and version = ?",
    [schoolId, goal.goalId, version],
  );
  const row = rows[0];
  return row ? { ...goal, measure: row.measure, measureVersion: version } : notFound();
}

interface LockedEntry {
  measure: Measure;
  goal_id: string;
  author_id: string;
  state: "kept" | "removed";
  revision: number;
}

async function lockEntry(
  scope: PersonScope,
  studentId: string,
  entryId: string,
): Promise<{ goal: SummarisedGoal; entry: LockedEntry }> {
  const { trx, schoolId } = scope;
  const read = async () => {
    const { rows } = await trx.raw<{ rows: LockedEntry[] }>(
      `select e.goal_id, e.author_id, e.state, e.revision, m.measure from entries e
       join goal_measures m on m.school_id = e.school_id and m.goal_id = e.goal_id and m.version = e.measure_version
       where e.school_id = ? and e.entry_id = ? and e.student_id = ?`,
      [schoolId, entryId, studentId],
    );
    return rows[0] ?? notFound();
  };
  const { goal_id } = await read();
  const goal = (await lockGoal(trx, schoolId, goal_id, studentId)) ?? notFound();
  return { goal, entry: await read() };
}

export type RevisionChange = { expectedRevision: number; reason: string | null };

/**
 * Corrects an entry: what stands changes, the earlier version stays in its history. Sent twice it is one correction; a
 * correction made against a version that no longer stands is a conflict. It is read by the measure it was recorded for.
 */
export async function correctEntry(
  scope: PersonScope,
  ids: { studentId: string; entryId: string },
  change: RevisionChange,
  makeContent: (measure: Measure) => EntryContent,
): Promise<SaveOutcome> {
  const { goal, entry } = await lockEntry(scope, ids.studentId, ids.entryId);
  requirePermission(scope, "entry.correct", entry.author_id);
  const content = makeContent(entry.measure);
  const hash = contentHash(goal.goalId, content);
  if (entry.state === "removed" || entry.revision !== change.expectedRevision) {
    const stands = await revisionHash(scope, "entry", ids.entryId, entry.revision);
    return entry.state === "kept" && stands === hash ? "already" : "conflict";
  }
  await writeCorrection(scope, goal, ids.entryId, content, { reason: change.reason, hash });
  return "saved";
}

/** The next revision of an entry. Whether it may be is decided before. */
async function writeCorrection(
  scope: PersonScope,
  goal: SummarisedGoal,
  entryId: string,
  content: EntryContent,
  { reason, hash }: { reason: string | null; hash: string },
): Promise<void> {
  await scope.trx.raw(
    `with changed as (
       update entries set observed_at = :observedLocal::timestamp at time zone :timeZone, observed_on = :observedLocal::date,
         purpose = :purpose, setting = :setting, entry = :entry, score = :score, value = :value, numerator = :numerator,
         denominator = :denominator, note = :note, circumstances = :circumstances, observer_id = :observerId,
         revision = revision + 1
       where school_id = :schoolId and entry_id = :entryId returning *)
     insert into revisions (${revisionColumns})
     select school_id, 'entry', entry_id, revision, 'corrected', :personId, :reason, ${entryRevision("changed")}, :hash from changed`,
    { ...contentBindings(scope, content), entryId, reason, hash },
  );
  await settle(scope, goal, "corrected", entryId);
}

/**
 * Updates an entry with what became known after it was made, where it still has `revision`: what a person has
 * corrected or removed meanwhile is left alone. Answers the revision that stands now, or null where nothing was changed.
 */
export async function amendEntry(
  scope: PersonScope,
  ids: { studentId: string; entryId: string },
  revision: number,
  content: EntryContent,
  reason: string,
): Promise<number | null> {
  const { goal, entry } = await lockEntry(scope, ids.studentId, ids.entryId);
  if (entry.state === "removed" || entry.revision !== revision) return null;
  const hash = contentHash(goal.goalId, content);
  await writeCorrection(scope, goal, ids.entryId, content, { reason, hash });
  return revision + 1;
}

/** Marks an entry as removed, or takes that back. Nothing observed is lost: both are steps in its history. */
export async function changeEntryState(
  scope: PersonScope,
  ids: { studentId: string; entryId: string },
  change: RevisionChange,
  state: "kept" | "removed",
): Promise<SaveOutcome> {
  const { goal, entry } = await lockEntry(scope, ids.studentId, ids.entryId);
  requirePermission(scope, "entry.remove", entry.author_id);
  if (entry.state === state) return "already";
  if (entry.revision !== change.expectedRevision) return "conflict";
  const act = state === "removed" ? "removed" : "restored";
  await scope.trx.raw(
    `with changed as (
       update entries set state = :state, revision = revision + 1
       where school_id = :schoolId and entry_id = :entryId returning *)
     insert into revisions (${revisionColumns})
     select c.school_id, 'entry', c.entry_id, c.revision, :act, :personId, :reason, ${entryRevision("c")},
       (select content_hash from revisions r where r.school_id = c.school_id and r.thing = 'entry' and r.thing_id = c.entry_id
         and r.revision = c.revision - 1)
     from changed c`,
    {
      state,
      act,
      schoolId: scope.schoolId,
      entryId: ids.entryId,
      personId: scope.actor.personId,
      reason: change.reason,
    },
  );
  await settle(scope, goal, act, ids.entryId);
  return "saved";
}
