import { describe, expect, it } from "vitest";
import type { Criterion } from "../criteria/criterion.ts";
import { readSeriesToDecide } from "../files/read-series.ts";
import { decideReport } from "../files/decide-report.ts";
import { mergeOf } from "../measures/merge-entries.ts";
import { type Measure, type ObservedEntry, scoreEntry } from "../measures/measure.ts";
import type { GoalSetup } from "../model/goal.ts";
import { askOf, goalFullFigures, goalSummary, judgeGoal } from "./goal-figures.ts";
import { type EntryFigure, goalSeries, periodEnd, plannedOf } from "./points.ts";
import { runningWords } from "./running-words.ts";
import { seriesFile } from "./series-file.ts";

const calendar = { schoolDays: [1, 2, 3, 4, 5], years: [], closures: [], reportingPeriods: [] };
const criterion = (part: Partial<Criterion> = {}): Criterion => ({
  ...{ value: 80, direction: "increase", window: { k: 1, n: 1 }, windowUnit: "session", purposes: ["probe"] },
  ...part,
});
const setUp = (measure: Measure, part: Partial<Criterion> = {}): GoalSetup => ({
  ...{
    measure,
    criterion: criterion(part),
    dueOn: "2027-06-04",
    metOn: null,
    enteredBaseline: null,
    phases: [],
  },
});

let made = 0;
/** An entry as the database gives it to the figures. */
function entry(measure: Measure, at: string, observed: object, part: Partial<EntryFigure> = {}): EntryFigure {
  const [date = "", time = "09:00"] = at.split(" ");
  const [hours = 0, minutes = 0] = time.split(":").map(Number);
  const scored = scoreEntry(measure, observed);
  if (!scored.ok) throw new Error(scored.problems[0]?.message);
  const { value, numerator, denominator, detail } = scored.score;
  return {
    ...{ entryId: String((made += 1)), date, value, numerator, denominator, detail, purpose: "probe" },
    minute: Math.round(Date.parse(`${date}T00:00:00Z`) / 60_000) + 60 * hours + minutes,
    observed: mergeOf(measure) ? ({ kind: measure.kind, ...observed } as ObservedEntry) : null,
    planned: plannedOf(measure),
    ...part,
  };
}
const pointsOf = (setup: GoalSetup, entries: EntryFigure[], today: string | null = null) =>
  goalSeries(setup, entries, today).all.map(({ date, value }) => [date, value]);

const trials: Measure = { kind: "trials", planned: 10 };
const requests: Measure = { kind: "count", per: "observation" };

