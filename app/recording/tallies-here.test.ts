import { describe, expect, it } from "vitest";
import type { OpenTally } from "#core/sync/kept.ts";
import { type TallyItem, withAnswer, withItem, withKept } from "./tallies-here.ts";

const day = "2026-11-16";
const common = { format: 1 as const, studentId: "s", goalId: "g", observedAt: "", clockAhead: 0 };
const item = (kind: "tally open" | "tally press", id: string): TallyItem => ({ ...common, kind, id });
const back = (pressId: string): TallyItem => ({
  ...common,
  kind: "tally back",
  id: `not ${pressId}`,
  pressId,
});
const close: TallyItem = {
  ...common,
  kind: "tally close",
  id: "c",
  on: day,
  seenFrom: `${day}T08:00`,
  seenTo: `${day}T15:00`,
  setting: null,
  note: null,
};
const recorded = (tallies: readonly OpenTally[], ...items: [TallyItem, number][]) =>
  items.reduce<readonly OpenTally[]>(
    (before, [one, at]) => withItem(before, one, { on: day, at, by: "N. Halloran" }),
    tallies,
  );
const tally = (presses: [id: string, at: number][], change: Partial<OpenTally> = {}): OpenTally => ({
  studentId: "s",
  goalId: "g",
  on: day,
  openedAt: 0,
  presses: presses.map(([pressId, at]) => ({ pressId, at, by: "N. Halloran", back: false })),
  ...change,
});

describe("what is recorded here", () => {
  it("opens a tally once, adds presses in order, takes them back and closes it", () => {
    const open = recorded([], [item("tally open", "o"), 5], [item("tally open", "again"), 9]);
    expect(open).toEqual([tally([], { openedAt: 5 })]);
    const pressed = recorded(open, [item("tally press", "b"), 20], [item("tally press", "a"), 10]);
    expect(pressed[0]?.presses.map(({ pressId }) => pressId)).toEqual(["a", "b"]);
    expect(recorded(pressed, [back("a"), 30])[0]?.presses.map((one) => one.back)).toEqual([true, false]);
    expect(recorded(pressed, [close, 40])).toEqual([]);
  });

  it("opens a tally with its first press where nobody opened it, and leaves other days and goals alone", () => {
    const others = [tally([["x", 1]], { on: "2026-11-13" }), tally([["y", 1]], { goalId: "other" })];
    const pressed = recorded(others, [item("tally press", "a"), 10]);
    expect(pressed).toEqual([...others, tally([["a", 10]], { openedAt: 10 })]);
    expect(recorded(pressed, [close, 20])).toEqual(others);
  });
});

describe("what the server says", () => {
  it("is put together with what was pressed here, and nothing is counted twice", () => {
    const here = [
      tally([
        ["a", 10],
        ["b", 20],
      ]),
    ];
    const said = [
      tally([
        ["a", 10],
        ["c", 15],
      ]),
    ];
    const both = withAnswer(here, said, []);
    expect(both[0]?.presses.map(({ pressId }) => pressId)).toEqual(["a", "c", "b"]);
    expect(withAnswer(both, said, [])).toEqual(both);
  });

  it("ends a tally that was closed elsewhere, but none that it has not heard of yet", () => {
    const here = [tally([["a", 10]])];
    expect(withAnswer(here, [], [])).toEqual([]);
    expect(withAnswer(here, [], [item("tally press", "a")])).toEqual(here);
    expect(withAnswer([tally([])], [], [item("tally open", "o")])).toHaveLength(1);
  });

  it("does not open again what was closed here and is not sent yet", () => {
    expect(withAnswer([], [tally([["a", 10]])], [close])).toEqual([]);
    expect(withAnswer([], [tally([], { on: "2026-11-13" })], [close])).toHaveLength(1);
  });
});

describe("what is read from the disk", () => {
  it("loses no press that was made while it was read, and brings back what was not known yet", () => {
    const here = [tally([["b", 20]]), tally([], { goalId: "new" })];
    const kept = [tally([["a", 10]]), tally([["x", 1]], { goalId: "kept" })];
    const both = withKept(here, kept);
    expect(both.map(({ goalId }) => goalId)).toEqual(["g", "kept", "new"]);
    expect(both[0]?.presses.map(({ pressId }) => pressId)).toEqual(["a", "b"]);
    expect(withKept([], kept)).toEqual(kept);
  });
});
