import * as fc from "fast-check";
import { describe, expect, it } from "vitest";
import { dateOfDay, dayNumber, weekdayOf } from "../dates/day-number.ts";
import { choosePatterns, type PatternMaterial, readChoice } from "./choose.ts";
import { starterBands, totalLength } from "./lengths.ts";
import { binSizes, type PatternIncident, patternsOf, timeBins } from "./patterns.ts";
import { incidentRate, rateChange } from "./rate.ts";
import { fewestStudents } from "./fewest-students.ts";
import { type SchoolIncident, schoolPatternsOf } from "./school-patterns.ts";

const first = dayNumber("2026-08-31");
const daysOf = 60;
const day = fc.integer({ min: 0, max: daysOf - 1 }).map((at) => dateOfDay(first + at));
const some = (...labels: string[]) => fc.subarray(labels);
const length = fc.option(
  fc.oneof(
    fc.integer({ min: 0, max: 200 }).map((minutes) => ({ minutes })),
    fc.constantFrom(...starterBands).map((band) => ({ band })),
  ),
);
/** What a classroom could have written down, with and without what may be left out. */
const anIncident = fc.record({
  on: day,
  at: fc.option(fc.constantFrom("08:30", "10:15", "10:59", "11:00", "12:10", "15:40")),
  setting: fc.option(fc.constantFrom("hall", "gym", "bus")),
  antecedents: some("told no", "had to wait", "bell rang"),
  behaviors: some("shouting", "crying", "running"),
  consequences: some("a break", "reminded"),
  functions: some("escape", "attention"),
  intensity: fc.option(fc.integer({ min: 1, max: 5 })),
  length,
  studentId: fc.constantFrom("a", "b", "c", "d", "e", "f", "g"),
});
const incidents = fc
  .array(anIncident, { maxLength: 60 })
  .map((all): SchoolIncident[] =>
    all
      .map((one, at) => ({ ...one, incidentId: String(at), period: null, minutes: null }))
      .sort((a, b) => (a.on < b.on ? -1 : 1)),
  );
const periods = [1, 2, 3, 4, 5].flatMap((weekday) => [
  { weekday, name: "Math", startsAt: "10:15", endsAt: "11:00" },
  { weekday, name: "Lunch", startsAt: "11:45", endsAt: "12:30" },
]);
const schoolDays = Array.from({ length: daysOf }, (_, at) => dateOfDay(first + at)).filter(
  (date) => weekdayOf(date) <= 5,
);
const [from, to] = [dateOfDay(first), dateOfDay(first + daysOf - 1)];
const observed = (all: readonly PatternIncident[]) =>
  [...new Set([...schoolDays, ...all.map(({ on }) => on)])].sort();
const ids = (all: readonly PatternIncident[]) => all.map(({ incidentId }) => incidentId).sort();
const everyPattern = (all: readonly PatternIncident[]) =>
  patternsOf({ incidents: all, days: observed(all), silent: 0, from, to, periods, bands: starterBands });

describe("whatever was written down", () => {
  it("each incident stands in exactly one stretch of the time axis, and each observed day too", () => {
    fc.assert(
      fc.property(incidents, fc.constantFrom(...binSizes), (all, size) => {
        const bins = timeBins(all, observed(all), { from, to }, size);
        expect(bins.flatMap(({ incidentIds }) => incidentIds).sort()).toEqual(ids(all));
        expect(bins.reduce((sum, { days }) => sum + days, 0)).toBe(observed(all).length);
        bins.slice(1).forEach((bin, at) => {
          expect(dayNumber(bin.from)).toBe(dayNumber(bins[at]?.to ?? "") + 1);
        });
      }),
      { numRuns: 60 },
    );
  });

  it("each incident is in one cell of the week or named as in none", () => {
    fc.assert(
      fc.property(incidents, (all) => {
        const { grid, outside } = everyPattern(all);
        const placed = grid.flatMap(({ cells }) => cells.flatMap((cell) => cell?.incidentIds ?? []));
        expect([...placed, ...outside].sort()).toEqual(ids(all));
      }),
      { numRuns: 60 },
    );
  });

  it("counts open as many incidents as they say, and no sentence stands without its own", () => {
    fc.assert(
      fc.property(incidents, (all) => {
        const { findings, pairs, chains, lengths, n, episodes } = everyPattern(all);
        expect(n).toBe(all.length);
        for (const { incidentIds } of findings) {
          expect(incidentIds.length).toBeGreaterThan(0);
          expect(new Set(incidentIds).size).toBe(incidentIds.length);
        }
        for (const { behind, both, aOnly, bOnly, neither } of pairs) {
          expect([both, aOnly, bOnly, neither]).toEqual(
            [behind.both, behind.aOnly, behind.bOnly, behind.neither].map((some) => some.length),
          );
          expect(both + aOnly + bOnly + neither).toBe(episodes);
        }
        for (const { count, incidentIds } of chains) expect(incidentIds).toHaveLength(count);
        const inBands = lengths.bands.reduce((sum, { incidentIds }) => sum + incidentIds.length, 0);
        expect(inBands).toBe(lengths.known);
        expect(lengths.total.high ?? Infinity).toBeGreaterThanOrEqual(lengths.total.low);
      }),
      { numRuns: 60 },
    );
  });

  it("fewer than five say nothing", () => {
    fc.assert(
      fc.property(incidents, (all) => {
        expect(everyPattern(all.slice(0, 4)).findings).toEqual([]);
      }),
      { numRuns: 40 },
    );
  });

  it("before and since a plan are the whole span, and a narrower choice has no more in it", () => {
    fc.assert(
      fc.property(incidents, day, some("shouting", "crying"), some("hall"), (all, beginsOn, did, where) => {
        const material: PatternMaterial = {
          ...{ incidents: all, days: observed(all), silentDays: [], notWatched: [], periods },
          ...{ bands: starterBands, earliest: from, yearFrom: from, today: to },
          plans: [{ planId: "p", name: "plan", beginsOn, endsOn: null }],
        };
        const chosen = (search: string) =>
          choosePatterns(material, readChoice(new URLSearchParams(search), material));
        const whole = chosen("compare=p");
        if (whole.comparison) {
          expect(whole.comparison.before.n + whole.comparison.after.n).toBe(whole.patterns.n);
          const { before, after } = whole.comparison.rates ?? {};
          if (before && after) expect(before.days + after.days).toBe(whole.patterns.rate?.days);
        } else expect(beginsOn).toBe(from);
        const narrow = new URLSearchParams([
          ...did.map((name) => ["behavior", name]),
          ...where.map((name) => ["setting", name]),
        ] as [string, string][]);
        expect(chosen(narrow.toString()).patterns.n).toBeLessThanOrEqual(whole.patterns.n);
      }),
      { numRuns: 60 },
    );
  });
});

