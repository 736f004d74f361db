import { spawnSync } from "node:child_process";
import { fileURLToPath } from "node:url";
import { describe, expect, it } from "vitest";
import { figuresAgreement } from "./figures-agreement.ts";
import { figuresFindings } from "./figures-findings.ts";
import { figuresIncidents } from "./figures-incidents.ts";
import { dateOfDay, dayNumber } from "#core/dates/day-number.ts";
import { figuresDecide } from "./figures-decide.ts";
import { figuresProgress } from "./figures-progress.ts";
import { figuresScore } from "./figures-score.ts";

const folder = fileURLToPath(new URL("..", import.meta.url));
function figures(args: string[], input: string) {
  const { status, stdout, stderr } = spawnSync(
    process.execPath,
    ["--import", "tsx", "cli/figures.ts", ...args],
    { cwd: folder, input, encoding: "utf8" },
  );
  return { status, stdout, stderr };
}
const score = (...lines: object[]) =>
  figuresScore(lines.map((line) => JSON.stringify(line)).join("\r\n"), { json: true });
const trials = (entry: object, id = "a") => ({ id, measure: { kind: "trials" }, entry });

describe("figures score", () => {
  it("prints one line of JSON for each entry, whatever more the entry carries", () => {
    const lines = score(
      trials({ correct: 7, attempted: 10, sequence: [1, 1, 0] }),
      trials({ correct: 0, attempted: 3 }, "b"),
    )
      .trim()
      .split("\n");
    expect(lines.map((line) => JSON.parse(line) as unknown)).toMatchObject([
      { id: "a", value: 70, unit: "percent", numerator: 7, denominator: 10, detail: {} },
      { id: "b", value: 0, numerator: 0, denominator: 3 },
    ]);
  });

  it("ends with 2, the file, the line and the reason, and prints nothing, when one entry is wrong", () => {
    const bad = `${JSON.stringify(trials({ correct: 1, attempted: 2 }))}\n\n${JSON.stringify(trials({ correct: 3, attempted: 2 }))}\n`;
    const { status, stdout, stderr } = figures(["score", "-", "--json"], bad);
    expect({ status, stdout }).toEqual({ status: 2, stdout: "" });
    expect(stderr).toBe("figures: -:3: entry.correct: 3 correct is more than the 2 attempted.\n");
  });

  it.each([
    ["not json", /is not JSON/],
    ["[]", /not an object/],
    ['{"id":"a","entry":{}}', /measure is missing/],
    ['{"id":"a","measure":{"kind":"toString"},"entry":{}}', /measure\.kind/],
    ['{"measure":{"kind":"trials"},"entry":{}}', /id is missing/],
  ])("refuses %s", (line, message) => {
    expect(() => figuresScore(line, { json: true })).toThrow(message);
  });

  it("says how it is used, and what it cannot read", () => {
    expect(figures(["guess", "-"], "")).toMatchObject({
      status: 2,
      stdout: "",
      stderr: expect.stringContaining("usage") as string,
    });
    expect(figures(["score", "nowhere.jsonl"], "")).toMatchObject({
      status: 2,
      stderr: "figures: nowhere.jsonl: cannot be read\n",
    });
  });
});

interface SeriesFigures {
  series: string;
  n: number;
  from: string | null;
  to: string | null;
  theilSen: {
    slopePerDay: number;
    slopePerWeek: number;
    intercept: number;
    lowPerDay: number | null;
    highPerDay: number | null;
  } | null;
  mastery: { met: boolean; on: string | null; window: string; inWindow: number; needed: number } | null;
  aim: { slopePerWeek: number } | null;
  fourPoint: string | null;
  why?: Record<string, string>;
}
const progress = (csv: string) =>
  (JSON.parse(figuresProgress(csv, { json: true })) as { series: SeriesFigures[] }).series;

