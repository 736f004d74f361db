import { describe, expect, it } from "vitest";
import { countsNeeded } from "#core/criteria/criterion-words.ts";
import { propose } from "#core/goal-wording/propose.ts";
import { starterLadders } from "#core/measures/starter-ladders.ts";
import { measures } from "#demo/measures.ts";
import type { Measure } from "#core/measures/measure.ts";
import { measureKinds } from "#core/measures/measure.ts";
import { previewOf } from "./preview-of.ts";
import { openFields } from "./work-fields.tsx";
import { proposedValues } from "./proposed-values.ts";
import { filledWording, readSetUp, readTemplate } from "./read-set-up.ts";
import { type SetUp, type SetUpValues, setUpValues, templateValues } from "./set-up-values.ts";

const ladders = starterLadders.map(({ levels, misses }) => ({ levels: [...levels], misses: [...misses] }));
const everyKind: Measure[] = [{ kind: "trials", planned: 10 }, ...Object.values(measures)];
const setUp: SetUp = {
  number: "2b",
  title: "Two-digit subtraction",
  area: "Mathematics",
  wording: "… 80% in 3 of 4 sessions",
  measure: { kind: "trials", planned: 10 },
  criterion: {
    value: 80,
    direction: "increase",
    window: { k: 3, n: 4 },
    windowUnit: "day",
    minimumOpportunities: 8,
    purposes: ["probe", "maintenance"],
    settings: 2,
    people: 3,
    confirm: ["with a peer of her choice"],
  },
  startOn: "2026-09-08",
  dueOn: "2027-02-12",
  annualReviewOn: null,
  enteredBaseline: { date: "2026-09-08", value: 25 },
  baselineEntries: null,
  schedule: { weekdays: [2, 4] },
  strategy: "Place-value mat",
  measuredBy: null,
  parentId: null,
};

/** A wording, read, with what only a person knows filled in. */
function fromWording(wording: string, more: SetUpValues = {}) {
  const { values, words } = proposedValues(propose(wording), ladders);
  return { result: readSetUp({ number: "1", wording, ...values, ...more }), words, values };
}

describe("blanks", () => {
  const template = {
    title: "Reads {kind of text}",
    area: "Reading",
    wording: "By {date}, {student} will read {number} words of a {kind of text} a minute.",
    setUp: {
      measure: { kind: "fluency", counted: "words", plannedSeconds: 60 } as Measure,
      criterion: setUp.criterion && { ...setUp.criterion, value: 90 },
      schedule: { perWeek: 2 },
      strategy: "{student} reads twice.",
    },
  };
  const values = { ...templateValues(template), number: "4" };

  it("stay open in a template, which is the same there and back", () => {
    expect(readTemplate(templateValues(template))).toEqual({ ok: true, template });
    expect(readTemplate({ ...templateValues(template), title: "" })).toMatchObject({
      ok: false,
      problems: [{ field: "title" }],
    });
  });

  it("are asked for in a goal, each beside its own field", () => {
    const read = readSetUp({ ...values, "blank.student": "Malik", "blank.number": " " });
    expect(read).toEqual({
      ok: false,
      problems: [
        { field: "dueOn", message: "The wording has {date}: when is it due?" },
        { field: "blank.number", message: "What replaces {number}? Or remove it from the wording." },
        { field: "blank.kind of text", message: expect.stringContaining("{kind of text}") as string },
      ],
    });
  });

  it("are filled in the wording, the title and the teaching", () => {
    const filled = {
      ...values,
      dueOn: "2027-03-14",
      "blank.student": "Malik",
      "blank.number": "85",
      "blank.kind of text": "poem",
    };
    expect(filledWording(filled)).toBe("By March 14, 2027, Malik will read 85 words of a poem a minute.");
    const read = readSetUp(filled);
    expect(read).toMatchObject({
      ok: true,
      setUp: {
        title: "Reads poem",
        wording: "By March 14, 2027, Malik will read 85 words of a poem a minute.",
        strategy: "Malik reads twice.",
        dueOn: "2027-03-14",
      },
    });
    expect(propose(filledWording(filled)).due?.value).toBe("2027-03-14");
  });

  it("may not make the wording longer than it may be", () => {
    const long = { ...values, dueOn: "2027-03-14", "blank.student": "M", "blank.number": "1" };
    expect(readSetUp({ ...long, "blank.kind of text": "x".repeat(1990) })).toMatchObject({
      ok: false,
      problems: expect.arrayContaining([
        { field: "wording", message: "At most 2000 characters." },
      ]) as unknown,
    });
  });
});

