import { createHash } from "node:crypto";
import type { ChoiceList } from "#core/incidents/choice-lists.ts";
import type { Chosen, IncidentDetails } from "#core/incidents/content.ts";
import type { PatternIncident } from "#core/incidents/patterns.ts";
import { observerWords } from "#core/words/observer-words.ts";
import { notFound, requirePermission, type Visit } from "../access/visit.ts";
import { noteAct } from "./audit.ts";
import { ensureChoices } from "./choices.ts";
import type { Change, SaveOutcome } from "./entries.ts";
import { shortName } from "./rows.ts";

/** When an incident began, in the school's own time: `local` is `YYYY-MM-DDTHH:MM[:SS]`; else the day, with its period where known. */
export type IncidentTime = { local: string } | { on: string; period: string | null };

export interface IncidentContent {
  time: IncidentTime;
  chosen: Chosen;
  details: IncidentDetails;
  ongoing: boolean;
  note: string | null;
  observerId: string | null;
}

export interface NewIncident extends IncidentContent {
  incidentId: string;
  /** The clock of the device that kept it, ISO, and by how many milliseconds the server's was ahead. */
  deviceAt?: string;
  clockAhead?: number;
}

/** What is stored of an incident in one piece: the ids of its choices by list, and the details. */
export interface StoredContent {
  choices: Record<ChoiceList, string[]>;
  details: IncidentDetails;
  ongoing: boolean;
  observerId: string | null;
}

const minutesApart = 10;

const timeOf = (time: IncidentTime) =>
  "local" in time
    ? { local: time.local, on: time.local.slice(0, 10), period: null }
    : { local: null, on: time.on, period: time.period };

/** Two saves with the same id are the same save if this text is. */
export function incidentHash(
  time: IncidentTime,
  { choices, ...content }: StoredContent,
  note: string | null,
): string {
  const named = Object.entries(choices).sort(([a], [b]) => (a < b ? -1 : 1));
  return createHash("sha256")
    .update(JSON.stringify([timeOf(time), named, content, note]))
    .digest("base64url");
}

async function readContent(visit: Visit, studentId: string, content: IncidentContent) {
  const stored: StoredContent = {
    choices: await ensureChoices(visit, studentId, content.chosen),
    details: content.details,
    ongoing: content.ongoing,
    observerId: content.observerId,
  };
  const { person } = visit;
  return {
    stored,
    hash: incidentHash(content.time, stored, content.note),
    bindings: {
      ...timeOf(content.time),
      schoolId: person.schoolId,
      personId: person.personId,
      timeZone: person.timeZone,
      content: JSON.stringify(stored),
      ongoing: content.ongoing,
      note: content.note,
      observerId: content.observerId,
    },
  };
}

const occurredAt = ":local::timestamp at time zone :timeZone";

async function keepLabels(
  { trx, person }: Visit,
  incidentId: string,
  { choices }: StoredContent,
): Promise<void> {
  const ids = [...new Set(Object.values(choices).flat())];
  await trx.raw("delete from incident_choices where school_id = ? and incident_id = ?", [
    person.schoolId,
    incidentId,
  ]);
  if (ids.length > 0)
    await trx("incident_choices").insert(
      ids.map((choice_id) => ({ school_id: person.schoolId, incident_id: incidentId, choice_id })),
    );
}

/**
 * Saves an incident. The id was made by whoever recorded it: the same id with the same content is one incident however often it is
 * sent; with other content it is a conflict and changes nothing.
 */
