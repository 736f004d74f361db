import { describe, expect, it } from "vitest";
import { withoutAsides } from "./asides.ts";
import { readCount } from "./count.ts";
import { readDue } from "./due.ts";
import { digitsForWords } from "./numbers.ts";
import { readOccasions } from "./occasions.ts";
import { propose } from "./propose.ts";
import { titleFrom } from "./title.ts";
import { readSupport } from "./support.ts";
import { workingText } from "./working-text.ts";

const plain = (wording: string) => digitsForWords(workingText(wording));

describe("the due date", () => {
  it.each([
    ["by 14 March 2027", "2027-03-14"],
    ["by March 14th, 2027", "2027-03-14"],
    ["by Feb. 2, 2028", "2028-02-02"],
    ["by 3/14/27", "2027-03-14"],
    ["by 14/3/2027", "2027-03-14"],
    ["by 2027-03-14", "2027-03-14"],
    ["by February 2028", "2028-02-29"],
    ["by June of 2027", "2027-06-30"],
    ["by 11/2027", "2027-11-30"],
    // The final target counts, whatever comes before it.
    ["50% by 1 Dec 2026, 80% by 1 June 2027", "2027-06-01"],
    ["from a baseline of 20% in September 2026 to 80% by June 2027", "2027-06-30"],
    ["starting 8 September 2026, by 18 June 2027", "2027-06-18"],
    // Nothing is guessed: no year, no such day, a placeholder.
    ["by March 14", null],
    ["by 2/31/2027", null],
    ["by [date]", null],
    ["by the end of the IEP year", null],
    ["baseline of 14 March 2026: 2 of 5", null],
  ])("of “%s” is %s", (wording, date) => {
    expect(readDue(workingText(wording)).due?.date ?? null).toBe(date);
  });
});

describe("the support", () => {
  it.each([
    ["independently", "independent", null],
    ["independantly", "independent", null],
    ["with no prompts", "independent", null],
    ["with no need for reminders", "independent", null],
    ["without adult assistance", "independent", null],
    ["with no more than 2 verbal prompts", "verbal", 2],
    ["with fewer than 3 cues", "any", 2],
    ["given 1 or fewer reminders", "any", 1],
    ["with minimal assistance", "minimal", null],
    ["with standby assistance", "any", null],
    ["with hand-over-hand help", "full-physical", null],
    ["given a model", "model", null],
    // A kind goes before an amount, and of several kinds the one that takes more help.
    ["with minimal verbal cues", "verbal", null],
    ["with gestural or partial physical prompts", "partial-physical", null],
    // Nobody helps in these.
    ["asks for help with a card", null, null],
    ["makes 3 calls for help", null, null],
    ["uses context cues", null, null],
    ["supports the claim with evidence", null, null],
    ["reads social cues of a peer", null, null],
  ])("of “%s” is %s, at most %s", (wording, level, atMost) => {
    const { support } = readSupport(plain(wording));
    expect([support?.level ?? null, support?.atMost ?? null]).toEqual([level, atMost]);
  });

  it("leaves what a person asks for to be read as something else", () => {
    expect(readSupport(plain("3 calls for help per day")).rest).toBe("3 calls for help per day");
  });
});

describe("opportunities and window", () => {
  const read = (wording: string) => {
    const { opportunities, window } = readOccasions(plain(wording));
    return [
      opportunities && `${opportunities.k}/${opportunities.n} ${opportunities.noun}`.trim(),
      window && `${window.k}/${window.n}${window.consecutive ? " in a row" : ""} ${window.unit}`,
    ];
  };
  it.each([
    ["4 of 5 trials", "4/5 trials", null],
    ["four out of five opportunities", "4/5 opportunities", null],
    ["all 8 steps", "8/8 steps", null],
    ["8 signs (stop, exit) out of 10", "8/10 signs", null],
    ["3 of 4 morning jobs", "3/4 jobs", null],
    ["in 3 of 4 sessions", null, "3/4 session"],
    ["on 4 of 5 days", null, "4/5 day"],
    ["across 3 sessions", null, "3/3 session"],
    ["on three consecutive data days", null, "3/3 in a row day"],
    ["2 weeks in a row", null, "2/2 in a row week"],
    ["on 9 of 10 consecutive days", null, "9/10 day"],
    ["4 of 5 trials in 3 of 4 sessions", "4/5 trials", "3/4 session"],
    // Settings, partners, points, times and the length of a plan are neither.
    ["in 2 of 3 settings", null, null],
    ["with 2 of 3 staff", null, null],
    ["12 of 16 points", null, null],
    ["25 of 30 minutes", null, null],
    ["in 36 weeks", null, null],
    ["5 of 4 trials", null, null],
  ])("of “%s” are %s and %s", (wording, opportunities, window) => {
    expect(read(wording)).toEqual([opportunities, window]);
  });
});

