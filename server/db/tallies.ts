import type { OpenTally } from "#core/sync/kept.ts";
import { observerWords } from "#core/words/observer-words.ts";
import { groupBy } from "#core/lists/group-by.ts";
import type { Press } from "#core/sitting/tally.ts";
import { standingPresses, tallyEntry } from "#core/sitting/tally.ts";
import { readEntry } from "#core/measures/measure.ts";
import { countedPurposes } from "#core/criteria/criterion.ts";
import { usualPurpose } from "#core/criteria/purposes.ts";
import type { Measure } from "#core/measures/measure.ts";
import { Invalid, notFound } from "../errors.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { amendEntry, type EntryContent, saveEntry, type SaveOutcome } from "./entries.ts";
import { findEntry } from "./entry-lists.ts";
import { type ActOf, recordEvent } from "./events.ts";
import { shortName } from "#core/model/student-names.ts";
import { localMoment } from "#core/dates/school-time.ts";
import { findGoal, inCircle } from "./students.ts";
import type { Tables } from "./tables.ts";

/** Which tally: one goal on one of the school's own days. */
export interface TallyKey {
  studentId: string;
  goalId: string;
  /** `YYYY-MM-DD` */
  on: string;
}

interface TallyRow extends Pick<Tables["tallies"], "measure_version" | "seen_from" | "seen_to" | "entry_id"> {
  entry_revision: number | null;
  /** Does what arrives now wait for the lead's yes? */
  late: boolean;
}

/** From when on an entry that a tally became changes by the lead's yes only: closed for good, or later than the school lets presses be. */
const isLate = `(t.entry_id is not null and (t.settled_at is not null or current_setting('app.today')::date > t.tally_on
  + (select s.late_press_days from schools s where s.school_id = t.school_id)))`;

/** What the statements about one tally are given. */
export const bindings = (
  { schoolId, actor, timeZone }: PersonScope,
  { studentId, goalId, on }: TallyKey,
) => ({
  schoolId,
  personId: actor.personId,
  timeZone,
  studentId,
  goalId,
  on,
});

/** The tally, held until the transaction ends; whoever comes first opens it. */
export async function holdTally(scope: PersonScope, key: TallyKey, at: Date): Promise<TallyRow> {
  requirePermission(scope, "entry.record");
  const { trx } = scope;
  const find = async (): Promise<TallyRow | undefined> =>
    (
      await trx.raw<{ rows: TallyRow[] }>(
        `select t.measure_version, t.seen_from, t.seen_to, t.entry_id, t.entry_revision, ${isLate} as late from tallies t
         where t.school_id = :schoolId and t.goal_id = :goalId and t.tally_on = :on and t.student_id = :studentId for update`,
        bindings(scope, key),
      )
    ).rows[0];
  const there = await find();
  if (there) return there;
  const goal = await findGoal(scope, key.studentId, key.goalId);
  if (goal.measure.kind !== "count")
    throw new Invalid({ form: "This goal is not a count any more: an all-day tally adds up a count." });
  const { rows } = await trx.raw<{ rows: unknown[] }>(
    `insert into tallies (school_id, goal_id, tally_on, student_id, measure_version, opened_by, opened_at)
     values (:schoolId, :goalId, :on, :studentId, :version, :personId, :at)
     on conflict do nothing returning goal_id`,
    { ...bindings(scope, key), version: goal.measureVersion, at: at.toISOString() },
  );
  if (rows.length > 0) await noteTally(scope, "opened", key);
  return (await find()) ?? notFound();
}

/** Opens an all-day tally of a goal that counts; opened twice it is one. */
export async function openTally(scope: PersonScope, key: TallyKey, at: Date): Promise<SaveOutcome> {
  await holdTally(scope, key, at);
  return "saved";
}

/**
 * Adds a press, with its time and its person. Sent twice it is one; one that arrives after the tally was closed corrects
 * the entry that the tally became, or waits for the lead's yes where it is too late for that.
 */
export async function pressTally(
  scope: PersonScope,
  key: TallyKey,
  press: { pressId: string; at: Date; deviceAt: string; observerId: string | null },
): Promise<SaveOutcome> {
  const tally = await holdTally(scope, key, press.at);
  const { rows } = await scope.trx.raw<{ rows: unknown[] }>(
    `insert into tally_presses (school_id, press_id, goal_id, tally_on, person_id, written_by, at, device_at, asks)
     values (:schoolId, :pressId, :goalId, :on, :watched, :writtenBy, :at, :deviceAt, :asks)
     on conflict do nothing returning press_id`,
    {
      ...bindings(scope, key),
      watched: press.observerId ?? scope.actor.personId,
      writtenBy: press.observerId === null ? null : scope.actor.personId,
      pressId: press.pressId,
      at: press.at.toISOString(),
      deviceAt: press.deviceAt,
      asks: tally.late ? "count it" : null,
    },
  );
  if (rows.length === 0) return "already";
  if (tally.late) return askLead(scope, key);
  await bringEntryUp(scope, key, tally, "A press of the all-day tally arrived after it was closed.");
  return "saved";
}