export async function saveIncident(visit: Visit, studentId: string, made: NewIncident): Promise<SaveOutcome> {
  requirePermission(visit, "incident.record");
  const { trx, person } = visit;
  const { stored, hash, bindings } = await readContent(visit, studentId, made);
  const { rows } = await trx.raw<{ rows: unknown[] }>(
    `with made as (
       insert into incidents (school_id, incident_id, student_id, author_id, observer_id, occurred_on, occurred_at, period,
         content, note, ongoing, made_hash, device_at, clock_ahead)
       values (:schoolId, :incidentId, :studentId, :personId, :observerId, :on, ${occurredAt}, :period,
         :content, :note, :ongoing, :hash, :deviceAt, :clockAhead)
       on conflict do nothing returning *)
     insert into incident_revisions (school_id, incident_id, revision, act, person_id, occurred_on, occurred_at, period, content, note, content_hash)
     select school_id, incident_id, 1, 'made', author_id, occurred_on, occurred_at, period, content, note, made_hash from made
     returning incident_id`,
    {
      ...bindings,
      incidentId: made.incidentId,
      studentId,
      hash,
      deviceAt: made.deviceAt ?? null,
      clockAhead: made.clockAhead ?? null,
    },
  );
  if (rows.length === 0) {
    const there = await trx.raw<{ rows: { made_hash: string }[] }>(
      "select made_hash from incidents where school_id = ? and incident_id = ? and student_id = ?",
      [person.schoolId, made.incidentId, studentId],
    );
    return there.rows[0]?.made_hash === hash ? "already" : "conflict";
  }
  await keepLabels(visit, made.incidentId, stored);
  await note(visit, "made", studentId, made.incidentId);
  return "saved";
}

const note = (visit: Visit, act: string, studentId: string, thingId: string) =>
  noteAct(visit, { act, thing: "incident", thingId, studentId });

interface Locked {
  author_id: string;
  state: "kept" | "removed";
  revision: number;
  content_hash: string;
}

async function lockIncident({ trx, person }: Visit, studentId: string, incidentId: string): Promise<Locked> {
  const { rows } = await trx.raw<{ rows: Omit<Locked, "content_hash">[] }>(
    "select author_id, state, revision from incidents where school_id = ? and incident_id = ? and student_id = ? for update",
    [person.schoolId, incidentId, studentId],
  );
  const row = rows[0] ?? notFound();
  const last = await trx.raw<{ rows: { content_hash: string }[] }>(
    "select content_hash from incident_revisions where school_id = ? and incident_id = ? and revision = ?",
    [person.schoolId, incidentId, row.revision],
  );
  return { ...row, content_hash: last.rows[0]?.content_hash ?? "" };
}

/** Corrects an incident, or finishes one that was still going on: the earlier version stays in its history. */
export async function correctIncident(
  visit: Visit,
  ids: { studentId: string; incidentId: string },
  change: Change,
  content: IncidentContent,
): Promise<SaveOutcome> {
  const { trx } = visit;
  const stands = await lockIncident(visit, ids.studentId, ids.incidentId);
  requirePermission(visit, "incident.correct", stands.author_id);
  const { stored, hash, bindings } = await readContent(visit, ids.studentId, content);
  if (stands.state === "removed" || stands.revision !== change.expectedRevision)
    return stands.state === "kept" && stands.content_hash === hash ? "already" : "conflict";
  await trx.raw(
    `with changed as (
       update incidents set occurred_on = :on, occurred_at = ${occurredAt}, period = :period, content = :content, note = :note,
         ongoing = :ongoing, observer_id = :observerId, revision = revision + 1
       where school_id = :schoolId and incident_id = :incidentId returning *)
     insert into incident_revisions (school_id, incident_id, revision, act, person_id, reason, occurred_on, occurred_at, period, content, note, content_hash)
     select school_id, incident_id, revision, 'corrected', :personId, :reason, occurred_on, occurred_at, period, content, note, :hash from changed`,
    { ...bindings, incidentId: ids.incidentId, reason: change.reason, hash },
  );
  await keepLabels(visit, ids.incidentId, stored);
  await note(visit, "corrected", ids.studentId, ids.incidentId);
  return "saved";
}