describe("a set-up and its form", () => {
  it.each(everyKind.map((measure) => [measure.kind, measure] as const))(
    "say the same of %s, there and back",
    (_, measure) => {
      const duration = measure.kind === "duration";
      const criterion = setUp.criterion && { ...setUp.criterion, value: duration ? 600 : 75 };
      const whole: SetUp = {
        ...setUp,
        measure,
        criterion:
          criterion && measure.kind === "running-total" ? { ...criterion, value: measure.target } : criterion,
      };
      expect(readSetUp(setUpValues(whole))).toEqual({ ok: true, setUp: whole });
    },
  );

  it("keep a joined criterion and a schedule by the week", () => {
    const whole: SetUp = {
      ...setUp,
      measure: { kind: "fluency", counted: "words" },
      criterion: {
        value: 90,
        direction: "increase",
        window: { k: 3, n: 3 },
        windowUnit: "session",
        purposes: ["probe"],
        joined: [{ figure: "accuracy", value: 95, direction: "increase" }],
      },
      schedule: { perWeek: 2 },
      enteredBaseline: null,
      baselineEntries: 3,
    };
    expect(readSetUp(setUpValues(whole))).toEqual({ ok: true, setUp: whole });
  });

  it.each([
    [{ wording: "" }, "wording"],
    [{ kind: "" }, "kind"],
    [{ value: "often" }, "value"],
    [{ value: "120" }, "value"],
    [{ k: "", n: "" }, "window"],
    [{ k: "5", n: "4" }, "window"],
    [{ dueOn: "2026-09-01" }, "dueOn"],
    [{ dueOn: "2027-02-30" }, "dueOn"],
    [{ settings: "1" }, "settings"],
    [{ baseline: "entered", baselineValue: "" }, "baselineValue"],
    [{ baseline: "entries", baselineEntries: "0" }, "baselineEntries"],
    [{ kind: "steps", parts: "" }, "parts"],
    [{ kind: "latency", within: "soon" }, "within"],
    [{ kind: "supports", levels: "a\na", credited: "a" }, "levels"],
  ])("say what is wrong beside its field: %o", (change, field) => {
    const read = readSetUp({ ...setUpValues(setUp), ...change });
    expect(read.ok ? [] : read.problems.map((problem) => problem.field)).toContain(field);
  });

  it("take a pasted list with bullets, numbers and empty lines", () => {
    const read = readSetUp({
      ...setUpValues(setUp),
      kind: "checklist",
      parts: "• ladle\n\n2. whisk\n(c) colander\n3D shapes",
    });
    expect(read.ok && read.setUp.measure).toEqual({
      kind: "checklist",
      items: ["ladle", "whisk", "colander", "3D shapes"],
    });
  });
});

