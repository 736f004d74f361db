import { describe, expect, it } from "vitest";
import { type Catalogue, en } from "./en.ts";
import type { CriterionArgs } from "./en/criterion.ts";
import type { LevelsArgs, PairsArgs } from "./en/changes.ts";
import type { FindingMore, PairArgs } from "./en/findings.ts";
import type { IncidentArgs } from "./en/incident-line.ts";
import type { OutlookArgs, PaceArgs } from "./en/progress.ts";
import type { PeriodLevelArgs } from "./en/statement.ts";
import type { CriterionStateArgs } from "./en/standing.ts";
import { standingNamesEn } from "./en/standing-names.ts";
import { es } from "./es.ts";

const plain = (text: string) => text.replaceAll("\u00a0", " ");
const odd = [0, 1, 2, 5, 0.5, 1234.56];
const on = "2026-11-24";
const later = "2026-12-18";
const units = ["percent", "seconds", "count", "per minute", "minutes"];
const directions = ["increase", "decrease"] as const;
const reports = ["total", "mean", "longest", "share"] as const;
const averages = ["median", "mean"] as const;
const periods = ["week", "month", undefined] as const;
const reasons = ["refused", "interrupted"] as const;
const share = (n: number) => ({ value: n * 10, numerator: n, denominator: 10 });
const verbal = { level: "verbal", isFirst: false };

type Area = Exclude<keyof Catalogue, "language">;
/** Every entry of every area with a number in each of its places; one that is left out does not compile. */
type Rendered = {
  [A in Area]: { [K in keyof Catalogue[A]]: (words: Catalogue[A], n: number) => readonly string[] };
};

const standingKeys = Object.keys(standingNamesEn) as (keyof typeof standingNamesEn)[];
const criterionOf = (n: number) => `${Math.round(n % 100)}%`;
const occasions = ["session", "day", "week", "month"] as const;
const criteria = (n: number): CriterionArgs[] =>
  units.flatMap((unit) =>
    directions.flatMap((direction) =>
      occasions.flatMap((windowUnit) =>
        [
          { k: 1, n: 1 },
          { k: 3, n: 3 },
          { k: 3, n: 4 },
        ].map((window) => ({
          ...{ value: n, direction, unit, windowUnit, window, settings: n, people: n },
          minimumOpportunities: n,
          joined: [
            { value: n, direction, unit: "percent", figure: "accuracy", label: "accuracy" },
            {
              value: n,
              direction,
              unit: "percent",
              figure: "cumulative.verbal",
              label: "with a verbal prompt",
            },
          ],
        })),
      ),
    ),
  );

const states = (n: number): CriterionStateArgs[] =>
  directions.flatMap((direction) =>
    occasions.flatMap((occasion) =>
      [
        [1, 1],
        [3, 3],
        [3, 4],
      ].flatMap(([k = 1, of = 1]) =>
        [0, 1, 2].flatMap((inWindow) =>
          [inWindow, of].map((seen) => ({
            ...{ value: n, direction, unit: "percent", joined: [], occasion, k, n: of },
            ...{ inWindow: Math.min(inWindow, of), of: Math.min(seen, of) },
          })),
        ),
      ),
    ),
  );

const periodLevels = (n: number): PeriodLevelArgs[] =>
  units.flatMap((unit) =>
    occasions.flatMap((occasion) =>
      [true, false].map((isTotal) => ({
        ...{ name: "Zup", period: "Zip", isOver: isTotal, value: n, unit, occasion, isTotal },
        ...{ n: Math.max(1, Math.round(n)), counted: isTotal ? null : { numerator: n, denominator: n } },
        ...{ baseline: n, before: isTotal ? null : { name: "Zap", value: n } },
      })),
    ),
  );
const latestPoints = (n: number) =>
  units.flatMap((unit) =>
    occasions.map((occasion) => ({
      ...{ value: n, unit, on, occasion },
      counted: unit === "percent" ? { numerator: n, denominator: n } : null,
    })),
  );
const paceKeys = ["enough", "not-enough", "unclear", "too-early"] as const;

/** A criterion that was reached had an occasion. */
const reachedStates = (n: number) => states(n).filter(({ of }) => of > 0);

const slopes = (n: number) =>
  units.flatMap((unit) => [
    { perWeek: n, low: -n, high: n, unit },
    { perWeek: -n, low: null, high: null, unit },
  ]);