describe("figures decide", () => {
  const decide = (csv: string) =>
    (
      JSON.parse(figuresDecide(csv, { json: true })) as {
        series: {
          series: string;
          standing: { key: string; words: string };
          trend: { key: string; perWeek: number | null; words: string };
          pace: { key: string; neededPerWeek: number | null };
          advice: { key: string; words: string | null };
          sentences: string[];
        }[];
      }
    ).series;
  const header = "series,date,phase,value,direction,criterion,window,due";
  const weekly = (values: readonly number[], from: number) =>
    values.map((value, at) => [dateOfDay(dayNumber("2026-09-07") + 7 * (from + at)), value] as const);
  const csvOf = (values: readonly number[], head = "", cells = "") =>
    [
      header + head,
      ...weekly([30, 30, 30], 0).map(
        ([on, value]) => `a,${on},baseline,${value},,80,3 consecutive,2027-06-07${cells}`,
      ),
      ...weekly(values, 3).map(([on, value]) => `a,${on},p,${value},,80,3 consecutive,2027-06-07${cells}`),
    ].join("\n");

  it("says where a series stands, its trend, its pace and what is advised", () => {
    const [found] = decide(csvOf([22, 21, 22, 21, 20, 21]));
    expect(found).toMatchObject({
      series: "a",
      standing: { key: "behind", words: "Behind the line" },
      trend: { key: "level" },
      pace: {
        key: "not-enough",
        neededPerWeek: (80 - 21) / ((dayNumber("2027-06-07") - dayNumber("2026-11-02")) / 7),
      },
      advice: { key: "change" },
    });
    expect(found?.sentences).toEqual([
      "Behind the line.",
      expect.stringContaining("All of the last four points are below the aim line."),
      expect.stringContaining("The pace is not enough."),
      "Six points over five weeks in this phase. Was the goal taught as planned? If it was, change something.",
    ]);
    expect(figuresDecide(csvOf([22, 21, 22, 21]), { json: false })).toMatch(/^a\n {2}Behind the line\.\n/);
  });

  it("goes by the day, the confirmation and the school weeks that the file gives", () => {
    const key = (head: string, cells: string) =>
      decide(csvOf([80, 80, 80, 80], head, cells))[0]?.standing.key;
    expect(key("", "")).toBe("reached");
    expect(key(",met", ",2026-10-26")).toBe("met");
    expect(decide(csvOf([40, 40, 40, 40], ",today", ",2027-07-01"))[0]?.standing.key).toBe("past-due");
    const needed = (cells: string) => decide(csvOf([40, 40, 40, 40], ",weeks", cells))[0]?.pace.neededPerWeek;
    expect(needed(",20")).toBe(2);
    expect(() => decide(csvOf([40], ",weeks", ",many"))).toThrow("weeks many is not a number");
    expect(() => decide(csvOf([40], ",today", ",tomorrow"))).toThrow("today tomorrow is not a date");
    expect(() => decide(csvOf([40], ",stale", ",perhaps"))).toThrow("stale perhaps is neither yes nor no");
    // Columns that are not its own are nothing to the other verb.
    expect(progress(csvOf([40], ",today", ",tomorrow"))).toHaveLength(1);
  });

  it("meets a criterion at the precision in which the file writes it", () => {
    const reached = (criterion: string) =>
      decide([header, `a,2026-10-05,p,66.67,,${criterion},1,`].join("\n"))[0]?.standing.key;
    expect([reached("67"), reached("66.7"), reached("67.0")]).toEqual(["reached", "reached", "too-few"]);
  });
});

