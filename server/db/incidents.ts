import type { RevisedContent } from "#core/model/revision.ts";
import { createHash } from "node:crypto";
import type { ChosenChoices, IncidentDetails } from "#core/model/incident-content.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { Invalid, notFound } from "../errors.ts";
import { incidentRevision, revisionColumns, revisionHash } from "./revisions.ts";
import { type ActOf, recordEvent } from "./events.ts";
import { ensureChoices } from "./choices.ts";
import type { RevisionChange, SaveOutcome } from "./entries.ts";
import { readIncidentSettings } from "./incident-settings.ts";
import { missingFacts } from "#core/incidents/missing-facts.ts";

/** When an incident began, in the school's own time: `local` is `YYYY-MM-DDTHH:MM[:SS]`; else the day, with its period where known. */
export type IncidentTime = { local: string } | { on: string; period: string | null };

export interface IncidentContent {
  time: IncidentTime;
  chosen: ChosenChoices;
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
export type StoredContent = RevisedContent["incident"]["content"];

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

/** @param before what stood before a correction, and what was missing of it then */
async function readContent(
  scope: PersonScope,
  studentId: string,
  content: IncidentContent,
  before: Pick<Locked, "content" | "facts_missing"> | null = null,
) {
  const stored: StoredContent = {
    choices: await ensureChoices(scope, studentId, content.chosen),
    details: content.details,
    ongoing: content.ongoing,
    observerId: content.observerId,
  };
  const { schoolId, actor, timeZone } = scope;
  const { harmAsked } = await readIncidentSettings(scope);
  const asked = before && { harm: before.content.details.harm, missing: before.facts_missing };
  return {
    stored,
    hash: incidentHash(content.time, stored, content.note),
    bindings: {
      ...timeOf(content.time),
      schoolId,
      personId: actor.personId,
      timeZone,
      content: JSON.stringify(stored),
      ongoing: content.ongoing,
      note: content.note,
      observerId: content.observerId,
      factsMissing: missingFacts(content.details.harm, harmAsked, asked),
    },
  };
}

const occurredAt = ":local::timestamp at time zone :timeZone";

async function keepLabels(
  { trx, schoolId }: Scope,
  incidentId: string,
  { choices }: StoredContent,
): Promise<void> {
  const ids = [...new Set(Object.values(choices).flat())];
  await trx.raw("delete from incident_choices where school_id = ? and incident_id = ?", [
    schoolId,
    incidentId,
  ]);
  if (ids.length > 0)
    await trx("incident_choices").insert(
      ids.map((choice_id) => ({ school_id: schoolId, incident_id: incidentId, choice_id })),
    );
}

/**
 * Saves an incident. The id was made by whoever recorded it: the same id with the same content is one incident however often it is
 * sent; with other content it is a conflict and changes nothing.
 */
export async function saveIncident(
  scope: PersonScope,
  studentId: string,
  made: NewIncident,
): Promise<SaveOutcome> {
  requirePermission(scope, "incident.record");
  const { trx, schoolId } = scope;
  const { stored, hash, bindings } = await readContent(scope, studentId, made);
  const { rows } = await trx.raw<{ rows: unknown[] }>(
    `with made as (
       insert into incidents (school_id, incident_id, student_id, author_id, observer_id, occurred_on, occurred_at, period,
         content, note, ongoing, facts_missing, made_hash, device_at, clock_ahead)
       values (:schoolId, :incidentId, :studentId, :personId, :observerId, :on, ${occurredAt}, :period,
         :content, :note, :ongoing, :factsMissing, :hash, :deviceAt, :clockAhead)
       on conflict do nothing returning *)
     insert into revisions (${revisionColumns})
     select school_id, 'incident', incident_id, 1, 'made', author_id, null, ${incidentRevision("made")}, made_hash from made
     returning thing_id`,
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
      [schoolId, made.incidentId, studentId],
    );
    return there.rows[0]?.made_hash === hash ? "already" : "conflict";
  }
  await keepLabels(scope, made.incidentId, stored);
  await note(scope, "made", studentId, made.incidentId);
  return "saved";
}