const verdicts = ["enough", "not-enough", "unclear"] as const;
const paces = (n: number): PaceArgs[] =>
  units.flatMap((unit) =>
    directions.flatMap((direction) =>
      verdicts.flatMap((verdict) =>
        [n, -n].map((gain) => ({ gain, low: gain - 1, high: gain + 1, needed: n, direction, unit, verdict })),
      ),
    ),
  );
const outlooks = (n: number): OutlookArgs[] =>
  units.flatMap((unit) =>
    directions.flatMap((direction) =>
      [
        { low: n, high: n + 1 },
        { low: n, high: 200 + n },
        { low: -n - 1, high: n },
      ].flatMap((ends) =>
        [0, 0.5, 1].map((probability) => ({
          ...{ dueOn: later, mean: n, ...ends, least: 0, greatest: n + 100, unit },
          chance: probability === 0.5 && unit === "count" ? null : { probability, value: n, direction },
        })),
      ),
    ),
  );
const totals = (n: number) =>
  (["week", "month"] as const).map((period) => ({ period, on, total: n, target: n, unit: "minutes" }));

const levels = (n: number): LevelsArgs[] =>
  units.flatMap((unit) => [0, n, 2 * n].map((before) => ({ before, after: n, unit })));
const pairs = (n: number): PairsArgs[] =>
  (["baseline", "phases", "points"] as const).map((between) => ({
    ...{ nap: 0.89, low: 0.7, high: 0.96, of: n, hasTies: true, between },
  }));
const both = (n: number) => ({ before: n, after: n });

const pairKinds: PairArgs["kind"][] = [
  "antecedent-behavior",
  "setting-behavior",
  "behavior-consequence",
  "antecedent-consequence",
];
const slot = { name: "Arte", startsAt: "10:15", endsAt: "11:00" };
const found = (n: number) => pairKinds.map((kind) => ({ kind, a: "zip", b: "zap", both: n, of: n + 1 }));
const rate = (n: number) => ({ incidents: n, days: n, perDay: n });
const more = (n: number): FindingMore => ({
  followed: {
    labels: [
      { label: "zap", n },
      { label: "zup", n },
    ],
    of: n + 1,
  },
  when: { n, of: n + 1, weekdays: [1, 3], slot },
});
const nothingMore: FindingMore = { followed: null, when: null };

const incidents = (n: number): IncidentArgs[] =>
  [true, false].flatMap((ongoing) =>
    [true, false, null].map((resolved) => ({
      ...{ behavior: ["zip", "zap"], antecedent: ["zup"], consequence: ["zep"], setting: "zop" },
      ...{ ongoing, duration: n, intensity: 3, resolved, resolvedMinutes: n },
      ...{ injury: true, restraint: true, seclusion: true },
    })),
  );