async function askLead(scope: PersonScope, key: TallyKey): Promise<SaveOutcome> {
  await noteTally(scope, "asked", key);
  return "saved";
}

/** Notes in the history of the tally what was done with it. */
export const noteTally = (scope: PersonScope, act: ActOf<"tally">, { studentId, goalId, on }: TallyKey) =>
  recordEvent(scope, { thing: "tally", act, thingId: goalId, studentId, on });

/** Takes back a press of one’s own; it stays in the tally's history. Too late for that, it waits for the lead's yes. */
export async function takeBackPress(
  scope: PersonScope,
  { studentId, goalId }: Omit<TallyKey, "on">,
  pressId: string,
): Promise<SaveOutcome> {
  const press = { school_id: scope.schoolId, press_id: pressId, goal_id: goalId };
  const found = await scope
    .trx<{ tally_on: string; person_id: string; written_by: string | null; asks: string | null }>(
      "tally_presses",
    )
    .where(press)
    .first();
  if (!found) throw new Invalid({ form: "The press that was taken back has not arrived." });
  if (![found.person_id, found.written_by].includes(scope.actor.personId))
    throw new Invalid({ form: "Another person made this press. Only that person can undo it." });
  const key = { studentId, goalId, on: found.tally_on };
  const tally = await holdTally(scope, key, scope.now);
  if (found.asks === "take it back") return "already";
  // A press that waits itself counts for nothing yet: it is taken back at once.
  const waits = tally.late && found.asks === null;
  const changed = await scope
    .trx("tally_presses")
    .where({ ...press, back: false })
    .update(waits ? { asks: "take it back" } : { back: true, asks: null });
  if (changed === 0) return "already";
  if (tally.late) return askLead(scope, key);
  await bringEntryUp(scope, key, tally, "A press of the all-day tally was taken back after it was closed.");
  return "saved";
}

/** What closing a tally says beside its presses. Times are the school's own, `YYYY-MM-DDTHH:MM`. */
export interface ClosedTally {
  entryId: string;
  seenFrom: string;
  seenTo: string;
  note: string | null;
  setting: string | null;
}

/** What a tally comes to, in the shape of its measure. */
function scoreTally(measure: Measure, presses: readonly Press[], seen: { from: Date; to: Date }) {
  const made = tallyEntry(
    standingPresses(presses).map(({ at }) => at),
    seen.from.getTime(),
    seen.to.getTime(),
  );
  const read = readEntry(measure, made.entry);
  if (!read.ok) throw new Invalid({ form: read.problems.map(({ message }) => message).join(" ") });
  return { from: new Date(made.from), entry: read.entry, score: read.score };
}

/** Closes a tally into an entry of its goal. The first to close it says how long was watched; later ones change nothing. */
export async function closeTally(
  scope: PersonScope,
  key: TallyKey,
  closing: ClosedTally,
  at: Date,
): Promise<SaveOutcome> {
  const tally = await holdTally(scope, key, at);
  if (tally.entry_id !== null) return "already";
  const { trx, timeZone, schoolId, actor } = scope;
  const { rows } = await trx.raw<{ rows: { from: Date; to: Date }[] }>(
    `select :seenFrom::timestamp at time zone :timeZone as from, :seenTo::timestamp at time zone :timeZone as to`,
    { seenFrom: closing.seenFrom, seenTo: closing.seenTo, timeZone },
  );
  const seen = rows[0] ?? notFound();
  if (seen.to <= seen.from) throw new Invalid({ form: "It was watched until a time after its beginning." });
  const presses = await listPresses(scope, key);
  const first = Math.min(seen.from.getTime(), ...standingPresses(presses).map((press) => press.at));
  const observedLocal = localMoment(timeZone, first);
  const outcome = await saveEntry(
    scope,
    ({ measure, setup }) => {
      const { entry, score } = scoreTally(measure, presses, seen);
      return {
        entryId: closing.entryId,
        goalId: key.goalId,
        studentId: key.studentId,
        observedLocal,
        entry,
        score,
        note: closing.note,
        setting: closing.setting,
        purpose: usualPurpose(countedPurposes(setup.criterion)),
      };
    },
    { ...key, measureVersion: tally.measure_version },
  );
  if (outcome === "conflict") return outcome;
  await trx("tallies").where({ school_id: schoolId, goal_id: key.goalId, tally_on: key.on }).update({
    closed_by: actor.personId,
    seen_from: seen.from,
    seen_to: seen.to,
    entry_id: closing.entryId,
    entry_revision: 1,
  });
  return "saved";
}