describe("whatever was counted", () => {
  const daily = fc.array(fc.integer({ min: 0, max: 9 }), { minLength: 1, maxLength: 60 });

  it("a rate lies in its interval, and days without an incident make it smaller", () => {
    fc.assert(
      fc.property(daily, (counts) => {
        const rate = incidentRate(counts);
        if (!rate) throw new Error("there were days");
        expect(rate.low).toBeLessThanOrEqual(rate.perDay);
        expect(rate.high).toBeGreaterThanOrEqual(rate.perDay);
        expect(incidentRate([...counts, 0])?.perDay).toBeLessThanOrEqual(rate.perDay);
      }),
    );
  });

  it("a change turned round is its reverse, and nothing changes where the days are the same", () => {
    fc.assert(
      fc.property(daily, daily, (some, others) => {
        const onDays = (counts: readonly number[], from: string) =>
          counts.map((count, at) => ({ on: dateOfDay(dayNumber(from) + at), count }));
        const [before, after] = [onDays(some, "2026-01-05"), onDays(others, "2026-06-01")];
        const [there, back] = [rateChange(before, after), rateChange(after, before)];
        if (!there || !back) throw new Error("there were days");
        if (there.p !== null) expect(back.p).toBeCloseTo(there.p, 10);
        else expect(back.p).toBeNull();
        if (there.ratio && back.ratio) expect(there.ratio * back.ratio).toBeCloseTo(1, 10);
        expect(rateChange(before, onDays(some, "2026-06-01"))?.p ?? 1).toBeCloseTo(1, 10);
      }),
    );
  });

  it("a total of lengths grows with each", () => {
    const known = length.filter((one) => one !== null);
    fc.assert(
      fc.property(fc.array(known, { maxLength: 20 }), known, (some, one) => {
        const [without, all] = [totalLength(some), totalLength([...some, one])];
        expect(all.low).toBeGreaterThanOrEqual(without.low);
        if (without.high === null) expect(all.high).toBeNull();
      }),
    );
  });
});

describe("whatever a school wrote down", () => {
  const counted = (all: readonly SchoolIncident[]) =>
    schoolPatternsOf({
      ...{ incidents: all, days: schoolDays, from, to, periods, bands: starterBands },
    });

  it("no number stands there behind which fewer than three students are", () => {
    fc.assert(
      fc.property(incidents, (all) => {
        const found = counted(all);
        const students = (some: readonly SchoolIncident[]) =>
          new Set(some.map(({ studentId }) => studentId)).size;
        if (!found) {
          expect(students(all)).toBeLessThan(fewestStudents);
          return;
        }
        for (const { label, count } of found.labels.setting.counts) {
          const behind = all.filter(({ setting }) => setting === label);
          expect(count).toBe(behind.length);
          expect(students(behind)).toBeGreaterThanOrEqual(3);
        }
        for (const { from: begin, to: end, count } of found.bins) {
          const behind = all.filter(({ on }) => begin <= on && on <= end);
          if (count !== null && count > 0) expect(students(behind)).toBeGreaterThanOrEqual(3);
        }
        // What all together have and all but one say would tell that one.
        const unsaid = found.bins.filter(({ count }) => count === null);
        const said = found.bins.filter(({ count }) => count !== null && count > 0);
        expect(unsaid.length === 1 && said.length > 0).toBe(false);
      }),
      { numRuns: 100 },
    );
  });
});