const rendered: Rendered = {
  entries: {
    trials: (words, n) => [
      words.trials(share(n)),
      words.trials({ value: null, numerator: null, denominator: null }),
    ],
    checklist: (words, n) => [words.checklist(share(n))],
    promptLevels: (words, n) => [words.promptLevels(share(n), verbal, [{ level: "verbal", count: n }])],
    skills: (words, n) => [words.skills(share(n), { level: "independent", isFirst: true })],
    skillsOpen: (words, n) => [words.skillsOpen(n, 5)],
    steps: (words, n) => [
      words.steps(share(n), verbal, { place: n, name: "zip" }),
      words.steps(share(n), verbal, null),
    ],
    stepsOpen: (words, n) => [words.stepsOpen(n, 5)],
    count: (words, n) => [
      words.count({ count: n, counted: undefined, observedSeconds: undefined, rate: null }),
      words.count({
        count: n,
        counted: "call-outs",
        observedSeconds: 600,
        rate: { value: n, unit: "per minute" },
      }),
    ],
    intervals: (words, n) => [words.intervals(share(n), 30, n)],
    duration: (words, n) =>
      reports.flatMap((report) =>
        [n, null].map((value) => words.duration({ value, report, bouts: n, observedSeconds: 600 })),
      ),
    latencyWithin: (words, n) => [words.latencyWithin(share(n), 45, n)],
    latency: (words, n) =>
      averages.flatMap((report) => [n, null].map((value) => words.latency(value, report, n, n))),
    fluency: (words, n) => [
      words.fluency({ perMinute: n, accuracy: n, counted: "words", attempted: n, seconds: 60, errors: n }),
    ],
    outcome: (words, n) => [words.outcome("calm", n)],
    otherOutcome: (words) => [words.otherOutcome("a walk")],
    rubric: (words, n) => [words.rubric(share(n), "T. Brand"), words.rubric(share(n), undefined)],
    runningTotal: (words, n) => [words.runningTotal(n, "minutes")],
    soFar: (words, n) => periods.map((period) => words.soFar("2026-11-24", period, n, 300)),
    support: (words) => [words.support("verbal")],
    interrupted: (words) => [words.interrupted()],
    notMeasured: (words) => reasons.map((reason) => words.notMeasured(reason)),
  },
  incidentLine: {
    duration: (w, n) => [w.duration(n), w.duration("5–15 min")],
    incident: (w, n) => [
      ...incidents(n).map(w.incident),
      w.incident({
        ...{ behavior: ["zip"], antecedent: [], consequence: [], setting: null, ongoing: false },
        ...{ duration: null, intensity: null, resolved: null, resolvedMinutes: null },
        ...{ injury: false, restraint: false, seclusion: false },
      }),
    ],
  },
  criterion: {
    joined: (w, n) => criteria(n).flatMap(({ joined }) => joined.map(w.joined)),
    criterion: (w, n) => criteria(n).map(w.criterion),
    countsNeeded: (w, n) =>
      directions.flatMap((direction) =>
        [true, false].map((isExact) =>
          w.countsNeeded({ percent: n, direction, opportunities: n, needed: n, isExact }),
        ),
      ),
  },
  standing: {
    names: (w) => Object.values(w.names),
    confirmed: (w) => [w.confirmed(on)],
    newPhase: (w, n) => [w.newPhase(n, on, "behind"), w.newPhase(n, on, null)],
    tooFew: (w, n) => [w.tooFew(n)],
    noLine: (w) => Object.values(w.noLine),
    wasDue: (w) => [w.wasDue(on)],
    side: (w) =>
      [true, false].flatMap((isAbove) => [w.side("last four", isAbove), w.side("seven of eight", isAbove)]),
    bothSides: (w) => [w.bothSides()],
    criterionReached: (w, n) => reachedStates(n).map((state) => w.criterionReached(on, state)),
    criterionLost: (w, n) => reachedStates(n).map((state) => w.criterionLost(on, state)),
    criterionOpen: (w, n) =>
      states(n).flatMap((state) => [
        w.criterionOpen(state, undefined, undefined),
        w.criterionOpen(state, { seen: 1, needed: 2 }, { seen: 0, needed: 2 }),
      ]),
    stale: (w, n) => [w.stale(on, on), w.stale(on, later), w.stale("2026-11-23", on), String(n)].slice(0, 3),
  },
  progress: {
    slope: (w, n) => slopes(n).map(({ perWeek, unit }) => w.slope(perWeek, unit)),
    tooFewForTrend: (w, n) => [w.tooFewForTrend(n)],
    noTrend: (w, n) => slopes(n).map(w.noTrend),
    level: (w, n) => slopes(n).map(w.level),
    direction: (w, n) =>
      slopes(n).flatMap((args) => [w.direction("rising", args), w.direction("falling", args)]),
    paceTooEarly: (w, n) => units.map((unit) => w.paceTooEarly(n, unit)),
    paceFromHere: (w, n) =>
      units.flatMap((unit) => verdicts.map((verdict) => w.paceFromHere(n, unit, verdict))),
    pace: (w, n) => paces(n).map(w.pace),
    confirm: (w) => [w.confirm()],
    raise: (w, n) => [w.raise({ points: n, weeks: n })],
    change: (w, n) => [null, on].map((taughtOn) => w.change({ points: n, weeks: n }, taughtOn)),
    askTaught: (w, n) => [w.askTaught({ points: n, weeks: n })],
    duePassed: (w) => [w.duePassed()],
    tooFewToProject: (w) => [w.tooFewToProject()],
    noSpread: (w) => [w.noSpread()],
    tooEarlyToProject: (w) => [w.tooEarlyToProject()],
    wouldPass: (w, n) => units.map((unit) => w.wouldPass(n, unit)),
    outlook: (w, n) => outlooks(n).map(w.outlook),
    totalSoFar: (w, n) => [w.totalSoFar(n, n, "minutes")],
    totalThisPeriod: (w, n) => totals(n).map((total) => w.totalThisPeriod({ ...total, daysLeft: n })),
    totalLastPeriod: (w, n) => totals(n).map(w.totalLastPeriod),
    runningPeriod: (w, n) =>
      units.flatMap((unit) =>
        (["day", "week", "month"] as const).map((per) => w.runningPeriod(per, n, unit)),
      ),
  },
  changes: {
    difference: (w, n) => levels(n).map(w.difference),
    pairs: (w, n) => pairs(n).map(w.pairs),
    sinceBaseline: (w, n) =>
      levels(n).flatMap((args) => [
        w.sinceBaseline(args, { points: n }, n, pairs(n)[0] ?? null),
        w.sinceBaseline(args, { enteredFor: on }, n, null),
      ]),
    sincePhase: (w, n) =>
      levels(n).flatMap((args) =>
        [null, pairs(n)[1] ?? null].map((seen) => w.sincePhase("zip", args, both(n), seen)),
      ),
    inPeriod: (w, n) => levels(n).map((args) => w.inPeriod("zip", args, n, n)),
    sincePeriod: (w, n) => levels(n).map((args) => w.sincePeriod("zip", on, args, both(n))),
    plainly: (w, n) =>
      (["baseline", "phase", "this period", "last period", "break"] as const).flatMap((kind) =>
        [...levels(n), { before: n, after: n, unit: "percent" }].map((args) =>
          w.plainly({ kind, name: "zip" }, args),
        ),
      ),
    overBreak: (w, n) =>
      levels(n).flatMap((args) =>
        (["not yet", { on, schoolDay: n }, null] as const).map((back) =>
          w.overBreak({ name: "zip", levels: args, n: both(n), back, step: n }),
        ),
      ),
    blankPoints: (w, n) => [w.blankPoints(n, n + 1)],
    fewToCompare: (w, n) => [
      w.fewToCompare([
        { name: null, n },
        { name: "zip", n },
      ]),
    ],
    changedWithPhase: (w) => [
      w.changedWithPhase("observer", "N. Halloran", "T. Brand"),
      w.changedWithPhase("setting", "zip", "zap"),
    ],
    fewOpportunities: (w, n) => [w.fewOpportunities(n || 3)],
    lowAgreement: (w, n) => [w.lowAgreement(n, n, 80)],
    independence: (w, n) => [w.independence("independent", n || 3, verbal)],
    pooledShare: (w, n) => [w.pooledShare(n, n, n)],
    weekday: (w) => [1, 2, 3, 4, 5, 6, 7].map(w.weekday),
    meanOfSessions: (w, n) => units.map((unit) => w.meanOfSessions(n, unit)),
  },
  sides: {
    none: (w) => w.none(),
    points: (w, n) => w.points(n, on, later),
    median: (w, n) =>
      [w.median(null, n, "percent"), w.median("zip", n, "count"), w.median("", n, "seconds")].flat(),
    range: (w, n) => units.flatMap((unit) => w.range(n, n, unit)),
    allTogether: (w, n) => w.allTogether(n, n + 1),
    trend: (w, n) => units.flatMap((unit) => w.trend(n, unit)),
    noTrend: (w) => [w.noTrend("one day"), w.noTrend("phases")].flat(),
    last: (w, n) => units.flatMap((unit) => w.last(n, unit)),
    nothingToCompare: (w) => [w.nothingToCompare()],
    severalPhases: (w) => [w.severalPhases()],
    tooFewForChange: (w, n) => [w.tooFewForChange("zip", n)],
    ownChange: (w, n) =>
      levels(n).flatMap((args) => [w.ownChange("zip", args, true), w.ownChange("zip", args, false)]),
    medians: (w, n) => levels(n).map((args) => w.medians(args, n, n, pairs(n)[2] ?? null)),
  },
  findings: {
    finding: (w, n) => [
      ...found(n).flatMap((pair) =>
        (["incidents", "episodes"] as const).flatMap((counted) =>
          [more(n), nothingMore].map((tails) =>
            w.finding({ ...pair, counted, others: n, othersOf: n }, tails),
          ),
        ),
      ),
      ...[2, null].map((weekday) =>
        w.finding(
          { kind: "time", counted: "episodes", n, of: n, weekday, slot, minutes: 45, dayMinutes: 390 },
          nothingMore,
        ),
      ),
      w.finding({ kind: "weekday", weekday: 2, days: n, of: n, otherDays: n, othersOf: n }, nothingMore),
      w.finding({ kind: "change", plan: "zip", before: rate(n), after: rate(n) }, nothingMore),
    ],
    tooFew: (w) => [w.tooFew()],
    nothing: (w) => [w.nothing()],
    schoolPair: (w, n) => found(n).map((pair) => w.schoolPair(pair, n)),
    schoolTime: (w, n) => [w.schoolTime({ n, of: n, weekday: 2, slot, share: n, students: n })],
    rate: (w) =>
      [true, false].map((widened) => w.rate({ perDay: 0.5, low: 0.2, high: 1, widened, perWeek: 2.5 })),
    notCompared: (w) => [w.notCompared()],
    change: (w, n) =>
      [null, 0.3, n].flatMap((ratio) => [null, 0.0001, 0.5].map((p) => w.change(rate(n), rate(n), ratio, p))),
    times: (w) => [0.34, 0.5, 1, 0.85, 1.3, 2.1, 12, 1234.56].map(w.times),
    pValue: (w) => [0.0004, 0.034, 0.5].map(w.pValue),
  },
  family: {
    meaning: (w, n) => [
      w.meaning("Wren", "Zip", criterionOf(n), later),
      w.meaning("Wren", "Zip", criterionOf(n), null),
    ],
    standing: (w) => standingKeys.map((key) => w.standing(key, "Wren")),
    briefly: (w) => standingKeys.map((key) => w.briefly(key)),
    pace: (w) => [true, false].flatMap((enough) => [w.pace(enough, true), w.pace(enough, false)]),
    stale: (w) => [w.stale()],
    atFirst: (w) => [w.atFirst()],
    now: (w) => [w.now()],
    measurements: (w, n) => [w.measurements(n)],
    iep: (w) => [w.iep()],
    notMeasured: (w) => [w.notMeasured()],
    glance: (w) => [w.glance("Zip", ["25%", "70%"], w.briefly("on")), w.glance("Zip", [], w.briefly("on"))],
    writtenBy: (w) => [w.writtenBy("T. Brandvold", "N. Halloran")],
    position: (w) => [w.position("Nurse")],
    columns: (w) => Object.values(w.columns),
  },
  jots: {
    section: (w) => [w.section()],
    noCategory: (w) => [w.noCategory()],
    line: (w) => [
      w.line("Zip", null, false),
      w.line("Zip", "level", false),
      w.line("Zip", "level", true),
      w.line(null, null, false),
    ],
    picture: (w) => [w.picture("Zip")],
    pictures: (w, n) => [w.pictures(n)],
    onTheWay: (w) => [w.onTheWay("Zip")],
    counts: (w, n) => [
      w.counts([
        { label: "Zip", n },
        { label: "snap", n: 2 },
      ]),
    ],
    written: (w, n) => [w.written(n)],
    latest: (w) => [w.latest()],
    levels: (w) => [w.levels("Zip")],
    drawn: (w) => [w.drawn("Zip", [{ on, level: "level" }])],
    tick: (w) => [w.tick(on)],
    legend: (w) => [w.legend(true), w.legend(false)],
    raters: (w) => [w.raters()],
    ownRating: (w) => [w.ownRating()],
    rater: (w, n) => [w.rater(n)],
    raterMean: (w, n) => [w.raterMean(n, n, "levels"), w.raterMean(n, n, "percent")],
    day: (w) => [w.day(on)],
    agreement: (w, n) => [w.agreement({ days: n, compared: n || 1, same: n, near: n })],
    noAgreement: (w) => [w.noAgreement()],
    adultsMean: (w, n) => [w.adultsMean(n, "levels", 4), w.adultsMean(n, "percent", 0)],
  },
  statement: {
    label: (w) => [w.label("Zip")],
    rating: (w) => [w.rating("zip")],
    level: (w, n) => periodLevels(n).map(w.level),
    baseline: (w, n) => periodLevels(n).map(w.baseline),
    notMeasured: (w) => [w.notMeasured("Zip", true), w.notMeasured("Zip", false)],
    latest: (w, n) => latestPoints(n).map(w.latest),
    met: (w) => [w.met(on), w.met(null)],
    reached: (w) => [w.reached()],
    lost: (w) => [w.lost()],
    pastDue: (w) => [w.pastDue(on)],
    pace: (w, n) =>
      paceKeys.flatMap((key) =>
        units.flatMap((unit) =>
          directions.map((direction) => w.pace(key, { target: n, unit, direction, dueOn: later })),
        ),
      ),
    rate: (w, n) =>
      units.flatMap((unit) =>
        directions.flatMap((direction) =>
          [n, -n, null].flatMap((gain) => [n, -n].map((needed) => w.rate({ gain, needed, unit, direction }))),
        ),
      ),
    noDueDate: (w) => [w.noDueDate()],
    noCriterion: (w) => [w.noCriterion()],
    plainLevel: (w, n) => periodLevels(n).map(w.plainLevel),
    plainBaseline: (w, n) => periodLevels(n).map(w.plainBaseline),
    plainLatest: (w, n) => latestPoints(n).map(w.plainLatest),
    plainPace: (w) => paceKeys.map((key) => w.plainPace(key, "Zup", later)),
  },
  report: {
    running: (w) => [w.running()],
    glance: (w) => [w.glance()],
    goals: (w) => [w.goals()],
    goal: (w) => [w.goal()],
    behavior: (w) => [w.behavior()],
    log: (w) => [true, false].flatMap((has) => [w.log("time", has), w.log("goal", has)]),
    noGoals: (w) => [w.noGoals()],
    incidents: (w) => [w.incidents()],
    meeting: (w) => Object.values(w.meeting),
    parents: ({ parents: w }) => [...[w.title, w.incidents, w.by("Zip", on, null), w.by("Zip", on, "Zap")]],
    assessment: ({ assessment: w }, n) => [
      ...[w.called(), ...Object.values(w.columns), w.level(n, n), w.about(on, n, n), w.by("Zip Zap")],
    ],
    noEntries: (w) => [w.noEntries()],
    day: (w) => [w.day(on)],
    labels: (w) => Object.values(w.labels),
    span: (w) => [w.span(null, later), w.span(on, later)],
    member: (w) => [w.member("Zip Zap", "teacher"), w.member("Zip Zap", "")],
    on: (w) => [w.on(on)],
    pace: (w) => Object.values(w.pace),
    parts: (w) => [w.parts("zip", "3", "zap", "1")],
    carried: (w) =>
      (["person", "setting"] as const).map((by) =>
        w.carried(by, [
          { name: "zip", words: "62%" },
          { name: "zap", words: "48%" },
        ]),
      ),
    incidentsIn: (w, n) => [w.incidentsIn(n, n, "zip")],
    noIncidents: (w, n) => [w.noIncidents(n)],
    noObservedDay: (w) => [w.noObservedDay()],
    silentDays: (w, n) => [w.silentDays(n)],
    sincePeriod: (w) => [w.sincePeriod("Zip", "Zap", "Zup.")],
    soFar: (w) => [w.soFar("Zip")],
    mostOften: (w, n) => [
      w.mostOften([{ label: "zip", n }], []),
      w.mostOften(
        [
          { label: "zip", n },
          { label: "zap", n },
        ],
        [{ label: "zup", n }],
      ),
    ],
    weeks: (w) => [w.weeks()],
    weekTick: (w) => [w.weekTick(on)],
    by: (w) => [w.by(on, "13:20", "Zip"), w.by(null, "Arte", "Zip"), w.by(null, "", "Zip")],
    week: (w, n) => [w.week(on, n, n)],
    planDays: (w) => [w.planDays(on, null), w.planDays(on, later)],
    decided: (w) =>
      (
        ["keep going", "raise", "change instruction", "new phase", "more data", "taught as planned"] as const
      ).flatMap((kind) => [w.decided(kind, null), w.decided(kind, "zap")]),
    value: (w, n) => units.map((unit) => w.value(n, unit)),
    countedOn: (w, n) => [w.countedOn({ numerator: n, denominator: n }, on), w.countedOn(null, on)],
    legend: (w) => [w.legend(["zip", "zap"])],
    medianOf: (w, n) => [w.medianOf(n)],
    enteredFor: (w) => [w.enteredFor(on)],
    glanceGoal: (w) => [
      w.glanceGoal("Zip", ["25%", "70%"], "Zap", "Enough", null),
      w.glanceGoal("Zip", ["25%"], "Zap", null, "Zup."),
      w.glanceGoal("Zip", [], "Zap", null, null),
    ],
    glanceNotMeasured: (w) => [w.glanceNotMeasured("Zip")],
    incidentsBriefly: (w, n) => [w.incidentsBriefly(n, n)],
    weeklyBefore: (w, n) => [w.weeklyBefore(n, n)],
    aboutLast: (w, n) => [
      w.aboutLast({ numerator: n, denominator: n }, null, on),
      w.aboutLast(null, "zip", on),
      w.aboutLast(null, null, on),
    ],
    interval: (w) => [w.interval(40, 89)],
    decision: (w) =>
      (
        ["keep going", "raise", "change instruction", "new phase", "more data", "taught as planned"] as const
      ).flatMap((kind) => [w.decision("Zip", kind, null), w.decision("Zip", kind, "zap")]),
    toCheck: (w) => [w.toCheck("zip", "strong"), w.toCheck("zip", "weak")],
    countedFrom: (w) => [w.countedFrom(on, later)],
  },
  chartText: {
    baseline: (w) => [w.baseline()],
    errors: (w) => [w.errors()],
    metOn: (w) => [w.metOn(on)],
    description: (w, n) =>
      units.flatMap((unit) => [
        w.description({
          ...{ unit, notCounted: n, blank: n, criterion: n, metOn: later },
          points: { n: Math.max(1, Math.round(n)), from: on, to: later, lowest: n, highest: n, last: n },
          aim: { from: n, to: n, on: later },
        }),
        w.description({
          ...{ unit, points: null, notCounted: 0, blank: 0, criterion: null, aim: null, metOn: null },
        }),
      ]),
  },
  chart: {
    ticks: (w) => Object.values(w.ticks).map((tick) => tick(on)),
    percentCorrect: (w) => [w.percentCorrect()],
    percentSkills: (w) => [w.percentSkills()],
    percentKnown: (w) => [w.percentKnown()],
    percentSteps: (w) => [w.percentSteps()],
    percentOfTime: (w) => [w.percentOfTime()],
    percentIntervals: (w) => [w.percentIntervals()],
    percentRubric: (w) => [w.percentRubric()],
    credit: (w) => [w.credit()],
    aimLine: (w) => [w.aimLine()],
    trend: (w) => [w.trend()],
    legendMeasured: (w) => [w.legendMeasured()],
    legendBaseline: (w) => [w.legendBaseline()],
    legendNotCounted: (w) => [w.legendNotCounted()],
    legendNoFigure: (w) => [w.legendNoFigure()],
    legendTrend: (w) => [w.legendTrend()],
    legendAim: (w) => [w.legendAim()],
    legendCriterion: (w) => [w.legendCriterion()],
    percentCredited: (w) => [w.percentCredited(verbal)],
    counted: (w) =>
      [...occasions, "minute" as const, "hour" as const].flatMap((per) => [
        w.counted(undefined, per),
        w.counted("zips", per),
      ]),
    time: (w) => (["total", "mean", "longest"] as const).map((report) => w.time(report, "week")),
    percentWithin: (w, n) => [w.percentWithin(n)],
    delay: (w) => averages.map((report) => w.delay(report)),
    fluency: (w) => ["words", "letters", "sounds", "digits", "zips"].map(w.fluency),
    total: (w) => periods.flatMap((period) => [w.total("minutes", period), w.total("zips", period)]),
    criterion: (w, n) => units.map((unit) => w.criterion(n, unit)),
    legendOthers: (w) => [w.legendOthers(["zip", "zap"])],
    legendShapes: (w) => [w.legendShapes(["zip", "zap"])],
  },
  goalHistory: {
    setUp: (w) => [w.setUp("80%"), w.setUp(null)],
    changed: (w) => [w.changed()],
    act: (w) =>
      (["met", "not met", "discontinued", "continued", "taken up again"] as const).map((act) =>
        w.act(act, on),
      ),
    wording: (w) => [w.wording(on, "zip")],
    criterion: (w) => [w.criterion(on, "80%", null), w.criterion(on, null, "80%")],
    measure: (w) => [w.measure(on)],
    kind: (w) => [w.kind(on, "trials", "supports"), w.kind(on, "running-total", "count")],
    due: (w) => [w.due(on, null), w.due(null, on)],
    number: (w) => [w.number("2", "1")],
    title: (w) => [w.title("Zip", "Zap")],
  },
};