const note = (scope: PersonScope, act: ActOf<"incident">, studentId: string, thingId: string) =>
  recordEvent(scope, { act, thing: "incident", thingId, studentId });

interface Locked {
  author_id: string;
  state: "kept" | "removed";
  revision: number;
  content: StoredContent;
  facts_missing: string[];
  content_hash: string;
}

async function lockIncident(scope: Scope, studentId: string, incidentId: string): Promise<Locked> {
  const { trx, schoolId } = scope;
  const { rows } = await trx.raw<{ rows: Omit<Locked, "content_hash">[] }>(
    `select author_id, state, revision, content, facts_missing from incidents
     where school_id = ? and incident_id = ? and student_id = ? for update`,
    [schoolId, incidentId, studentId],
  );
  const row = rows[0] ?? notFound();
  return { ...row, content_hash: (await revisionHash(scope, "incident", incidentId, row.revision)) ?? "" };
}

/** Corrects an incident, or finishes one that was still going on: the earlier version stays in its history. */
export async function correctIncident(
  scope: PersonScope,
  ids: { studentId: string; incidentId: string },
  change: RevisionChange,
  content: IncidentContent,
): Promise<SaveOutcome> {
  const { trx } = scope;
  const stands = await lockIncident(scope, ids.studentId, ids.incidentId);
  requirePermission(scope, "incident.correct", stands.author_id);
  const { stored, hash, bindings } = await readContent(scope, ids.studentId, content, stands);
  if (stands.state === "removed" || stands.revision !== change.expectedRevision)
    return stands.state === "kept" && stands.content_hash === hash ? "already" : "conflict";
  await trx.raw(
    `with changed as (
       update incidents set occurred_on = :on, occurred_at = ${occurredAt}, period = :period, content = :content, note = :note,
         ongoing = :ongoing, facts_missing = :factsMissing, observer_id = :observerId, revision = revision + 1
       where school_id = :schoolId and incident_id = :incidentId returning *)
     insert into revisions (${revisionColumns})
     select school_id, 'incident', incident_id, revision, 'corrected', :personId, :reason, ${incidentRevision("changed")}, :hash from changed`,
    { ...bindings, incidentId: ids.incidentId, reason: change.reason, hash },
  );
  await keepLabels(scope, ids.incidentId, stored);
  await note(scope, "corrected", ids.studentId, ids.incidentId);
  return "saved";
}

/** Marks an incident as removed, or takes that back; both are steps in its history. */
export async function changeIncidentState(
  scope: PersonScope,
  ids: { studentId: string; incidentId: string },
  change: RevisionChange,
  state: "kept" | "removed",
): Promise<SaveOutcome> {
  const { trx, schoolId, actor } = scope;
  const stands = await lockIncident(scope, ids.studentId, ids.incidentId);
  requirePermission(scope, "incident.correct", stands.author_id);
  if (stands.state === state) return "already";
  if (stands.revision !== change.expectedRevision) return "conflict";
  const act = state === "removed" ? "removed" : "restored";
  await trx.raw(
    `with changed as (
       update incidents set state = :state, revision = revision + 1
       where school_id = :schoolId and incident_id = :incidentId returning *)
     insert into revisions (${revisionColumns})
     select school_id, 'incident', incident_id, revision, :act, :personId, :reason, ${incidentRevision("changed")}, :hash from changed`,
    {
      schoolId,
      personId: actor.personId,
      incidentId: ids.incidentId,
      state,
      act,
      reason: change.reason,
      hash: stands.content_hash,
    },
  );
  // Other accounts of a removed incident count for themselves again.
  if (state === "removed") await tellOfOne(scope, { accounts: ids.incidentId }, null);
  await note(scope, act, ids.studentId, ids.incidentId);
  return "saved";
}

/** Two adults told of the same incident if they began it no further apart than this. */
export const minutesApart = 10;