describe("entries of one unit", () => {
  it("are one session where they begin less than 60 minutes apart, or belong to one sitting", () => {
    const at = (time: string, correct: number, sittingId: string | null = null) =>
      entry(trials, `2026-10-05 ${time}`, { correct, attempted: 10 }, { sittingId });
    const setup = setUp(trials);
    expect(pointsOf(setup, [at("09:00", 4), at("09:59", 8)])).toEqual([["2026-10-05", 60]]);
    expect(pointsOf(setup, [at("09:00", 4), at("10:00", 8)]).length).toBe(2);
    // Each less than an hour after the one before.
    expect(pointsOf(setup, [at("09:00", 4), at("09:50", 6), at("10:40", 8)])).toEqual([["2026-10-05", 60]]);
    expect(pointsOf(setup, [at("09:00", 4, "s"), at("11:00", 8, "s")])).toEqual([["2026-10-05", 60]]);
  });

  it("add up to a day, a week from Monday to Sunday, or a month; a point is dated by its last entry", () => {
    const all = ["2026-10-05", "2026-10-05", "2026-10-11", "2026-10-12", "2026-11-01"].map((date, index) =>
      entry(requests, `${date} ${8 + 2 * index}:00`, { count: index + 1 }),
    );
    const per = (windowUnit: Criterion["windowUnit"]) => pointsOf(setUp(requests, { windowUnit }), all);
    expect(per("session").map(([, value]) => value)).toEqual([1, 2, 3, 4, 5]);
    expect(per("day")).toEqual([
      ["2026-10-05", 3],
      ["2026-10-11", 3],
      ["2026-10-12", 4],
      ["2026-11-01", 5],
    ]);
    expect(per("week")).toEqual([
      ["2026-10-11", 6],
      ["2026-10-12", 4],
      ["2026-11-01", 5],
    ]);
    expect(per("month")).toEqual([
      ["2026-10-12", 10],
      ["2026-11-01", 5],
    ]);
    expect(periodEnd("2028-02-10", "month")).toBe("2028-02-29");
    expect(periodEnd("2026-10-11", "week")).toBe("2026-10-11");
  });

  it("add opportunities, and never average percentages of unlike size", () => {
    const [few, many] = [
      entry(trials, "2026-10-05", { correct: 1, attempted: 1 }),
      entry(trials, "2026-10-05 09:10", { correct: 9, attempted: 19 }),
    ];
    expect(
      goalSeries(
        setUp(trials),
        [few, many].flatMap((one) => one ?? []),
      ).all,
    ).toMatchObject([{ value: 50, entry: { numerator: 10, denominator: 20 }, isShort: false }]);
  });

  it("add events and time for a rate, and are computed anew for a median", () => {
    const rate: Measure = { kind: "count", per: "hour" };
    expect(
      pointsOf(setUp(rate), [
        entry(rate, "2026-10-05", { count: 6, observedSeconds: 1800 }),
        entry(rate, "2026-10-05 09:30", { count: 0, observedSeconds: 5400 }),
      ]),
    ).toEqual([["2026-10-05", 3]]);
    const latency: Measure = { kind: "latency", report: "median" };
    expect(
      pointsOf(setUp(latency, { direction: "decrease", value: 30 }), [
        entry(latency, "2026-10-05", { delaysSeconds: [10, 20] }),
        entry(latency, "2026-10-05 09:30", { delaysSeconds: [90], noResponse: 2 }),
      ]),
    ).toEqual([["2026-10-05", 90]]);
    const reading: Measure = { kind: "fluency", plannedSeconds: 60 };
    const [point] = goalSeries(setUp(reading), [
      entry(reading, "2026-10-05", { attempted: 60, errors: 6, seconds: 60 }),
      entry(reading, "2026-10-05 09:02", { attempted: 40, errors: 4, seconds: 30 }),
    ]).all;
    expect(point).toMatchObject({ value: 60, entry: { detail: { accuracy: 90 } } });
  });

  it("are averaged for a rubric, a grid and a task analysis", () => {
    const rubric: Measure = { kind: "rubric", criteria: [{ id: "ideas", max: 4 }] };
    const twice = [4, 1].map((ideas, at) => entry(rubric, `2026-10-05 09:0${at}`, { levels: { ideas } }));
    expect(goalSeries(setUp(rubric), twice).all).toMatchObject([
      { value: 62.5, entry: { numerator: null, denominator: null } },
    ]);
  });

  it("keep the shares of prompt levels, weighted by opportunities", () => {
    const levels: Measure = {
      ...{
        kind: "supports",
        levels: ["independent", "verbal"],
        misses: ["incorrect"],
        credited: "independent",
      },
    };
    const [point] = goalSeries(setUp(levels), [
      entry(levels, "2026-10-05", { counts: { independent: 1, incorrect: 0 } }),
      entry(levels, "2026-10-05 09:20", { counts: { verbal: 2, incorrect: 1 } }),
    ]).all;
    expect(point?.entry.detail).toMatchObject({ share: { independent: 25, verbal: 50, incorrect: 25 } });
  });

  it("belong to the phase of the point's date, and the baseline is never pooled with what follows", () => {
    const setup = {
      ...setUp(requests, { windowUnit: "week", value: 3, direction: "decrease" }),
      phases: [
        { phaseId: "b", name: "baseline", isBaseline: true, startsOn: "2026-10-05" },
        { phaseId: "p", name: "cards", isBaseline: false, startsOn: "2026-10-14" },
      ],
    };
    const all = ["2026-10-12", "2026-10-15"].map((date) => entry(requests, date, { count: 2 }));
    expect(goalSeries(setup, all).all.map(({ phase, value }) => [phase, value])).toEqual([
      ["baseline", 2],
      ["p", 2],
    ]);
  });
});