/** Areas whose entries are whole sentences, but for those that are phrases. */
/** Whole sentences in an area of phrases. */
const sentences: Partial<Record<Area, readonly string[]>> = { chartText: ["description"] };
const phrases: Partial<Record<Area, readonly string[]>> = {
  incidentLine: ["duration"],
  standing: ["names"],
  progress: ["slope"],
  changes: ["difference", "pairs", "pooledShare", "weekday", "meanOfSessions"],
  sides: ["none", "points", "median", "range", "allTogether", "trend", "noTrend", "last"],
  findings: ["finding", "schoolPair", "schoolTime", "rate", "times", "pValue"],
  family: ["writtenBy", "position", "columns", "atFirst", "now", "measurements", "iep"],
  jots: [
    ...["section", "noCategory", "picture", "pictures", "onTheWay", "latest", "levels", "tick"],
    ...["raters", "ownRating", "rater", "raterMean", "day"],
  ],
  statement: ["label"],
  report: [
    ...["running", "glance", "goals", "goal", "behavior", "log", "incidents"],
    ...[
      "assessment",
      "meeting",
      "parents",
      "day",
      "on",
      "labels",
      "span",
      "member",
      "pace",
      "value",
      "countedOn",
      "medianOf",
      "enteredFor",
    ],
    ...["soFar", "weeks", "weekTick", "week", "by", "planDays", "aboutLast"],
    "interval",
  ],
};