describe("figures progress", () => {
  const header = "series,date,phase,value,criterion,window,due";
  const row = (date: string, phase: string, value: string | number, series = "a") =>
    `${series},${date},${phase},${value},80,2 of 3,2026-12-01`;

  it("computes each series in order of first appearance, rows in any order, unmeasured rows left out", () => {
    const csv = [
      header,
      row("2026-10-20", "p", 90),
      row("2026-09-01", "baseline", 20),
      row("2026-10-06", "p", 80, "b"),
      row("2026-10-06", "p", 60),
      row("2026-10-13", "p", 80),
      row("2026-10-14", "p", ""),
    ].join("\n");
    const [a, b] = progress(`\uFEFF${csv}\r\n`);
    expect(a).toMatchObject({
      series: "a",
      n: 4,
      from: "2026-09-01",
      to: "2026-10-20",
      mastery: { met: true, on: "2026-10-20", window: "2 of 3", inWindow: 2, needed: 2 },
      fourPoint: "too-few",
    });
    expect(a?.theilSen).toMatchObject({ slopePerDay: 30 / 14, slopePerWeek: 15, lowPerDay: null });
    expect(b).toMatchObject({
      series: "b",
      n: 1,
      theilSen: null,
      aim: null,
      why: { theilSen: "fewer than 2 different dates", aim: "no baseline" },
    });
  });

  it("gives every figure of the current phase, each phase, and each phase against the one before", () => {
    const values = [20, 30, 25, 40, 45, 40, 55, 60, 70, 65];
    const days = ["09-10", "09-14", "09-16", "09-21", "09-24", "09-28", "10-01", "10-05", "10-08", "10-12"];
    const csv = [
      header,
      ...days.map((day, at) => row(`2026-${day}`, at < 3 ? "baseline" : "p", values[at] ?? "")),
    ].join("\n");
    const [found] = progress(csv);
    // R 4.2.2 and SciPy 1.17.1 over the seven points of p, x from 11 on: lm, cor.test, wilcox.test, predict; the rest by hand.
    expect(found).toMatchObject({
      ols: { slopePerDay: expect.closeTo(1.464226289517471, 10) as number },
      kendall: { s: 16, tauB: expect.closeTo(0.7807200583588266, 10) as number },
      phases: [
        { phase: "baseline", n: 3, mean: 25, median: 25, sd: 5, min: 20, max: 30 },
        { phase: "p", n: 7, from: "2026-09-21", to: "2026-10-12", median: 55 },
      ],
      comparisons: [
        {
          ...{ before: "baseline", after: "p", nap: 1, tau: 1, pnd: 100, pem: 100, napHigh: 1 },
          napLow: expect.closeTo(0.6001082436720824, 9) as number,
          tauU: expect.closeTo(20 / 21, 10) as number,
          mannWhitneyP: expect.closeTo(0.022245497334691906, 9) as number,
        },
      ],
      projection: { at: "2026-12-01", expectedOn: "2026-10-20" },
    });
    expect(JSON.stringify(found)).not.toMatch(/NaN|Infinity/);
  });

  it("says of each figure that is not there why", () => {
    const csv = [
      header,
      row("2026-10-06", "baseline", 40),
      row("2026-10-07", "p", 40),
      row("2026-10-08", "p", 40),
    ];
    expect(progress(csv.join("\n"))[0]).toMatchObject({
      ols: {
        slopePerDay: 0,
        r2: null,
        residualSd: null,
        why: { r2: "all values are equal", residualSd: "fewer than 3 points" },
      },
      kendall: { s: 0, tauB: null, p: null, why: { p: "all values are equal, or S cannot vary" } },
      phases: [{ sd: null, why: { sd: "one point" } }, { sd: 0 }],
      comparisons: [
        {
          ...{ nap: 0.5, napLow: null, napHigh: null, mannWhitneyP: null, logRatio: null },
          why: { napLow: "fewer than 2 points in a phase", mannWhitneyP: "fewer than 3 points in a phase" },
        },
      ],
      projection: null,
      why: { projection: "fewer than 6 points or 3 different dates in the phase" },
    });
  });

  it("reads what a goal's page gives away: marks of byte order, line ends and further columns", () => {
    const csv = `\uFEFFseries,date,phase,value,direction,criterion,window,due,counted,of,setting,observer\r\ngoal-1,2026-10-05,baseline,40,increase,80,3 consecutive,,4,10,hall,T. B.\r\n`;
    expect(progress(csv)).toMatchObject([
      { series: "goal-1", n: 1, mastery: { needed: 3, window: "3 consecutive" } },
    ]);
  });

  it("lists a series without a measured row with nulls", () => {
    expect(progress([header, row("2026-10-20", "p", "")].join("\n"))).toMatchObject([
      {
        n: 0,
        from: null,
        to: null,
        theilSen: null,
        mastery: null,
        aim: null,
        fourPoint: null,
        why: { mastery: "no measured row" },
      },
    ]);
  });

  it("says where the input is wrong, by physical line", () => {
    const quoted = `${header},note\n${row("2026-10-20", "p", 5)},"two\nlines"\n${row("2026-10-32", "p", 5)},\n`;
    expect(figures(["progress", "-", "--json"], quoted)).toMatchObject({
      status: 2,
      stdout: "",
      stderr: "figures: -:4: date 2026-10-32 is not a date (YYYY-MM-DD)\n",
    });
  });

  it.each([
    ["series,date,phase\na,2026-01-01,p", /column value is missing/],
    [
      `${header}\na,2026-10-01,p,5,80,2 of 3,2026-12-01\na,2026-10-02,p,5,90,2 of 3,2026-12-01`,
      /criterion differs within series a/,
    ],
    [`${header}\na,2026-10-01,p,five,80,1,2026-12-01`, /value five is not a number/],
    [`${header}\na,2026-10-01,p,1e999,80,1,2026-12-01`, /value 1e999 is not a number/],
    [`${header}\na,2026-10-01,p,5,80,4 of 3,2026-12-01`, /window 4 of 3/],
    [`${header}\na,2026-10-01,p,5,80,1,tomorrow`, /due tomorrow is not a date/],
    [`${header},direction\na,2026-10-01,p,5,80,1,,sideways`, /direction sideways/],
    ['series,date,phase,value\na,"2026', /is not CSV/],
  ])("refuses %#", (csv, message) => expect(() => progress(csv)).toThrow(message));
});

