import type { Sheet, Sitting } from "#core/sync/kept.ts";
import { v7 as newId } from "uuid";
import { usualPurpose } from "#core/criteria/purposes.ts";
import { type Mark, standingMarks } from "#core/marks/mark.ts";
import { readSheet, type SheetReading } from "#core/sitting/read-sheet.ts";
import type { PackedGoal } from "#core/sync/pack.ts";
import type { Queued } from "#core/sync/queued.ts";

export function newSheet(sittingId: string, studentId: string, goal: PackedGoal): Sheet {
  return {
    sittingId,
    entryId: newId(),
    studentId,
    goal,
    marks: [],
    state: null,
    note: "",
    support: "",
    purpose: usualPurpose(goal.purposes),
    chainEnded: false,
  };
}

const typedOn = new Set(["last", "seconds", "amount", "observed", "instead", "rater"]);

/** The sheet with one more mark. What is typed is one mark, however many letters it has. */
export function withMark(sheet: Sheet, mark: Mark): Sheet {
  const last = sheet.marks.at(-1);
  const goesOn = last !== undefined && typedOn.has(mark.on) && last.on === mark.on;
  return {
    ...sheet,
    state: sheet.state === "interrupted" ? "interrupted" : null,
    marks: [...(goesOn ? sheet.marks.slice(0, -1) : sheet.marks), mark],
  };
}

/** The sheet without its last mark; a state that was set without marks goes first. */
export function undone(sheet: Sheet): Sheet {
  if (sheet.state !== null) return { ...sheet, state: null };
  return { ...sheet, marks: sheet.marks.slice(0, -1) };
}

export function readingOf(sheet: Sheet, now: number): SheetReading {
  return readSheet(sheet.goal.measure, sheet.marks, now, sheet.chainEnded);
}

/** Is there anything on it that would be lost? */
export function isTouched({ marks, state, note }: Sheet): boolean {
  return marks.length > 0 || state !== null || note.trim() !== "";
}

/** What stands at one thing of a panel. */
export const valueAt = (sheet: Sheet, on: string): string => standingMarks(sheet.marks).get(on) ?? "";

/**
 * What goes to the server from a sheet; null where nothing was measured and nothing is to be said.
 *
 * @param now milliseconds since 1970: clocks that still run stop here
 */
export function queuedFrom(sheet: Sheet, sitting: Sitting, now: number, clockAhead: number): Queued | null {
  const reading = readingOf(sheet, now);
  const common = {
    format: 1 as const,
    id: sheet.entryId,
    sittingId: sheet.sittingId,
    startedAt: new Date(sitting.startedAt).toISOString(),
    studentId: sheet.studentId,
    goalId: sheet.goal.goalId,
    observedAt: new Date(sheet.marks[0]?.at ?? now).toISOString(),
    clockAhead,
    note: sheet.note.trim() || null,
    ...(sheet.noteForTeam && sheet.note.trim() ? { noteForTeam: true } : {}),
    ...(sheet.observer
      ? { observer: { personId: sheet.observer.personId, handoverId: sheet.observer.handoverId } }
      : {}),
  };
  const { second } = sitting;
  if (second && sheet.state !== null && sheet.state !== "interrupted") return null;
  if (sheet.state === "absent") return { ...common, kind: "absent" };
  if (sheet.state === "refused") return { ...common, kind: "not measured", reason: "refused" };
  if (reading.state === "ready" || reading.state === "not finished")
    return {
      ...common,
      ...(second ? { kind: "second", withSittingId: second.withSittingId } : { kind: "entry" }),
      measureVersion: sheet.goal.measureVersion,
      purpose: sheet.purpose,
      setting: sitting.setting || null,
      support: sheet.support || null,
      interrupted: sheet.state === "interrupted",
      entry: reading.entry,
    };
  return sheet.state === "interrupted" && !second
    ? { ...common, kind: "not measured", reason: "interrupted" }
    : null;
}