/** Marks an incident as removed, or takes that back; both are steps in its history. */
export async function changeIncidentState(
  visit: Visit,
  ids: { studentId: string; incidentId: string },
  change: Change,
  state: "kept" | "removed",
): Promise<SaveOutcome> {
  const { trx, person } = visit;
  const stands = await lockIncident(visit, ids.studentId, ids.incidentId);
  requirePermission(visit, "incident.correct", stands.author_id);
  if (stands.state === state) return "already";
  if (stands.revision !== change.expectedRevision) return "conflict";
  const act = state === "removed" ? "removed" : "restored";
  await trx.raw(
    `with changed as (
       update incidents set state = :state, revision = revision + 1
       where school_id = :schoolId and incident_id = :incidentId returning *)
     insert into incident_revisions (school_id, incident_id, revision, act, person_id, reason, occurred_on, occurred_at, period, content, note, content_hash)
     select school_id, incident_id, revision, :act, :personId, :reason, occurred_on, occurred_at, period, content, note, :hash from changed`,
    {
      schoolId: person.schoolId,
      personId: person.personId,
      incidentId: ids.incidentId,
      state,
      act,
      reason: change.reason,
      hash: stands.content_hash,
    },
  );
  // Other accounts of one that is removed stand for themselves again: what they tell was seen.
  if (state === "removed")
    await trx("incidents")
      .where({ school_id: person.schoolId, same_as: ids.incidentId })
      .update({ same_as: null });
  await note(visit, act, ids.studentId, ids.incidentId);
  return "saved";
}

/** An incident as its readers see it. */
export interface KeptIncident {
  incidentId: string;
  studentId: string;
  authorId: string;
  author: string;
  on: string;
  /** `HH:MM`; null where only the day or its period is known. */
  at: string | null;
  period: string | null;
  names: Record<ChoiceList, string[]>;
  choices: Record<ChoiceList, string[]>;
  details: IncidentDetails;
  observerId: string | null;
  ongoing: boolean;
  note: string | null;
  state: "kept" | "removed";
  revision: number;
  /** The incident of which this is another adult's account. */
  sameAs: string | null;
}

interface IncidentRow {
  incident_id: string;
  student_id: string;
  author_id: string;
  on: string;
  at: string | null;
  period: string | null;
  content: StoredContent;
  labels: Record<string, string> | null;
  note: string | null;
  ongoing: boolean;
  state: "kept" | "removed";
  revision: number;
  same_as: string | null;
  given_name: string;
  family_name: string;
  writer_given: string | null;
  writer_family: string | null;
}

const labels = `(select jsonb_object_agg(c.choice_id, c.name) from choices c
  where c.school_id = i.school_id and c.student_id = i.student_id and c.choice_id = any(
    select jsonb_array_elements_text(l.value)::uuid from jsonb_each(i.content -> 'choices') l)) as labels`;
const columns = `i.incident_id, i.student_id, i.author_id, i.occurred_on as on, i.period, i.content, i.note, i.ongoing, i.state,
  i.revision, i.same_as, to_char(i.occurred_at at time zone :timeZone, 'HH24:MI') as at, ${labels},
  p.given_name, p.family_name, w.given_name as writer_given, w.family_name as writer_family`;
const tables = `incidents i
  join people p on p.school_id = i.school_id and p.person_id = coalesce(i.observer_id, i.author_id)
  left join people w on w.school_id = i.school_id and i.observer_id is not null and w.person_id = i.author_id`;

/** The words that choices have now. */
function namesOf(choices: StoredContent["choices"], words: Record<string, string> | null) {
  return Object.fromEntries(
    Object.entries(choices).map(([list, ids]) => [list, ids.flatMap((id) => words?.[id] ?? [])]),
  ) as Record<ChoiceList, string[]>;
}

const toIncident = (row: IncidentRow): KeptIncident => ({
  incidentId: row.incident_id,
  studentId: row.student_id,
  authorId: row.author_id,
  author: observerWords(
    shortName(row.given_name, row.family_name),
    row.writer_given === null ? null : shortName(row.writer_given, row.writer_family ?? ""),
  ),
  on: row.on,
  at: row.at,
  period: row.period,
  names: namesOf(row.content.choices, row.labels),
  choices: row.content.choices,
  details: row.content.details,
  observerId: row.content.observerId,
  ongoing: row.ongoing,
  note: row.note,
  state: row.state,
  revision: row.revision,
  sameAs: row.same_as,
});

const asked = ({ person }: Visit, studentId: string) => ({
  schoolId: person.schoolId,
  timeZone: person.timeZone,
  studentId,
});