describe("a typical wording", () => {
  it("is a whole set-up: fluency with accuracy joined", () => {
    const { result, words } = fromWording(
      "By March 14, 2027, given a third-grade passage, Wren will read aloud at 90 words per minute with 95% accuracy across three consecutive sessions.",
    );
    expect(result).toMatchObject({
      ok: true,
      setUp: {
        title: "Oral reading",
        measure: { kind: "fluency", counted: "words" },
        criterion: {
          value: 90,
          direction: "increase",
          window: { k: 3, n: 3 },
          joined: [{ figure: "accuracy", value: 95, direction: "increase" }],
        },
        dueOn: "2027-03-14",
      },
    });
    expect(words).toMatchObject({ value: "90 words per minute", joined: "95%", dueOn: "March 14, 2027" });
  });

  it("reads 75% of eight problems as eight opportunities, six of them", () => {
    const proposal = propose("Wren will solve 75% of eight problems in 3 of 4 sessions.");
    expect(proposal).toMatchObject({
      planned: { value: 8, words: "of eight problems" },
      threshold: { value: { value: 75 } },
    });
    expect(countsNeeded(75, "increase", 8)).toMatch(/^75% of 8 is 6 of 8$/);
    expect(
      propose("Given ten two-digit subtraction problems, Wren will solve them with 80% accuracy.").planned,
    ).toEqual({ value: 10, words: "Given ten two-digit subtraction problems" });
  });

  it("finds the steps, the ladder and the credited level of a task analysis", () => {
    const { result } = fromWording(
      "By June 2027 Wren will wash her hands, completing all 4 steps of the task analysis independently on 3 of 4 data days: turns on water, gets soap, scrubs, dries hands.",
    );
    expect(result).toMatchObject({
      ok: true,
      setUp: {
        measure: {
          kind: "steps",
          steps: ["turns on water", "gets soap", "scrubs", "dries hands"],
          credited: "independent",
        },
        criterion: { value: 100, window: { k: 3, n: 4 }, windowUnit: "day" },
      },
    });
  });

  it.each([
    ["in 4/5 opportunities with no more than 2 verbal prompts", "supports", "verbal"],
    ["in 3 of 4 trials with minimal assistance", "supports", "minimal"],
  ])("credits the level it names: %s", (end, kind, credited) => {
    const { values } = fromWording(`Wren will make a request ${end}.`);
    expect([values["kind"], values["credited"]]).toEqual([kind, credited]);
  });

  it("is asked for what it does not say: no window, no proposal", () => {
    const { result, values } = fromWording("Wren will answer why questions with 80% accuracy.");
    expect(values["k"]).toBeUndefined();
    expect(result.ok ? [] : result.problems.map(({ field }) => field)).toEqual(["window"]);
    expect(propose("Wren will improve her handwriting.")).toMatchObject({ spans: [] });
  });

  it("keeps times as times and behavior as at most", () => {
    expect(
      fromWording("Wren will stay with the group for at least 10 minutes in 3 of 4 sessions.").result,
    ).toMatchObject({
      setUp: { measure: { kind: "duration", report: "longest" }, criterion: { value: 600 } },
    });
    expect(
      fromWording("Wren will call out no more than 2 times per class on 4 of 5 days.").result,
    ).toMatchObject({
      setUp: {
        measure: { kind: "count" },
        criterion: { value: 2, direction: "decrease", windowUnit: "day" },
      },
    });
    expect(
      fromWording("Wren will begin work within 45 seconds on 4 of 5 transitions in 3 of 4 sessions.").result,
    ).toMatchObject({
      setUp: { measure: { kind: "latency", report: "within", withinSeconds: 45 }, criterion: { value: 80 } },
    });
  });
});

describe("the preview of a set-up", () => {
  const base = { wording: "Wren will read.", title: "Oral reading", number: "1", "purpose.probe": "yes" };

  it("draws what is known while one field is open", () => {
    // A window that is not said, a value that is no number, a list without items, a date that is none.
    expect(previewOf({ ...base, kind: "trials", value: "80" })?.criterion).toMatchObject({ value: 80 });
    expect(previewOf({ ...base, kind: "trials", value: "many", k: "3", n: "4" })).toMatchObject({
      ...{ criterion: null, measure: { kind: "trials" } },
    });
    expect(previewOf({ ...base, kind: "trials", dueOn: "soon", value: "80", k: "3", n: "4" })).toMatchObject({
      criterion: { value: 80, window: { k: 3, n: 4 } },
    });
    for (const kind of measureKinds)
      expect(previewOf({ ...base, kind, wording: "", title: "" })?.measure.kind, kind).toBe(kind);
    expect(previewOf({ ...base, kind: "" })).toBeNull();
  });

  it("names what is open by its visible label", () => {
    const read = readSetUp({ ...base, kind: "trials", value: "80", baseline: "entered" });
    expect(read.ok ? "" : openFields(read.problems)).toBe(
      "In how many of how many, Baseline value, Baseline date",
    );
  });
});