describe("figures agreement", () => {
  const agreement = (...rows: string[]) =>
    figuresAgreement(["record,kind,unit,first,second", ...rows].join("\r\n"), { json: true });

  it("gives each record the figures of its kind, in order of first appearance", () => {
    const made = JSON.parse(
      agreement("b,trial,1,+,+", "a,count,1,3,3", "b,trial,2,-,+", "a,count,2,0,0", "c,duration,1,30,20"),
    ) as { records: unknown[] };
    expect(made.records).toEqual([
      { record: "b", kind: "trial", units: 2, trialByTrial: 50, kappa: 0 },
      {
        record: "a",
        kind: "count",
        units: 2,
        totalCount: 100,
        meanCountPerInterval: 100,
        exactCountPerInterval: 100,
      },
      { record: "c", kind: "duration", units: 1, totalDuration: 200 / 3, meanDurationPerOccurrence: 200 / 3 },
    ]);
  });

  it("says why a figure is not there", () => {
    expect(JSON.parse(agreement("a,interval,1,0,0"))).toEqual({
      records: [
        {
          record: "a",
          kind: "interval",
          units: 1,
          intervalByInterval: 100,
          scoredInterval: null,
          unscoredInterval: 100,
          kappa: null,
          why: {
            scoredInterval: "no interval was scored by either",
            kappa: "both gave every unit the same label",
          },
        },
      ],
    });
  });

  it.each([
    ["a,count,1,1.5,2", /^first 1\.5 is not a whole number/],
    ["a,interval,1,1,2", /^second 2 is not 0 or 1/],
    ["a,trial,1,,1", /^first is empty/],
    ["a,duration,1,-3,1", /^first -3 is not a number of seconds/],
    ["a,guess,1,1,1", /^kind guess is none of/],
    [",count,1,1,1", /^record is empty/],
    ["a,count,1,1,1\na,trial,2,1,1", /^kind differs/],
  ])("refuses %s", (row, message) => {
    expect(() => agreement(row)).toThrow(message);
  });
});

describe("figures findings", () => {
  const head = "date,time,setting,antecedents,behaviors,consequences,function,minutes,intensity";
  /** A row on the n-th weekday from 7 September 2026. */
  const row = (n: number, time: string, labels: string) => {
    const day = new Date(Date.UTC(2026, 8, 7 + n + 2 * Math.floor(n / 5))).toISOString().slice(0, 10);
    return `${day},${time},Room ${n % 3},${labels},,,`;
  };
  const planted = [
    ...Array.from({ length: 12 }, (_, n) =>
      row(n, `0${8 + (n % 2)}:0${n % 6}`, `the bell,hiding,${n % 3 ? "a break" : "ignored"}`),
    ),
    ...Array.from({ length: 18 }, (_, n) =>
      row(12 + n, `1${n % 4}:30`, `told no ${n % 3},shouting ${n % 2},ignored`),
    ),
  ];
  const found = (rows: string[], header = head) =>
    JSON.parse(figuresFindings([header, ...rows, ""].join("\n"), { json: true })) as {
      episodes: number;
      findings: { kind: string; labels: string[]; words: string; both: number; strength: string }[];
      nothing: string | null;
    };

  it("says what goes together, with its consequences", () => {
    const made = found(planted);
    expect(made).toMatchObject({ n: 30, episodes: 30, nothing: null });
    expect(made.findings[0]).toMatchObject({
      ...{ kind: "antecedent-behavior", strength: "strong", labels: ["the bell", "hiding"], both: 12 },
      words: expect.stringContaining("consequence: “a break” in 8 of the 12, “ignored” in 4") as string,
    });
  });

  it("takes rows less than 30 minutes apart for one episode, or those of one label where the file has them", () => {
    const twice = planted.flatMap((one) => [one, one.replace(/:0(\d),/, ":1$1,")]);
    expect(found(twice)).toMatchObject({ n: 60, episodes: 30 });
    const labelled = planted.map((one, at) => `${one},${at < 4 ? "first" : at}`);
    expect(found(labelled, `${head},episode`)).toMatchObject({ n: 30, episodes: 27 });
    const pairs = JSON.parse(
      figuresIncidents([`${head},episode`, ...labelled].join("\n"), { json: true }),
    ) as { n: number; associations: { a: string; b: string; both: number }[] };
    expect(pairs.n).toBe(30);
    expect(pairs.associations.find(({ a, b }) => a === "the bell" && b === "hiding")?.both).toBe(9);
  });

  it("needs no time where the period is known, and says when there are too few", () => {
    expect(found(["2026-11-16,,a,b,c,d,,,,Math"], `${head},period`)).toMatchObject({
      ...{ n: 1, episodes: 1, findings: [], nothing: "too-few" },
    });
    expect(() => found(["2026-11-16,,a,b,c,d,,,"])).toThrow(/^time is empty/);
  });

  it("answers for several files with a line each, and for people in words", () => {
    const text = [head, ...planted].join("\n");
    expect(JSON.parse(figuresFindings(text, { json: true, file: "one.csv" }))).toMatchObject({
      file: "one.csv",
      n: 30,
    });
    expect(figuresFindings(text, { json: true, file: "one.csv" }).trim()).not.toContain("\n");
    expect(figuresFindings(text, { json: false })).toMatch(/^30 incidents in 30 episodes\n {2}strong: /);
    expect(figuresFindings(`${head}\n`, { json: false })).toContain("Too few episodes to tell.");
  });
});