/** A student's kept incidents, the newest first; other accounts of the same one are among them. */
export async function listIncidents(
  visit: Visit,
  studentId: string,
  { limit }: { limit: number },
): Promise<KeptIncident[]> {
  const { rows } = await visit.trx.raw<{ rows: IncidentRow[] }>(
    `select ${columns} from ${tables}
     where i.school_id = :schoolId and i.student_id = :studentId and i.state = 'kept'
     order by i.occurred_on desc, i.occurred_at desc nulls last, i.incident_id desc limit :limit`,
    { ...asked(visit, studentId), limit },
  );
  return rows.map(toIncident);
}

/** What the patterns of a student are made of: each kept incident once, from a day on, oldest first. */
export async function listPatternIncidents(
  { trx, person }: Visit,
  studentId: string,
  span: { from: string; to: string },
): Promise<PatternIncident[]> {
  const { rows } = await trx.raw<{
    rows: {
      incident_id: string;
      on: string;
      at: string | null;
      period: string | null;
      content: StoredContent;
    }[];
  }>(
    `select i.incident_id, i.occurred_on as on, to_char(i.occurred_at at time zone :timeZone, 'HH24:MI') as at, i.period, i.content
     from incidents i
     where i.school_id = :schoolId and i.student_id = :studentId and i.state = 'kept' and i.same_as is null
       and i.occurred_on between :from and :to
     order by i.occurred_on, i.occurred_at nulls last, i.incident_id`,
    { schoolId: person.schoolId, timeZone: person.timeZone, studentId, ...span },
  );
  const words = new Map(
    (
      await trx.raw<{ rows: { choice_id: string; name: string }[] }>(
        "select choice_id, name from choices where school_id = ? and student_id = ?",
        [person.schoolId, studentId],
      )
    ).rows.map(({ choice_id, name }) => [choice_id, name]),
  );
  const named = (choices: readonly string[] | undefined) =>
    (choices ?? []).flatMap((id) => words.get(id) ?? []);
  return rows.map(({ incident_id, on, at, period, content: { choices, details } }) => ({
    ...{ incidentId: incident_id, on, at, period },
    setting: named(choices.setting)[0] ?? null,
    antecedents: named(choices.antecedent),
    behaviors: named(choices.behavior),
    consequences: named(choices.consequence),
    functions: details.functions,
    minutes: details.length && "minutes" in details.length ? details.length.minutes : null,
    intensity: details.intensity,
    length: details.length,
  }));
}

export async function findIncident(
  visit: Visit,
  studentId: string,
  incidentId: string,
): Promise<KeptIncident> {
  const { rows } = await visit.trx.raw<{ rows: IncidentRow[] }>(
    `select ${columns} from ${tables}
     where i.school_id = :schoolId and i.student_id = :studentId and i.incident_id = :incidentId`,
    { ...asked(visit, studentId), incidentId },
  );
  return rows[0] ? toIncident(rows[0]) : notFound();
}

/** One step in the history of an incident. */
export interface IncidentRevision {
  revision: number;
  act: "made" | "corrected" | "removed" | "restored";
  by: string;
  on: string;
  time: string;
  reason: string | null;
  /** What stood then, in the words of now. */
  told: Pick<KeptIncident, "on" | "at" | "period" | "names" | "details" | "ongoing" | "note">;
}

interface RevisionRow {
  revision: number;
  act: IncidentRevision["act"];
  reason: string | null;
  on: string;
  time: string;
  given_name: string;
  family_name: string;
  occurred_on: string;
  at: string | null;
  period: string | null;
  content: StoredContent;
  note: string | null;
  labels: Record<string, string> | null;
}

/** Everything that happened to an incident, its first version first. */
export async function listIncidentRevisions(
  visit: Visit,
  studentId: string,
  incidentId: string,
): Promise<IncidentRevision[]> {
  const { rows } = await visit.trx.raw<{ rows: RevisionRow[] }>(
    `select r.revision, r.act, r.reason, r.content, r.note, r.period, r.occurred_on, p.given_name, p.family_name,
       to_char(r.occurred_at at time zone :timeZone, 'HH24:MI') as at,
       (r.at at time zone :timeZone)::date as on, to_char(r.at at time zone :timeZone, 'HH24:MI') as time,
       (select jsonb_object_agg(c.choice_id, c.name) from choices c
        where c.school_id = i.school_id and c.student_id = i.student_id) as labels
     from incident_revisions r
     join incidents i on i.school_id = r.school_id and i.incident_id = r.incident_id
     join people p on p.school_id = r.school_id and p.person_id = r.person_id
     where r.school_id = :schoolId and r.incident_id = :incidentId and i.student_id = :studentId order by r.revision`,
    { ...asked(visit, studentId), incidentId },
  );
  return rows.map((row) => ({
    ...{ revision: row.revision, act: row.act, on: row.on, time: row.time, reason: row.reason },
    by: shortName(row.given_name, row.family_name),
    told: {
      ...{ on: row.occurred_on, at: row.at, period: row.period, note: row.note },
      names: namesOf(row.content.choices, row.labels),
      details: row.content.details,
      ongoing: row.content.ongoing,
    },
  }));
}

