import { describe, expect, it } from "vitest";
import { type Measure, readEntry } from "../measures/measure.ts";
import { intervalClock, intervalMarks } from "../measures/intervals/clock.ts";
import { type Mark, secondsOn, stretches } from "../marks/mark.ts";
import { observedFrom } from "../measures/observed-from.ts";
import { openQuestion, readSheet } from "./read-sheet.ts";

const start = Date.UTC(2026, 10, 24, 15, 0);
const ladder = { levels: ["independent", "verbal", "physical"], misses: ["no response"], credited: "verbal" };
/** Marks a second apart, written as `thing=value` or `thing=value@seconds`. */
const made = (...acts: string[]): Mark[] =>
  acts.map((act, index) => {
    const [what = "", at = String(index)] = act.split("@");
    const [on = "", value = ""] = what.split("=");
    return { at: start + Number(at) * 1000, on, value };
  });
const words = (measure: Measure, marks: Mark[], now = start + 600_000) => {
  const reading = readSheet(measure, marks, now);
  return "words" in reading ? `${reading.state}: ${reading.words.replaceAll("\u00a0", " ")}` : reading.state;
};

describe("the marks of a panel", () => {
  it("keep the order of trials, and count what was credited", () => {
    const marks = made("trial=1", "trial=0", "trial=1");
    expect(observedFrom({ kind: "trials" }, marks, start)).toEqual({
      kind: "trials",
      correct: 2,
      attempted: 3,
      sequence: "101",
    });
    expect(words({ kind: "trials" }, marks)).toBe("ready: 2 of 3 correct (67%)");
  });

  it("are one opportunity each with a ladder, in their order", () => {
    const measure: Measure = { kind: "supports", ...ladder, planned: 4 };
    const marks = made("level=0", "level=3", "level=1");
    expect(observedFrom(measure, marks, start)).toMatchObject({
      counts: { independent: 1, "no response": 1, verbal: 1 },
      sequence: ["independent", "no response", "verbal"],
    });
    expect(openQuestion(measure, marks, 4)).toEqual({
      about: "fewer than planned",
      words: "3 of 4 planned: shown, not counted toward the criterion",
    });
    expect(openQuestion(measure, made("level=0", "level=0"), 1)?.about).toBe("more than planned");
    expect(openQuestion(measure, marks, 3)).toBeNull();
  });

  it("take a choice back by an empty one, and a grid with open rows is not finished", () => {
    const measure: Measure = { kind: "skills", skills: ["stir", "pour"], ...ladder };
    expect(words(measure, made("row.0=0", "row.1=2"))).toMatch(/^ready: 1 of 2/);
    const broken = made("row.0=0", "row.1=2", "row.1=");
    expect(words(measure, broken)).toBe("not finished: not finished, 1 of 2 marked");
    expect(openQuestion(measure, broken, null)?.words).toBe("1 of 2 rows not marked");
    expect(readSheet(measure, made("row.0=0", "row.0="), start).state).toBe("empty");
  });

  it("leave the steps after the last one not reached only where the chain is said to have ended", () => {
    const measure: Measure = { kind: "steps", steps: ["open", "pack", "close"], ...ladder };
    const marks = made("row.0=0", "row.1=1");
    expect(readSheet(measure, marks, start).state).toBe("not finished");
    expect(readSheet(measure, marks, start, true)).toMatchObject({
      state: "ready",
      score: { value: (100 * 2) / 3 },
    });
  });

  it("know an item as known, not yet or not probed", () => {
    const measure: Measure = { kind: "checklist", items: ["ladle", "whisk", "colander"] };
    expect(observedFrom(measure, made("row.0=1", "row.2=0"), start)).toEqual({
      kind: "checklist",
      known: ["ladle"],
      probed: ["ladle", "colander"],
    });
  });

  it("keep the moment of each count, seconds after the first mark, and the time its clock ran", () => {
    const marks = made("clock=start@0", "press=@12.34", "press=@50", "clock=stop@120");
    expect(observedFrom({ kind: "count", per: "minute" }, marks, start + 900_000)).toEqual({
      kind: "count",
      count: 2,
      observedSeconds: 120,
      atSeconds: [12.3, 50],
    });
    expect(words({ kind: "count", per: "minute" }, marks)).toMatch(/^ready: 1 a minute|^ready: 1 per minute/);
    // A clock that saw nothing is a count of 0, and no clock with no count is nothing.
    expect(observedFrom({ kind: "count", per: "hour" }, made("clock=start"), start + 60_000)).toMatchObject({
      count: 0,
      observedSeconds: 60,
    });
    expect(readSheet({ kind: "count", per: "minute" }, made("press="), start)).toMatchObject({
      state: "problem",
      problems: [{ field: "observedSeconds" }],
    });
    expect(
      observedFrom({ kind: "count", per: "minute" }, made("press=", "observed=60"), start),
    ).toMatchObject({
      observedSeconds: 60,
    });
  });

  it("keep bouts with their starts; one that runs is read now", () => {
    const marks = made("bout=start@0", "bout=stop@61", "bout=start@100");
    const measure: Measure = { kind: "duration", report: "total" };
    expect(observedFrom(measure, marks, start + 110_000)).toEqual({
      kind: "duration",
      boutsSeconds: [61, 10],
      startsSeconds: [0, 100],
      observedSeconds: undefined,
    });
    expect(openQuestion(measure, marks, null)?.about).toBe("running");
    expect(observedFrom(measure, made("none=1"), start)).toMatchObject({ boutsSeconds: [] });
  });

  it("measure a delay from the signal to the response, and know no response", () => {
    const marks = made("signal=@0", "response=@4.2", "response=@5", "signal=@10", "no response=@40");
    expect(observedFrom({ kind: "latency", report: "median" }, marks, start)).toEqual({
      kind: "latency",
      delaysSeconds: [4.2],
      noResponse: 1,
    });
  });

  it("end a reading at the planned time, whenever it is stopped", () => {
    const measure: Measure = { kind: "fluency", plannedSeconds: 60 };
    const marks = made("clock=start@0", "error=@10", "error=@20", "last=84@90");
    expect(observedFrom(measure, marks, start + 90_000)).toEqual({
      kind: "fluency",
      attempted: 84,
      errors: 2,
      seconds: 60,
    });
    expect(observedFrom(measure, made("clock=start@0", "clock=stop@41", "last=50"), start)).toMatchObject({
      seconds: 41,
    });
    expect(readSheet(measure, made("clock=start@0"), start + 5000).state).toBe("problem");
  });

  it("hold one level for each criterion, an outcome in words, an amount with a comma", () => {
    const rubric: Measure = {
      kind: "rubric",
      criteria: [
        { id: "ideas", max: 4 },
        { id: "order", max: 4 },
      ],
    };
    expect(readSheet(rubric, made("row.0=3", "row.1=2"), start)).toMatchObject({ score: { numerator: 5 } });
    expect(readSheet(rubric, made("row.0=3"), start).state).toBe("problem");
    const outcomes: Measure = { kind: "outcomes", outcomes: [{ id: "alone", credit: 100 }] };
    expect(observedFrom(outcomes, made("row.0=other", "instead=went by bus"), start)).toMatchObject({
      outcome: "other",
      note: "went by bus",
    });
    expect(
      observedFrom({ kind: "running-total", target: 90, unit: "minutes" }, made("amount=12,5"), start),
    ).toMatchObject({ amount: 12.5 });
  });

  it("say what is missing where what was typed is no number", () => {
    const problem = (measure: Measure, marks: Mark[]) => {
      const reading = readSheet(measure, marks, start + 60_000);
      return reading.state === "problem" ? reading.problems[0]?.message : reading.state;
    };
    expect(problem({ kind: "fluency", counted: "digits" }, made("clock=start", "last=many"))).toBe(
      "How many digits were reached?",
    );
    expect(problem({ kind: "running-total", target: 90, unit: "minutes" }, made("amount=a few"))).toBe(
      "Write the minutes as a number.",
    );
  });

  it("are read the same by the schema of their measure", () => {
    const measure: Measure = { kind: "count", per: "minute" };
    const reading = readSheet(measure, made("clock=start@0", "press=@5", "clock=stop@60"), start);
    expect("entry" in reading && readEntry(measure, JSON.parse(JSON.stringify(reading.entry)))).toMatchObject(
      {
        ok: true,
        score: { value: 1 },
      },
    );
  });

  it("are nothing where nothing was touched", () => {
    expect(readSheet({ kind: "trials" }, [], start).state).toBe("empty");
    expect(observedFrom({ kind: "trials" }, made("note=x"), start)).toBeNull();
  });
});