interface Told {
  incident_id: string;
  author_id: string;
  told_by: string;
  state: "kept" | "removed";
  occurred_at: Date | null;
  same_as: string | null;
}

const areNear = (one: Told, other: Told): boolean =>
  one.told_by !== other.told_by &&
  one.occurred_at !== null &&
  other.occurred_at !== null &&
  Math.abs(one.occurred_at.getTime() - other.occurred_at.getTime()) <= minutesApart * 60_000;

/** Makes incidents accounts of another one, or of none any more: a step in the history of each. */
async function tellOfOne(
  { trx, schoolId, actor }: PersonScope,
  which: { accounts: string } | { account: string } | { withAccounts: string },
  sameAs: string | null,
): Promise<void> {
  const [wanted, id] =
    "accounts" in which
      ? ["same_as = :id", which.accounts]
      : "account" in which
        ? ["incident_id = :id", which.account]
        : ["(incident_id = :id or same_as = :id)", which.withAccounts];
  await trx.raw(
    `with changed as (
       update incidents set same_as = :sameAs, apart_from = array_remove(apart_from, :sameAs::uuid), revision = revision + 1
       where school_id = :schoolId and ${wanted} returning *)
     insert into revisions (${revisionColumns})
     select changed.school_id, 'incident', incident_id, changed.revision, :act, :personId, null, ${incidentRevision("changed")},
       before.content_hash
     from changed left join revisions before on before.school_id = changed.school_id and before.thing = 'incident'
       and before.thing_id = changed.incident_id and before.revision = changed.revision - 1`,
    { schoolId, personId: actor.personId, id, sameAs, act: sameAs === null ? "told apart" : "joined" },
  );
}

/**
 * Says of two incidents that they are one, told by two adults, or that they are two. Joined, the first is an account of the other:
 * counted there, read here. Only a lead or who wrote one of the two down may say it. It can be said otherwise later.
 *
 * @throws Invalid where the two cannot be the same: too far apart, by the same adult, or one of them removed
 */
export async function tellApart(
  scope: PersonScope,
  ids: { studentId: string; incidentId: string; otherId: string },
  same: boolean,
): Promise<SaveOutcome> {
  const { trx, schoolId } = scope;
  // Locks both in one order everywhere, so that two people who answer at once cannot join them both ways.
  const { rows } = await trx.raw<{ rows: Told[] }>(
    `select incident_id, author_id, coalesce(observer_id, author_id) as told_by, state, occurred_at, same_as from incidents
     where school_id = ? and student_id = ? and incident_id = any(?) order by incident_id for update`,
    [schoolId, ids.studentId, [ids.incidentId, ids.otherId]],
  );
  const of = (id: string) => rows.find(({ incident_id }) => incident_id === id) ?? notFound();
  const [mine, other] = [of(ids.incidentId), of(ids.otherId)];
  requirePermission(scope, "incident.join", [mine.author_id, other.author_id]);
  const account = [
    [mine, other],
    [other, mine],
  ].find(([one, counted]) => one?.same_as === counted?.incident_id)?.[0];
  if (same) {
    if (account) return "already";
    if (other.same_as !== null) return "conflict";
    if (mine.state === "removed" || other.state === "removed")
      throw new Invalid({ form: "One of the two is removed: only incidents that count can be joined." });
    if (!areNear(mine, other))
      throw new Invalid({
        form: `Only incidents two adults recorded within ${minutesApart} minutes can be the same incident.`,
      });
    await tellOfOne(scope, { withAccounts: ids.incidentId }, ids.otherId);
  } else {
    if (account) await tellOfOne(scope, { account: account.incident_id }, null);
    await trx.raw(
      `update incidents set apart_from = array_append(array_remove(apart_from, :otherId::uuid), :otherId::uuid)
       where school_id = :schoolId and incident_id = :incidentId`,
      { schoolId, incidentId: ids.incidentId, otherId: ids.otherId },
    );
  }
  await note(scope, same ? "joined" : "told apart", ids.studentId, ids.incidentId);
  return "saved";
}
