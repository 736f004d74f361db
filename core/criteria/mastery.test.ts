import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { type Criterion, meets, meetsAll, readWindow } from "./criterion.ts";
import type { Direction } from "../measures/direction-schema.ts";
import { criterionWords } from "./criterion-words.ts";
import { mastery } from "./mastery.ts";

const days = (...values: number[]) =>
  values.map((value, index) => ({ date: `2026-10-${String(index + 1).padStart(2, "0")}`, value }));
const judged = (occasions: { date: string; value: number }[], threshold: number, direction: Direction) =>
  occasions.map(({ date, value }) => ({ date, meets: meets(value, threshold, direction) }));

describe("the precision of a criterion", () => {
  it("is that in which it is written, halves away from zero", () => {
    expect(meets(200 / 3, 67, "increase")).toBe(true);
    expect(meets((100 * 18) / 19, 95, "increase")).toBe(true);
    expect(meets(94.4, 95, "increase")).toBe(false);
    expect([meets(66.5, 67, "increase"), meets(66.49, 67, "increase")]).toEqual([true, false]);
    expect([meets(10.4, 10, "decrease"), meets(10.5, 10, "decrease")]).toEqual([true, false]);
    expect([meets(4.45, 4.5, "increase"), meets(4.44, 4.5, "increase")]).toEqual([true, false]);
    expect(meets(1.005, 1.01, "increase")).toBe(true);
    // "80.0" in a file is one decimal.
    expect([meets(79.6, 80, "increase"), meets(79.6, 80, "increase", 1)]).toEqual([true, false]);
  });
});

describe("mastery", () => {
  it("is reached on the first date on which k of the last n meet the criterion", () => {
    expect(mastery(judged(days(80, 70, 90, 80, 10), 80, "increase"), { k: 3, n: 4 })).toEqual({
      met: true,
      on: "2026-10-04",
      inWindow: 2,
      of: 4,
      needed: 3,
    });
  });

  it("is reached as soon as k meet it, before n occasions have passed", () => {
    expect(mastery(judged(days(80, 80), 80, "increase"), { k: 2, n: 3 })).toMatchObject({
      met: true,
      on: "2026-10-02",
    });
  });

  it("asks for an unbroken row where the window is consecutive", () => {
    expect(mastery(judged(days(90, 90, 10, 90, 90), 80, "increase"), { k: 3, n: 3 })).toMatchObject({
      met: false,
      inWindow: 2,
    });
  });

  it("tells reached and lost again apart", () => {
    expect(mastery(judged(days(90, 90, 90, 0, 0, 0), 80, "increase"), { k: 3, n: 3 })).toEqual({
      met: true,
      on: "2026-10-03",
      inWindow: 0,
      of: 3,
      needed: 3,
    });
  });

  it("turns round where less is better", () => {
    expect(mastery(judged(days(30, 20, 20), 20, "decrease"), { k: 2, n: 2 })).toMatchObject({
      met: true,
      on: "2026-10-03",
    });
  });

  it("agrees with counting the window afresh at every date", () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 100 }), { maxLength: 40 }),
        fc.integer({ min: 1, max: 6 }),
        fc.integer({ min: 0, max: 4 }),
        (values, k, more) => {
          const occasions = values.map((value, index) => ({ date: String(index), value }));
          const n = k + more;
          const inWindowAt = (end: number) =>
            values.slice(Math.max(0, end - n), end).filter((value) => value >= 50).length;
          const first = values.findIndex((_, index) => inWindowAt(index + 1) >= k);
          const found = mastery(judged(occasions, 50, "increase"), { k, n });
          expect(found.on).toBe(first === -1 ? null : String(first));
          expect(found.inWindow).toBe(inWindowAt(values.length));
        },
      ),
    );
  });
});

describe("readWindow", () => {
  it.each([
    ["2 of 3", { k: 2, n: 3 }],
    ["3 consecutive", { k: 3, n: 3 }],
    ["1", { k: 1, n: 1 }],
  ])("reads %o", (text, window) => expect(readWindow(text)).toEqual(window));
  it.each(["", "4 of 3", "0", "two of three", "2 of", "1.5"])("does not guess at %o", (text) =>
    expect(readWindow(text)).toBeNull(),
  );
});

describe("criterionWords", () => {
  const criterion: Criterion = {
    value: 80,
    direction: "increase",
    window: { k: 3, n: 4 },
    windowUnit: "session",
    purposes: ["probe"],
  };
  it.each([
    [criterion, "80% in 3 of 4 sessions"],
    [{ ...criterion, window: { k: 3, n: 3 }, windowUnit: "day" as const }, "80% on three days in a row"],
    [
      { ...criterion, direction: "decrease" as const, window: { k: 1, n: 1 }, minimumOpportunities: 10 },
      "at most 80% in one session, at least 10 opportunities each",
    ],
  ])("%#", (given, words) => expect(criterionWords(given, { kind: "trials" })).toBe(words));

  it("speaks in the unit of the measure, with all that is joined", () => {
    const joined: Criterion = {
      ...criterion,
      value: 90,
      window: { k: 3, n: 3 },
      joined: [{ figure: "accuracy", value: 95, direction: "increase" }],
      settings: 2,
    };
    expect(criterionWords(joined, { kind: "fluency" }).replaceAll("\u00a0", " ")).toBe(
      "at least 90 a minute and 95% accuracy in three sessions in a row, in two settings",
    );
    const none: Criterion = { ...criterion, value: 0, direction: "decrease", windowUnit: "day" };
    expect(criterionWords(none, { kind: "count", per: "observation" }).replaceAll("\u00a0", " ")).toBe(
      "no more than 0 times on 3 of 4 days",
    );
  });
});

describe("a joined criterion", () => {
  const both = {
    value: 90,
    direction: "increase" as const,
    joined: [{ figure: "accuracy", value: 95, direction: "increase" as const }],
  };
  it("is met when both figures meet it, and not while one of them is missing", () => {
    expect(meetsAll({ value: 92, side: { accuracy: 96 } }, both)).toBe(true);
    expect(meetsAll({ value: 92, side: { accuracy: 94 } }, both)).toBe(false);
    expect(meetsAll({ value: 80, side: { accuracy: 99 } }, both)).toBe(false);
    expect(meetsAll({ value: 92, side: { accuracy: null } }, both)).toBe(false);
    expect(meetsAll({ value: 92 }, both)).toBe(false);
  });

  it("in two settings waits for the second setting, whatever the window says", () => {
    const at = (date: string, setting: string, meets = true) => ({
      date,
      meets,
      settings: [setting],
      people: [],
    });
    const found = (...occasions: ReturnType<typeof at>[]) =>
      mastery(occasions, { k: 2, n: 2 }, { settings: 2 });
    expect(found(at("2026-10-01", "gym"), at("2026-10-02", "gym"))).toMatchObject({
      met: false,
      inWindow: 2,
      settings: { seen: 1, needed: 2 },
    });
    expect(found(at("2026-10-01", "gym"), at("2026-10-02", "gym"), at("2026-10-03", "hall"))).toMatchObject({
      met: true,
      on: "2026-10-03",
    });
    expect(found(at("2026-10-01", "gym"), at("2026-10-02", "hall", false)).settings?.seen).toBe(1);
  });
});