/** An incident of the same student that another adult wrote down at nearly the same time. */
export interface NearIncident {
  incidentId: string;
  at: string;
  by: string;
}

/** Those within ten minutes by another person, of which nobody has said yet whether they are the same. */
export async function listNear(visit: Visit, studentId: string, incidentId: string): Promise<NearIncident[]> {
  const { rows } = await visit.trx.raw<{
    rows: { incident_id: string; at: string; given_name: string; family_name: string }[];
  }>(
    `select o.incident_id, to_char(o.occurred_at at time zone :timeZone, 'HH24:MI') as at, p.given_name, p.family_name
     from incidents i
     join incidents o on o.school_id = i.school_id and o.student_id = i.student_id and o.incident_id <> i.incident_id
       and o.state = 'kept' and o.same_as is null
       and coalesce(o.observer_id, o.author_id) <> coalesce(i.observer_id, i.author_id)
       and o.occurred_at between i.occurred_at - make_interval(mins => :minutes) and i.occurred_at + make_interval(mins => :minutes)
     join people p on p.school_id = o.school_id and p.person_id = coalesce(o.observer_id, o.author_id)
     where i.school_id = :schoolId and i.student_id = :studentId and i.incident_id = :incidentId
       and i.state = 'kept' and i.same_as is null
       and not o.incident_id = any(i.apart_from) and not i.incident_id = any(o.apart_from)
     order by o.occurred_at, o.incident_id`,
    { ...asked(visit, studentId), incidentId, minutes: minutesApart },
  );
  return rows.map((row) => ({
    incidentId: row.incident_id,
    at: row.at,
    by: shortName(row.given_name, row.family_name),
  }));
}

/**
 * Says of two incidents that they are one, told by two adults, or that they are two. Joined, this one is an account of the other:
 * counted there, read here. It can be said otherwise later.
 */
export async function tellApart(
  visit: Visit,
  ids: { studentId: string; incidentId: string; otherId: string },
  same: boolean,
): Promise<SaveOutcome> {
  requirePermission(visit, "incident.record");
  const { trx, person } = visit;
  // Both held, in one order everywhere, so that two who answer at once cannot join each way round.
  const { rows } = await trx.raw<{ rows: { incident_id: string; same_as: string | null }[] }>(
    `select incident_id, same_as from incidents
     where school_id = ? and student_id = ? and incident_id = any(?) order by incident_id for update`,
    [person.schoolId, ids.studentId, [ids.incidentId, ids.otherId]],
  );
  const mine = rows.find(({ incident_id }) => incident_id === ids.incidentId) ?? notFound();
  const other = rows.find(({ incident_id }) => incident_id === ids.otherId) ?? notFound();
  if (same && other.same_as !== null) return other.same_as === ids.incidentId ? "already" : "conflict";
  if (mine.same_as === (same ? ids.otherId : null) && same) return "already";
  await trx.raw(
    same
      ? `update incidents set same_as = :otherId, apart_from = array_remove(apart_from, :otherId::uuid)
         where school_id = :schoolId and (incident_id = :incidentId or same_as = :incidentId)`
      : `update incidents set same_as = null, apart_from = array_append(array_remove(apart_from, :otherId::uuid), :otherId::uuid)
         where school_id = :schoolId and incident_id = :incidentId`,
    { schoolId: person.schoolId, incidentId: ids.incidentId, otherId: ids.otherId },
  );
  await note(visit, same ? "joined" : "told apart", ids.studentId, ids.incidentId);
  return "saved";
}