describe("a period that is still running", () => {
  const weekly = setUp(requests, {
    windowUnit: "week",
    value: 3,
    direction: "decrease",
    window: { k: 2, n: 2 },
  });
  const all = [
    entry(requests, "2026-11-10", { count: 2 }),
    entry(requests, "2026-11-19", { count: 9 }),
    entry(requests, "2026-11-24", { count: 1 }),
  ];

  it("is open: shown, held against nothing, and in no trend", () => {
    const series = goalSeries(weekly, all, "2026-11-25");
    expect(series.all.map(({ isOpen }) => isOpen)).toEqual([false, false, true]);
    expect(series.points.map(({ value }) => value)).toEqual([2, 9]);
    expect(series.judged.map((one) => one?.meets ?? null)).toEqual([true, false, null]);
    expect(goalSeries(weekly, all, "2026-11-30").judged.map((one) => one?.meets ?? null)).toEqual([
      true,
      false,
      true,
    ]);
    expect(runningWords(weekly, series, { today: "2026-11-25", calendar })?.replaceAll("\u00a0", " ")).toBe(
      "This week so far: 1 time. It counts when the week is over.",
    );
  });

  it("is known to the stored facts, which do not depend on the day", () => {
    const summary = goalSummary(weekly, all);
    const more = { lastOn: summary.lastOn, calendar };
    const why = (today: string) => judgeGoal(summary, weekly, { ...more, today }).standing.why;
    expect(summary.running?.through).toBe("2026-11-29");
    expect(why("2026-11-29")).toContain("One of the last two weeks");
    expect(summary.mastery).toMatchObject({ inWindow: 1, of: 2 });
    expect(summary.running?.facts.mastery).toMatchObject({ inWindow: 1, of: 2 });
    expect(why("2026-11-30")).toContain("One of the last two weeks");
    expect(summary.running?.facts.nInPhase).toBe(2);
    expect(summary.nInPhase).toBe(3);
  });

  it("is a day too where its entries add up, and not where they are probes", () => {
    const daily = setUp(requests, { windowUnit: "day", direction: "decrease", value: 3 });
    const today = [entry(requests, "2026-11-25", { count: 1 })];
    expect(goalSeries(daily, today, "2026-11-25").judged).toEqual([null]);
    expect(goalSeries(daily, today, "2026-11-26").judged).toMatchObject([{ meets: true }]);
    const probes = [entry(trials, "2026-11-25", { correct: 9, attempted: 10 })];
    expect(goalSeries(setUp(trials, { windowUnit: "day" }), probes, "2026-11-25").judged).toMatchObject([
      { meets: true },
    ]);
  });
});

describe("a running total", () => {
  const reading: Measure = { kind: "running-total", target: 300, unit: "minutes", startsAgain: "month" };
  const setup = setUp(reading, { value: 300 });
  const all = [
    entry(reading, "2026-10-05", { amount: 200 }),
    entry(reading, "2026-10-20", { amount: 30 }),
    entry(reading, "2026-11-04", { amount: 250 }),
    entry(reading, "2026-11-24", { amount: 20 }),
  ];

  it("is its month, whatever the criterion's unit, and meets nothing before the month is over", () => {
    expect(pointsOf(setup, all)).toEqual([
      ["2026-10-20", 230],
      ["2026-11-24", 270],
    ]);
    expect(goalSeries(setup, all, "2026-11-24").judged.map((one) => one?.meets ?? null)).toEqual([
      false,
      null,
    ]);
  });

  it("says where this month and the last stand", () => {
    const said = (today: string) =>
      runningWords(setup, goalSeries(setup, all, today), { today, calendar })?.replaceAll("\u00a0", " ");
    expect(said("2026-11-24")).toBe(
      "November: 270 of 300 minutes, four school days left. October: 230 of 300 minutes.",
    );
    expect(said("2026-12-31")).toBe(
      "December: 0 of 300 minutes, no school days left. November: 270 of 300 minutes.",
    );
    expect(runningWords(setup, goalSeries(setup, []), { today: "2026-11-24", calendar })).toBeNull();
  });

  it("goes on where it never starts again, and has neither trend nor pace", () => {
    const books: Measure = { kind: "running-total", target: 40, unit: "books" };
    const ever = setUp(books, { value: 40 });
    const five = [1, 2, 3, 4, 5].map((day) => entry(books, `2026-11-0${day}`, { amount: day }));
    expect(pointsOf(ever, five).map(([, value]) => value)).toEqual([1, 3, 6, 10, 15]);
    const summary = goalSummary(ever, five);
    const decided = judgeGoal(summary, ever, { lastOn: summary.lastOn, today: "2026-11-06", calendar });
    expect([decided.rate, decided.pace.key, summary.slope]).toEqual(["", "none", null]);
  });
});

