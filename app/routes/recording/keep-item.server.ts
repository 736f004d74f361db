import { authorizeColleague } from "#server/access/authorize.ts";
import { Invalid } from "#server/errors.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { saveEntry, type SaveOutcome } from "#server/db/entries.ts";
import { findColleague, findObserver, isHandedOver } from "#server/db/handovers.ts";
import { saveNotMeasured } from "#server/db/not-measured.ts";
import { shortName } from "#core/model/student-names.ts";
import { localMoment } from "#core/dates/school-time.ts";
import { saveSecondObservation } from "#server/db/second-observations.ts";
import { isWritten } from "#core/model/jot-rules.ts";
import { type MadePicture, makePicture } from "#server/attachments/make-picture.ts";
import { pictureFolder, writePictureFile } from "#server/attachments/picture-folder.ts";
import { saveJot } from "#server/db/jots.ts";
import { addPicture } from "#server/db/pictures.ts";
import { type IncidentTime, saveIncident, tellApart } from "#server/db/incidents.ts";
import { takeBack } from "#server/db/take-back.ts";
import { keepSitting } from "#server/db/sittings.ts";
import { markAbsence } from "#server/db/students.ts";
import { markWatched } from "#server/db/watched-days.ts";
import { closeTally, openTally, pressTally, takeBackPress } from "#server/db/tallies.ts";
import { type Measure, readEntry } from "#core/measures/measure.ts";
import type { KeepAnswer } from "#core/sync/keep-answer.ts";
import type { Queued } from "#core/sync/queued.ts";
import { rightTime } from "#app/recording/right-time.ts";

/** Clocks that agree are never further apart than this. */
const apart = 120_000;
/** A refusal, in words for who recorded it. */
export const notTaken = (why: string): KeepAnswer => ({ outcome: "refused", why });

type Observed = Extract<Queued, { kind: "entry" | "second" }>;

/** What was observed, read by the measure it was recorded for. */
function readObserved(measure: Measure, item: Observed) {
  const read = readEntry(measure, item.entry);
  if (!read.ok) throw new Invalid({ form: read.problems.map(({ message }) => message).join(" ") });
  const { id, goalId, studentId, purpose, observedAt, clockAhead } = item;
  return {
    ...{ entryId: id, goalId, studentId, purpose, clockAhead },
    deviceAt: observedAt,
    note: item.note?.trim() || null,
    setting: item.setting?.trim() || null,
    entry: read.entry,
    score: read.score,
  };
}

function keepTallied(
  scope: PersonScope,
  item: Extract<Queued, { kind: `tally ${string}` }>,
  { at, today, observerId }: { at: Date; today: string; observerId: string | null },
): Promise<SaveOutcome> {
  const { studentId, goalId, id } = item;
  const key = { studentId, goalId, on: item.kind === "tally close" ? item.on : today };
  switch (item.kind) {
    case "tally open":
      return openTally(scope, key, at);
    case "tally press":
      return pressTally(scope, key, { pressId: id, at, deviceAt: item.observedAt, observerId });
    case "tally back":
      return takeBackPress(scope, key, item.pressId);
    case "tally close":
      return closeTally(scope, key, { ...item, entryId: id, note: item.note?.trim() || null }, at);
  }
}

type OfStudent = Extract<Queued, { kind: "incident" | "same incident" | "jot" | "watched" }>;

type Told = Pick<Extract<Queued, { kind: "incident" }>, "began">;

/** When it was, in the school's own time: the moment at which it was observed, or what its person says. */
function timeOf(scope: PersonScope, { began }: Told, local: string): IncidentTime {
  if (began.as === "moment") return { local };
  if (began.as !== "time") return { period: null, ...began };
  if (began.local > localMoment(scope.timeZone, scope.now.getTime() + apart))
    throw new Invalid({ form: "It cannot have begun after now: correct the time." });
  return began;
}

/** What is of a student and of no goal of theirs. */
async function keepOfStudent(
  scope: PersonScope,
  item: OfStudent,
  { local, observerId }: { local: string; observerId: string | null },
): Promise<SaveOutcome> {
  const { studentId } = item;
  switch (item.kind) {
    case "incident": {
      const { id, chosen, details, ongoing, observedAt, clockAhead } = item;
      return saveIncident(scope, studentId, {
        ...{ incidentId: id, chosen, details, ongoing, observerId, clockAhead },
        deviceAt: observedAt,
        time: timeOf(scope, item, local),
        note: item.note?.trim() || null,
      });
    }
    case "jot": {
      const { id, categoryId, details, own, teamOnly, observedAt, clockAhead } = item;
      const words = item.note?.trim() || null;
      if (!isWritten(words, details))
        throw new Invalid({ form: "A jot needs words, a level, a picture or a link." });
      return saveJot(scope, studentId, {
        ...{ jotId: id, categoryId, details, own, teamOnly, observerId, clockAhead, note: words },
        ...{ deviceAt: observedAt, time: timeOf(scope, item, local) },
      });
    }
    case "same incident":
      return tellApart(scope, { studentId, incidentId: item.incidentId, otherId: item.otherId }, item.same);
    case "watched":
      if (item.state === "absent" && item.period === "") await markAbsence(scope, studentId, item.on, true);
      else
        await markWatched(scope, studentId, {
          ...{ on: item.on, period: item.period },
          // Whoever was not there for a period was not observed in it; the day is theirs all the same.
          state: item.state === "absent" ? "not observed" : item.state,
        });
      return "saved";
  }
}

