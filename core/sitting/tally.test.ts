import { describe, expect, it } from "vitest";
import { mergePresses, type Press, standingPresses, tallyEntry } from "./tally.ts";

const press = (pressId: string, at: number, back = false): Press => ({ pressId, at, by: "N. H.", back });

describe("presses known to two devices", () => {
  const here = [press("a", 1000), press("c", 3000)];
  const there = [press("b", 2000), press("c", 3000, true)];

  it("are each there once, in the order of their time, whichever device is asked first", () => {
    const merged = mergePresses(here, there);
    expect(merged).toEqual([press("a", 1000), press("b", 2000), press("c", 3000, true)]);
    expect(mergePresses(there, here)).toEqual(merged);
    expect(mergePresses(merged, mergePresses(merged, here))).toEqual(merged);
    expect(mergePresses([press("z", 5), press("y", 5)], [])).toEqual([press("y", 5), press("z", 5)]);
  });

  it("count unless they were taken back", () => {
    expect(standingPresses(mergePresses(here, there)).map(({ pressId }) => pressId)).toEqual(["a", "b"]);
  });
});

describe("the entry of a tally", () => {
  it("says how many, when in the time watched, and how long that was", () => {
    expect(tallyEntry([65_000, 5000], 0, 600_000)).toEqual({
      entry: { kind: "count", count: 2, observedSeconds: 600, atSeconds: [5, 65] },
      from: 0,
      to: 600_000,
    });
    expect(tallyEntry([], 0, 600_000).entry).toMatchObject({ count: 0, observedSeconds: 600, atSeconds: [] });
  });

  it("was watched whenever somebody pressed", () => {
    expect(tallyEntry([-60_000, 700_000], 0, 600_000)).toEqual({
      entry: { kind: "count", count: 2, observedSeconds: 760, atSeconds: [0, 760] },
      from: -60_000,
      to: 700_000,
    });
  });
});