describe("a point without a figure", () => {
  const latency: Measure = { kind: "latency", report: "median" };
  const refusals = [
    entry(latency, "2026-10-05", { delaysSeconds: [10, 12, 14] }),
    entry(latency, "2026-10-06", { delaysSeconds: [10], noResponse: 4 }),
  ];

  it("does not meet where nobody answered, and is in no trend", () => {
    const series = goalSeries(setUp(latency, { value: 30, direction: "decrease" }), refusals);
    expect(series.all.map(({ value }) => value)).toEqual([12, null]);
    expect(series.points.length).toBe(1);
    expect(series.judged.map((one) => one?.meets)).toEqual([true, false]);
  });

  it("meets where a behavior that is to decrease did not happen, and only there", () => {
    const crying: Measure = { kind: "duration", report: "longest" };
    const none = [entry(crying, "2026-10-05", { boutsSeconds: [] })];
    const judged = (direction: Criterion["direction"]) =>
      goalSeries(setUp(crying, { value: 60, direction }), none).judged.map((one) => one?.meets);
    expect([judged("decrease"), judged("increase")]).toEqual([[true], [false]]);
  });

  it("is none where a grid was broken off", () => {
    const grid: Measure = { kind: "skills", skills: ["a"], levels: ["alone"], misses: [], credited: "alone" };
    const half = entry(grid, "2026-10-05", { marks: { a: "alone" } }, { value: null, numerator: null });
    expect(goalSeries(setUp(grid), [half]).all).toEqual([]);
  });
});

describe("a point with less than was planned", () => {
  it("is short and not held against the criterion; with less than half it is in no trend either", () => {
    const intervals: Measure = {
      ...{ kind: "intervals", method: "partial", intervalSeconds: 60, planned: 20 },
    };
    const run = (date: string, marks: string) => entry(intervals, date, { marks });
    const series = goalSeries(setUp(intervals), [
      run("2026-10-05", "1".repeat(20)),
      run("2026-10-06", "1".repeat(15)),
      run("2026-10-07", "1"),
    ]);
    expect(series.all.map(({ isShort }) => isShort)).toEqual([false, true, true]);
    expect(series.judged.map((one) => one?.meets ?? null)).toEqual([true, null, null]);
    expect(series.points.map(({ date }) => date)).toEqual(["2026-10-05", "2026-10-06"]);
  });

  it("goes by the plan it was recorded for, and by the criterion where that asks for more", () => {
    const ten = entry(trials, "2026-10-05", { correct: 9, attempted: 10 });
    expect(goalSeries(setUp({ ...trials, planned: 20 }), [ten]).all[0]?.isShort).toBe(false);
    expect(goalSeries(setUp(trials, { minimumOpportunities: 12 }), [ten]).all[0]?.isShort).toBe(true);
    const reading: Measure = { kind: "fluency", plannedSeconds: 60 };
    const lasted = (seconds: number) =>
      goalSeries(setUp(reading), [entry(reading, "2026-10-05", { attempted: 40, errors: 0, seconds })])
        .all[0];
    expect([lasted(40)?.isShort, lasted(40)?.value, lasted(59.4)?.isShort]).toEqual([true, 60, false]);
  });
});