const one = "\\b(?:1|one)";
const many = "(?:0|2|5|0\\.5|two|five)";
const englishNouns =
  "bout|error|signal|point|week|day|session|month|opening|student|incident|episode|comparison|setting|time";
const spanishNouns: readonly (readonly [one: string, many: string])[] = [
  ...(["episodio", "día", "punto", "minuto", "incidente", "estudiante", "lugar"] as const).map(
    (noun) => [noun, noun.endsWith("r") ? `${noun}es` : `${noun}s`] as const,
  ),
  ["error", "errores"],
  ["señal", "señales"],
  ["vez", "veces"],
  ["mes", "meses"],
  ["semana", "semanas"],
  ["persona", "personas"],
  ["medición", "mediciones"],
  ["sesión", "sesiones"],
  ["oportunidad", "oportunidades"],
  ["comparación", "comparaciones"],
];
const anyOf = (words: readonly string[]) => `(?:${words.join("|")})`;
const wrong = {
  en: [
    /\b(?:said|stands?|kept|told|somebody|whoever|reckoned|meanwhile)\b/i,
    new RegExp(`(?<![\\d.,]|−|to )${one} (?:${englishNouns})s\\b`, "i"),
    new RegExp(`(?<![\\d.,]|of )${many} (?:${englishNouns}|opportunity|person)\\b`, "i"),
    /\bnone (?:\w+s)\b/i,
  ],
  es: [
    /\b(?:of|the|with|without|times|correct|observed|not|is|are|and|points?|weeks?|days?|sessions?|goal|line|aim|prompt|independent|none|never)\b/i,
    new RegExp(
      `(?<![\\d.,]|−| a )\\b(?:1|una?) ${anyOf(spanishNouns.map(([, plural]) => plural))}(?![a-zí])`,
      "i",
    ),
    new RegExp(
      `(?<![\\d.,])(?:0|2|5|0\\.5|cero|dos|cinco) ${anyOf(spanishNouns.map(([single]) => single))}(?![a-zí])`,
      "i",
    ),
  ],
} as const;