describe("a clock", () => {
  it("is what the device's clock says, also after hours asleep, and takes no second start or stop", () => {
    const marks = made(
      "clock=start@0",
      "clock=start@5",
      "clock=stop@10",
      "clock=stop@20",
      "clock=start@7200",
    );
    expect(stretches(marks, "clock")).toHaveLength(2);
    expect(secondsOn(stretches(marks, "clock"), start + 14_400_000)).toBe(10 + 7200);
  });

  it("never runs backwards where the device was set back", () => {
    expect(secondsOn(stretches(made("clock=start@10"), "clock"), start)).toBe(0);
  });
});

describe("intervals", () => {
  const measure = { intervalSeconds: 15, planned: 4 } as const;
  const started = made("clock=start@0");
  const at = (seconds: number, method: "partial" | "momentary", marks = started) =>
    intervalClock({ ...measure, method }, marks, start + seconds * 1000);

  it("ask for a momentary sample at the end of each, until the next signal", () => {
    expect(at(10, "momentary")).toMatchObject({ asks: null, nextAt: start + 15_000 });
    expect(at(15, "momentary")).toMatchObject({ asks: 0, ended: 1 });
    expect(at(60, "momentary")).toMatchObject({ asks: 3, nextAt: null, over: false });
    expect(at(76, "momentary")).toMatchObject({ asks: null, over: true, ended: 4 });
  });

  it("ask for a partial interval while it runs", () => {
    expect(at(1, "partial")).toMatchObject({ asks: 0 });
    expect(at(16, "partial")).toMatchObject({ asks: 1 });
    expect(at(61, "partial")).toMatchObject({ asks: 3, ended: 4 });
  });

  it("that passed unmarked are not observed; stopped early, only those that ended or were marked are there", () => {
    const marks = [...started, ...made("interval.0=1@15", "interval.2=0@46")];
    expect(intervalMarks({ ...measure, method: "momentary" }, marks, start + 100_000)).toBe("1-0-");
    const stopped = [...started, ...made("interval.0=1@3", "clock=stop@20")];
    expect(intervalMarks({ ...measure, method: "partial" }, stopped, start + 100_000)).toBe("1");
    expect(intervalMarks({ ...measure, method: "partial" }, [], start)).toBe("");
  });
});