describe("the file of a goal", () => {
  const seen = (setup: GoalSetup, entries: EntryFigure[], today: string) => {
    const series = goalSeries(setup, entries, today);
    const asked = askOf(setup, { lastOn: series.all.at(-1)?.date ?? null, today, calendar });
    const { head, rows, figures } = seriesFile(setup, series, "goal", (id) => id, asked);
    const text = [head, ...rows].map((cells) => cells.join(",")).join("\n");
    const [read] = readSeriesToDecide(text);
    if (!read) throw new Error("nothing read");
    const whole = goalFullFigures(setup, series);
    const summary = goalSummary(setup, entries);
    return {
      fromFile: decideReport(read),
      page: judgeGoal(whole.decided, setup, { lastOn: series.all.at(-1)?.date ?? null, today, calendar }),
      stored: judgeGoal(summary, setup, { lastOn: summary.lastOn, today, calendar }),
      figures,
      whole,
    };
  };
  const same = (setup: GoalSetup, entries: EntryFigure[], today = "2026-11-25") => {
    const { fromFile, page, stored, figures, whole } = seen(setup, entries, today);
    expect(fromFile.sentences).toEqual(page.sentences);
    expect(fromFile.standing.key).toBe(page.standing.key);
    expect(stored.sentences).toEqual(page.sentences);
    expect(figures.mastery).toEqual(whole.mastery);
    return page.sentences.join(" ").replaceAll("\u00a0", " ");
  };
  const dates = ["2026-10-05", "2026-10-12", "2026-10-19", "2026-10-26", "2026-11-02", "2026-11-24"];

  it("says what the page says, of short points, points without a figure and a week that is running", () => {
    const latency: Measure = { kind: "latency", report: "median" };
    same(
      setUp(latency, { value: 30, direction: "decrease", window: { k: 3, n: 4 } }),
      dates.map((date, at) =>
        entry(latency, date, at % 2 ? { delaysSeconds: [], noResponse: 3 } : { delaysSeconds: [20 + at] }),
      ),
    );
    same(
      setUp(trials, { window: { k: 2, n: 3 } }),
      dates.map((date, at) => entry(trials, date, { correct: 4, attempted: at % 2 ? 4 : 10 })),
    );
    expect(
      same(
        setUp(requests, { windowUnit: "week", value: 3, direction: "decrease", window: { k: 2, n: 3 } }),
        dates.map((date, at) => entry(requests, date, { count: at })),
      ),
    ).toContain("the last three weeks");
  });

  it("says it of joined figures, of settings and people, and of a total that starts again", () => {
    const reading: Measure = { kind: "fluency", plannedSeconds: 60 };
    const joined = [{ figure: "accuracy", value: 95, direction: "increase" as const }];
    expect(
      same(
        setUp(reading, { value: 50, joined, window: { k: 2, n: 2 } }),
        dates.map((date, at) => entry(reading, date, { attempted: 60, errors: at, seconds: 60 })),
      ),
    ).toContain("accuracy");
    expect(
      same(
        setUp(trials, { value: 50, settings: 2, people: 2 }),
        dates.map((date) =>
          entry(trials, date, { correct: 9, attempted: 10 }, { setting: "hall", personId: "noor" }),
        ),
      ),
    ).toContain("So far in one of two settings and with one of two people.");
    const total: Measure = { kind: "running-total", target: 30, unit: "minutes", startsAgain: "week" };
    same(
      setUp(total, { value: 30 }),
      dates.map((date) => entry(total, date, { amount: 20 })),
    );
  });

  it("says it of a phase that has begun since the last point", () => {
    const phases = [
      { phaseId: "b", name: "baseline", isBaseline: true, startsOn: "2026-09-01" },
      { phaseId: "p", name: "cards", isBaseline: false, startsOn: "2026-10-10" },
      { phaseId: "q", name: "songs", isBaseline: false, startsOn: "2026-11-25" },
    ];
    const rising = ["2026-09-02", "2026-09-09", ...dates].map((date, at) =>
      entry(trials, date, { correct: Math.min(9, at + 1), attempted: 10 }),
    );
    const setup = { ...setUp(trials, { window: { k: 3, n: 3 } }), phases };
    expect(same(setup, rising)).toContain("No points since the new phase began on");
    expect(same({ ...setup, phases: phases.slice(0, 2) }, rising)).not.toContain("new phase");
  });
});
