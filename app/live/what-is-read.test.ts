import { describe, expect, it } from "vitest";
import {
  concerns,
  followsStudents,
  isReadForChange,
  readShown,
  shownBy,
  waitToRead,
} from "./what-is-read.ts";

const page = (params: Record<string, string>, handle?: unknown) => [{ params: {} }, { params, handle }];

describe("of whom a page shows what is recorded", () => {
  it("is one student where its address names one, several where it says so, else nobody", () => {
    expect(shownBy(page({ studentId: "a", goalId: "g" }), "")).toEqual({ student: "a" });
    expect(shownBy(page({}), "?student=a")).toEqual({ student: "a" });
    expect(shownBy(page({}, followsStudents), "")).toBe("several");
    expect(shownBy(page({}), "")).toBeNull();
  });

  it("decides which changes concern it", () => {
    expect(concerns({ student: "a" }, ["b", "a"])).toBe(true);
    expect(concerns({ student: "a" }, ["b"])).toBe(false);
    expect(concerns("several", ["b"])).toBe(true);
    expect(concerns("several", [])).toBe(false);
    expect(concerns(null, ["a"])).toBe(false);
  });
});

describe("when a page reads again", () => {
  it("is at most once a second for one student, once in five for several, and not for all in one moment", () => {
    expect(waitToRead({ student: "a" }, 0, 0)).toBe(1000);
    expect(waitToRead({ student: "a" }, 60_000, 0)).toBe(0);
    expect(waitToRead("several", 2000, 0)).toBe(3000);
    const waits = [0, 0.5, 1].map((random) => waitToRead("several", 60_000, random));
    expect(new Set(waits).size).toBe(3);
    expect(Math.max(...waits)).toBeLessThanOrEqual(2500);
  });

  it("leaves out what stands around the page, except where somebody saves or goes elsewhere meanwhile", async () => {
    const here = new URL("http://localhost/caseload");
    const change = (more: object) =>
      isReadForChange({ currentUrl: here, nextUrl: here, ...more } as Parameters<typeof isReadForChange>[0]);
    expect(change({})).toBe(false);
    let asked: boolean[] = [];
    await readShown(() => {
      asked = [change({}), change({ formMethod: "POST" }), change({ nextUrl: new URL("/today", here) })];
      return Promise.resolve();
    });
    expect(asked).toEqual([true, false, false]);
    expect(change({})).toBe(false);
  });
});