const cases = (Object.keys(rendered) as Area[]).flatMap((area) =>
  Object.keys(rendered[area]).map((name) => ({ area, name })),
);

describe.each([en, es])("the sentences in $language", (catalogue) => {
  it.each(cases)("$area $name", ({ area, name }) => {
    const render = (rendered[area] as Record<string, (words: unknown, n: number) => readonly string[]>)[name];
    const texts = odd.flatMap((n) => render?.(catalogue[area], n) ?? []).map(plain);
    expect(texts.length).toBeGreaterThan(0);
    const isSentence =
      sentences[area]?.includes(name) || (phrases[area] !== undefined && !phrases[area].includes(name));
    for (const text of texts) {
      for (const words of wrong[catalogue.language]) expect(text).not.toMatch(words);
      expect(text).not.toMatch(
        /undefined|null|NaN|\[object| {2}| (?:[,;:)]|\.(?!\d))|\( |^ | $|\.\.|[,;:]\.|\.;/,
      );
      expect(text).not.toMatch(/\d %|(?<![.\d])(?!20\d\d)\d{4,}/);
      if (isSentence) expect(text).toMatch(/^[¿“\p{Lu}\d].*[.?]$/su);
      else expect(text).not.toMatch(/\.$/);
    }
  });
});

describe("every sentence", () => {
  it("differs between the languages, but for names and bare numbers", () => {
    const same = cases.filter(({ area, name }) => {
      const render = (rendered[area] as Record<string, (words: unknown, n: number) => readonly string[]>)[
        name
      ];
      return render?.(en[area], 2).join() === render?.(es[area], 2).join();
    });
    expect(same.map(({ area, name }) => `${area}.${name}`)).toEqual([
      "incidentLine.duration",
      "findings.pValue",
      "report.member",
    ]);
  });

  it("is there in both: a language with one fewer or one more does not compile", () => {
    const { running, ...fewer } = es.report;
    // @ts-expect-error one sentence is missing
    const missing: Catalogue["report"] = fewer;
    // @ts-expect-error one sentence is of no use
    const surplus: Catalogue["report"] = { ...es.report, farewell: () => "Adiós" };
    expect(running()).toBe("Informe continuo");
    expect(
      [missing, surplus].map((words) => Object.keys(words).length - Object.keys(en.report).length),
    ).toEqual([-1, 1]);
  });
});