describe("figures incidents", () => {
  const head = "date,time,setting,antecedents,behaviors,consequences,function,minutes,intensity";
  const read = (...rows: string[]) =>
    JSON.parse(figuresIncidents([head, ...rows, ""].join("\r\n"), { json: true })) as Record<string, unknown>;

  it("counts, places in time, and pairs", () => {
    const made = read(
      "2026-11-16,10:30,Room 4,told to wait,shouting|shouting,break,,3.5,4",
      '2026-11-17,10:59,"Hall, upper",noise|told to wait,shouting|crying,break,escape,,',
      "",
      "2026-10-19,09:00,Room 4,noise,crying,talked with an adult,escape,12,1",
    );
    expect(made).toMatchObject({
      n: 3,
      from: "2026-10-19",
      to: "2026-11-17",
      bySetting: { "Room 4": 2, "Hall, upper": 1 },
      byAntecedent: { noise: 2, "told to wait": 2 },
      byBehavior: { crying: 2, shouting: 2 },
      byFunction: { escape: 2 },
      byMonth: { "2026-10": 1, "2026-11": 2 },
      byWeekday: { 1: 2, 2: 1 },
      byHour: { 9: 1, 10: 2 },
      grid: [
        [1, 9, 1],
        [1, 10, 1],
        [2, 10, 1],
      ],
      intensity: { n: 2, mean: 2.5, median: 2.5, counts: { 1: 1, 4: 1 } },
      minutes: { n: 2, total: 15.5, median: 7.75, longest: 12 },
    });
    const pairs = made["associations"] as { kind: string; a: string; b: string }[];
    expect(
      pairs.find(({ kind, a, b }) => `${kind} ${a} ${b}` === "antecedent-behavior noise crying"),
    ).toEqual({
      kind: "antecedent-behavior",
      ...{ a: "noise", b: "crying", both: 2, aOnly: 0, bOnly: 0, neither: 1 },
      ...{
        phi: 1,
        fisherP: expect.closeTo(1 / 3, 9) as number,
        adjustedP: expect.closeTo(2 / 3, 9) as number,
      },
    });
  });

  it("says why a figure is null", () => {
    expect(read()).toMatchObject({
      n: 0,
      from: null,
      intensity: { n: 0, mean: null, why: { mean: expect.any(String) as string } },
      associations: [],
    });
    expect(read("2026-11-16,10:30,a,b,c,d,,,")["associations"]).toMatchObject([
      { phi: null, why: { phi: expect.any(String) as string }, fisherP: 1 },
      {},
      {},
      {},
    ]);
  });

  it.each([
    ["2026-02-30,10:30,a,b,c,d,,,", /^date 2026-02-30 is not a date/],
    ["2026-11-16,25:30,a,b,c,d,,,", /^time 25:30/],
    ["2026-11-16,10:30,,b,c,d,,,", /^setting is empty/],
    ["2026-11-16,10:30,a, | ,c,d,,,", /^antecedents is empty/],
    ["2026-11-16,10:30,a,b,c,d,,soon,", /^minutes soon/],
    ["2026-11-16,10:30,a,b,c,d,,1,strong", /^intensity strong/],
  ])("refuses %s", (row, message) => {
    expect(() => read(row)).toThrow(message);
  });

  it("has a table for people", () => {
    const text = figuresIncidents(`${head}\n2026-11-16,10:30,a,b,c,d,,4,\n`, { json: false });
    expect(text).toMatch(/^1 incidents, 2026-11-16 to 2026-11-16\nsetting: a 1\n/);
    expect(text).toContain("antecedent-behavior: b + c: both 1\u00a0of\u00a01");
  });
});