describe("a count", () => {
  const read = (wording: string) => {
    const { count } = readCount(withoutAsides(plain(wording)), true);
    return count && `${count.bound} ${count.value} ${count.unit}`;
  };
  it.each([
    ["read 90 words per minute", "atLeast 90 words per minute"],
    ["read at 90 wcpm", "atLeast 90 words per minute"],
    ["a list of 30 words in one minute", "atLeast 30 words per minute"],
    ["name 40 letter sounds a minute", "atLeast 40 sounds per minute"],
    ["scoring 3 or higher on a 4 point rubric", "atLeast 3 points"],
    ["increase on the rubric from 1 to 3", "atLeast 3 points"],
    ["a total of 20 points on the chart", "atLeast 20 points"],
    ["for at least 10 minutes", "atLeast 10 minutes"],
    ["within 30 seconds", "atMost 30 seconds"],
    ["in 5 minutes or less", "atMost 5 minutes"],
    ["less than 5 minutes", "atMost 5 minutes"],
    ["twice a week", "atLeast 2 times per week"],
    ["3x per day", "atLeast 3 times per day"],
    ["fewer than 3 outbursts per class period", "atMost 2 times per class"],
    ["reduce hitting to 2 times per week", "atMost 2 times per week"],
    ["no incidents of hitting", "atMost 0 times"],
    ["without any outbursts on five days", "atMost 0 times"],
    // A time that is stated goes before what may not happen in it.
    ["wait for 3 minutes with no problem behavior", "atLeast 3 minutes"],
    ["at least 4 turns", "atLeast 4 turns"],
    ["a five-sentence paragraph", null],
    ["facts within 20", null],
    ["with no more than 3 errors", null],
    ["from a baseline of 12 outbursts a week", null],
  ])("of “%s” is %s", (wording, said) => {
    expect(read(wording)).toBe(said);
  });
});

describe("a proposal", () => {
  it("has a short name made of what the student will do", () => {
    expect(titleFrom("By June 2027, Wren will independently count coins with 80% accuracy.")).toBe(
      "Counting coins",
    );
    expect(titleFrom("Wren will be able to tie her shoes, both of them, in 4 of 5 trials.")).toBe(
      "Tying her shoes",
    );
    expect(titleFrom("x".repeat(300)).length).toBeLessThanOrEqual(80);
    expect(titleFrom("")).toBe("");
  });

  it("says nothing where the wording says nothing", () => {
    expect(propose("Wren will enjoy reading.")).toEqual({ title: "Enjoying reading", spans: [] });
  });

  it("takes the parts that the wording lists", () => {
    expect(
      propose("Wren will do all 3 steps: (a) opens it, (b) pours, and (c) closes it.").parts?.value,
    ).toEqual(["opens it", "pours", "closes it"]);
    expect(propose("Wren will name 2 of 3 colors: red, blue and green.").parts?.value).toEqual([
      "red",
      "blue",
      "green",
    ]);
    expect(propose("Wren will do all 2 steps: pours, rinses and dries.").parts?.value).toEqual([
      "pours",
      "rinses and dries",
    ]);
  });

  it("puts a time limit, an interval and a total into the units of their measures", () => {
    expect(propose("Wren will start within 1 minute in 4 of 5 transitions.")).toMatchObject({
      kind: { value: "latency" },
      withinSeconds: { value: 60 },
      threshold: { value: { value: 80, direction: "increase" } },
    });
    expect(propose("Wren will be on task in 80% of 30-second intervals.")).toMatchObject({
      kind: { value: "intervals" },
      intervalSeconds: { value: 30 },
    });
    expect(
      propose("Wren will reduce calling out to fewer than 10% of intervals.").threshold?.value.direction,
    ).toBe("decrease");
    expect(propose("Wren will practice for a total of 300 minutes.")).toMatchObject({
      kind: { value: "running-total" },
      target: { value: { value: 300, unit: "minutes" } },
    });
  });
});
