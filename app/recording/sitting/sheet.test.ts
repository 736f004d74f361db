import { describe, expect, it } from "vitest";
import type { PackedGoal } from "#core/sync/pack.ts";
import { queuedSchema } from "#core/sync/queued.ts";
import { isTouched, newSheet, queuedFrom, undone, withMark } from "./sheet.ts";
import type { Sheet, Sitting } from "#core/sync/kept.ts";

const [sittingId, studentId, goalId, personId] = [1, 2, 3, 4].map(
  (n) => `01a08376-dc00-7000-8000-00000000000${n}`,
) as [string, string, string, string];
const goal: PackedGoal = {
  goalId,
  number: "2b",
  title: "Two-digit subtraction",
  wording: "",
  strategy: "",
  criterion: null,
  measure: { kind: "trials" },
  measureVersion: 3,
  planned: 10,
  purposes: ["probe"],
  dueOn: [],
};
const sitting: Sitting = { sittingId, startedAt: 1000, students: [], setting: "hall" };
const begun = Date.parse("2026-11-20T15:00:00Z");
const marked = (values: string, change: Partial<Sheet> = {}): Sheet => ({
  ...[...values].reduce(
    (sheet, value, index) => withMark(sheet, { at: begun + index * 1000, on: "trial", value }),
    newSheet(sittingId, studentId, goal),
  ),
  ...change,
});
const queued = (sheet: Sheet, more: Partial<Sitting> = {}) =>
  queuedFrom(sheet, { ...sitting, ...more }, begun + 60_000, 250);

describe("a sheet", () => {
  it("goes to the server as what it was, in a form that the server reads", () => {
    const item = queued(marked("101", { note: " with the tray ", support: "gestural" }));
    expect(item).toMatchObject({
      kind: "entry",
      observedAt: "2026-11-20T15:00:00.000Z",
      clockAhead: 250,
      measureVersion: 3,
      setting: "hall",
      note: "with the tray",
      entry: { correct: 2, attempted: 3, sequence: "101" },
    });
    expect(item).not.toHaveProperty("observer");
    expect(queuedSchema.parse(item)).toEqual(item);
  });

  it("says that its note is for the team only, where there is a note", () => {
    const item = queued(marked("101", { note: "Cried at home too.", noteForTeam: true }));
    expect(item).toMatchObject({ noteForTeam: true });
    expect(queuedSchema.parse(item)).toEqual(item);
    expect(queued(marked("101", { note: " ", noteForTeam: true }))).not.toHaveProperty("noteForTeam");
    const refused = queued(marked("", { state: "refused", note: "No reason.", noteForTeam: true }));
    expect(refused).toMatchObject({ kind: "not measured", noteForTeam: true });
  });

  it("names who observed, where that was not the signed-in person", () => {
    const observer = { personId, name: "T. Brandvold", handoverId: null };
    const item = queued(marked("1", { observer }));
    expect(item).toMatchObject({ observer: { personId, handoverId: null } });
    expect(queuedSchema.parse(item)).toEqual(item);
    expect(queued(marked("1", { observer: null }))).not.toHaveProperty("observer");
  });

  it("beside another observer is compared and never says that somebody was absent or refused", () => {
    const second = { withSittingId: sittingId, name: "N. Halloran" };
    const item = queued(marked("10"), { second });
    expect(item).toMatchObject({ kind: "second", withSittingId: sittingId, entry: { sequence: "10" } });
    expect(queuedSchema.parse(item)).toEqual(item);
    for (const state of ["absent", "refused"] as const)
      expect(queued(marked("", { state }), { second })).toBeNull();
    expect(queued(marked("", { state: "interrupted" }), { second })).toBeNull();
    expect(queued(marked("1", { state: "interrupted" }), { second })).toMatchObject({ kind: "second" });
  });

  it("that says nothing is not sent; one that says why is", () => {
    expect(queued(marked(""))).toBeNull();
    expect(queued(marked("", { state: "refused" }))).toMatchObject({
      kind: "not measured",
      reason: "refused",
    });
    expect(queued(marked("", { state: "absent" }))).toMatchObject({ kind: "absent" });
    expect(queued(marked("1", { state: "interrupted" }))).toMatchObject({ kind: "entry", interrupted: true });
  });

  it("is undone mark by mark, its state first; what is typed is one mark", () => {
    const refused = marked("10", { state: "refused" });
    expect(undone(refused)).toMatchObject({ state: null, marks: { length: 2 } });
    expect(undone(undone(undone(refused))).marks).toEqual([]);
    expect(isTouched(undone(undone(undone(refused))))).toBe(false);
    const typed = ["4", "42"].reduce(
      (sheet, value) => withMark(sheet, { at: 1, on: "amount", value }),
      marked(""),
    );
    expect(typed.marks).toEqual([{ at: 1, on: "amount", value: "42" }]);
  });
});