/** An item whose picture, where it is one, has been made ready outside of any transaction. */
export type Ready =
  Exclude<Queued, { kind: "picture" }> | (Extract<Queued, { kind: "picture" }> & { made: MadePicture });

/** An item with its picture, where it is one, made ready: outside of any transaction. */
export async function madeReady(item: Queued, schoolId: string): Promise<Ready> {
  if (item.kind !== "picture") return item;
  const made = await makePicture(Buffer.from(item.data, "base64"));
  const folder = pictureFolder();
  if (folder !== null) await writePictureFile(folder, schoolId, made);
  return { ...item, made };
}

/** Saves an item under the actor of a scope. */
export async function keepReady(
  scope: PersonScope,
  item: Ready,
  at: Date,
  observerId: string | null,
): Promise<KeepAnswer> {
  const { studentId } = item;
  const observedLocal = localMoment(scope.timeZone, at.getTime());
  const today = observedLocal.slice(0, 10);
  const already = "What has this number is there already and says something else.";
  const said = (outcome: SaveOutcome): KeepAnswer =>
    outcome === "conflict" ? notTaken(already) : { outcome };
  switch (item.kind) {
    case "take back": {
      const outcome = await takeBack(scope, studentId, item, today);
      return outcome === "conflict"
        ? notTaken("It was corrected in the meantime, so it stays. Remove it on its own page.")
        : { outcome };
    }
    case "incident":
    case "same incident":
    case "jot":
    case "watched":
      return said(await keepOfStudent(scope, item, { local: observedLocal, observerId }));
    case "tally open":
    case "tally press":
    case "tally back":
    case "tally close":
      return said(await keepTallied(scope, item, { at, today, observerId }));
    case "picture": {
      const ids = { studentId, jotId: item.jotId, pictureId: item.id };
      return said(await addPicture(scope, ids, item.made, { inFolder: pictureFolder() !== null }));
    }
    case "absent":
      await markAbsence(scope, studentId, today, true);
      return { outcome: "saved" };
    case "second": {
      const { goalId, measureVersion, withSittingId } = item;
      return said(
        await saveSecondObservation(scope, { goalId, studentId, measureVersion }, (measure) => ({
          ...readObserved(measure, item),
          observedLocal,
          observerId,
          withSittingId,
        })),
      );
    }
    case "not measured":
      await keepSitting(scope, item);
      return said(
        await saveNotMeasured(scope, {
          noteId: item.id,
          goalId: item.goalId,
          studentId,
          sittingId: item.sittingId,
          observedLocal,
          reason: item.reason,
          note: item.note?.trim() || null,
          noteForTeam: item.noteForTeam ?? false,
        }),
      );
    case "entry": {
      await keepSitting(scope, item);
      const { goalId, measureVersion, sittingId, support, interrupted } = item;
      return said(
        await saveEntry(
          scope,
          ({ measure }) => ({
            ...readObserved(measure, item),
            observedLocal,
            sittingId,
            observerId,
            circumstances: {
              ...(support ? { support } : {}),
              ...(interrupted ? { interrupted: true } : {}),
              ...(item.noteForTeam ? { noteForTeam: true } : {}),
            },
          }),
          { goalId, studentId, measureVersion },
        ),
      );
    }
  }
}

/** When an item was observed, by the server's clock. */
export const observedAtOf = (item: Pick<Queued, "observedAt" | "clockAhead">): Date =>
  new Date(rightTime(Date.parse(item.observedAt), item.clockAhead));

/**
 * What a device's clock cannot be right about, in words: a time to come, or one before the server gave the pack with which it was
 * recorded. Null where nothing is wrong.
 */
function wrongClock({ keptAt, packAt, clockAhead, timeSaid, ...item }: Queued, at: number, now: number) {
  const says = "began" in item && item.began.as === "time" ? null : at;
  if (says !== null && says > now + apart)
    return "By the clock of this device this lies in the future. Say when it was: the clock may stay as it is.";
  if (timeSaid || keptAt === undefined || packAt === undefined) return null;
  return rightTime(Date.parse(keptAt), clockAhead) < Date.parse(packAt) - apart
    ? "The clock of this device was set back before this was saved, so its day is not known. Say when it was."
    : null;
}

/** Keeps an item as its observer's own where they took the device over by their PIN; else as told by the signed-in person. */
export async function keepAsObserved(scope: PersonScope, item: Ready): Promise<KeepAnswer> {
  const at = observedAtOf(item);
  const wrong = wrongClock(item, at.getTime(), scope.now.getTime());
  if (wrong !== null) return { outcome: "refused", why: wrong, asks: "when" };
  const { observer, studentId } = item;
  if (observer === undefined || observer.personId === scope.actor.personId)
    return keepReady(scope, item, at, null);
  if (observer.handoverId === null)
    return keepReady(scope, item, at, (await findObserver(scope, observer.personId)).personId);
  const colleague = await findColleague(scope, observer.personId);
  if (!(await isHandedOver(scope, { handoverId: observer.handoverId, personId: observer.personId, at })))
    return notTaken(
      "The PIN given for this was too long ago, or has changed since. Record it again under your own name.",
    );
  const theirs = await authorizeColleague(scope, colleague, "entry.record", studentId);
  if (theirs === null)
    return notTaken(
      `${shortName(colleague.givenName, colleague.familyName)} may not record for this student. Record it again under your own name, or ask the case manager.`,
    );
  return keepReady(theirs, item, at, null);
}