/** Makes the entry of a closed tally say what its presses say now, unless a person has changed it since. */
export async function bringEntryUp(
  scope: PersonScope,
  key: TallyKey,
  tally: TallyRow,
  reason: string,
): Promise<boolean> {
  const { entry_id, entry_revision, seen_from: from, seen_to: to } = tally;
  if (entry_id === null || entry_revision === null || !from || !to) return true;
  const stands = (await findEntry(scope, key.studentId, entry_id)) ?? notFound();
  const made = scoreTally(stands.measure, await listPresses(scope, key), { from, to });
  const content: EntryContent = {
    note: stands.note,
    setting: stands.setting,
    purpose: stands.purpose,
    circumstances: stands.circumstances,
    entry: made.entry,
    score: made.score,
    observedLocal: localMoment(scope.timeZone, made.from.getTime()),
  };
  const revision = await amendEntry(
    scope,
    { studentId: key.studentId, entryId: entry_id },
    entry_revision,
    content,
    reason,
  );
  if (revision === null) return false;
  await scope
    .trx("tallies")
    .where({ school_id: scope.schoolId, goal_id: key.goalId, tally_on: key.on })
    .update({ entry_revision: revision });
  return true;
}

interface PressRow extends Pick<
  Tables["tally_presses"],
  "goal_id" | "tally_on" | "press_id" | "at" | "back"
> {
  given_name: string;
  family_name: string;
  writer_given: string | null;
  writer_family: string | null;
}

const toPress = (row: PressRow): Press => ({
  pressId: row.press_id,
  at: row.at.getTime(),
  by: observerWords(
    shortName(row.given_name, row.family_name),
    row.writer_given === null ? null : shortName(row.writer_given, row.writer_family ?? ""),
  ),
  back: row.back,
});

type PressesOf = Omit<TallyKey, "studentId">;
const placeOf = ({ goalId, on }: PressesOf) => `${goalId} ${on}`;

/** The presses of each of these tallies in their order, those taken back too. */
async function listPressesOf(
  { trx, schoolId }: Scope,
  keys: readonly PressesOf[],
): Promise<(key: PressesOf) => Press[]> {
  const { rows } = await trx.raw<{ rows: PressRow[] }>(
    `select t.goal_id, t.tally_on, t.press_id, t.at, t.back, p.given_name, p.family_name,
       w.given_name as writer_given, w.family_name as writer_family
     from unnest(:goalIds::uuid[], :days::date[]) as k (goal_id, tally_on)
     join tally_presses t on t.school_id = :schoolId and t.goal_id = k.goal_id and t.tally_on = k.tally_on
       and t.asks is distinct from 'count it'
     join people p on p.school_id = t.school_id and p.person_id = t.person_id
     left join people w on w.school_id = t.school_id and w.person_id = t.written_by
     order by t.at, t.press_id`,
    { schoolId, goalIds: keys.map(({ goalId }) => goalId), days: keys.map(({ on }) => on) },
  );
  const presses = groupBy(rows, ({ goal_id, tally_on }) => placeOf({ goalId: goal_id, on: tally_on }));
  return (key) => (presses.get(placeOf(key)) ?? []).map(toPress);
}

/** The presses of one tally in their order, those taken back too. */
export const listPresses = async (scope: Scope, key: PressesOf): Promise<Press[]> =>
  (await listPressesOf(scope, [key]))(key);

/** The presses behind an entry; null where it came from no tally. */
export async function pressesOfEntry(scope: PersonScope, entryId: string): Promise<Press[] | null> {
  const { rows } = await scope.trx.raw<{ rows: { goal_id: string; tally_on: string }[] }>(
    "select goal_id, tally_on from tallies where school_id = ? and entry_id = ?",
    [scope.schoolId, entryId],
  );
  const row = rows[0];
  return row ? listPresses(scope, { goalId: row.goal_id, on: row.tally_on }) : null;
}

/** Every tally of the person's students that is not closed, whichever day it is of; the oldest first. */
export async function listOpenTallies(scope: PersonScope): Promise<OpenTally[]> {
  const { trx, schoolId, actor } = scope;
  const { rows } = await trx.raw<{
    rows: { student_id: string; goal_id: string; tally_on: string; opened_at: Date }[];
  }>(
    `select t.student_id, t.goal_id, t.tally_on, t.opened_at from tallies t
     join students st on st.school_id = t.school_id and st.student_id = t.student_id
     where t.school_id = :schoolId and t.entry_id is null and st.left_on is null and ${inCircle}
     order by t.tally_on, t.opened_at, t.goal_id`,
    { schoolId, personId: actor.personId },
  );
  const open = rows.map((row) => ({
    ...{ goalId: row.goal_id, on: row.tally_on, studentId: row.student_id },
    openedAt: row.opened_at.getTime(),
  }));
  const pressesOf = await listPressesOf(scope, open);
  return open.map((tally) => ({ ...tally, presses: pressesOf(tally) }));
}
