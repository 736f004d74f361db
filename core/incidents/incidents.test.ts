import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { adjustP } from "./adjust-p.ts";
import { associations, chains } from "./associations.ts";
import { countLabels, timeGrid } from "./counts.ts";
import { fisherExact, phi } from "./fisher-exact.ts";
import { incidentFigures } from "./incident-figures.ts";
import type { LabelledIncident } from "./labelled-incident.ts";
import { bandOf, starterBands, totalLength } from "./lengths.ts";
import { incidentRate, rateChange } from "./rate.ts";

const table = (both: number, aOnly: number, bOnly: number, neither: number) => ({
  both,
  aOnly,
  bOnly,
  neither,
});
const incident = (more: Partial<LabelledIncident> = {}): LabelledIncident => ({
  on: "2026-11-16",
  at: "10:30",
  setting: "room 4",
  antecedents: ["told to wait"],
  behaviors: ["shouting"],
  consequences: ["talked with an adult"],
  functions: [],
  minutes: null,
  intensity: null,
  ...more,
});

describe("two labels", () => {
  // SciPy 1.17.1: scipy.stats.fisher_exact([[both, aOnly], [bOnly, neither]]).pvalue, and phi from the four counts by NumPy.
  it.each([
    [[8, 2, 1, 5], 0.034965034965034975, 0.6180700462007377],
    // The lady tasting tea: Fisher, The Design of Experiments (1935).
    [[3, 1, 1, 3], 0.48571428571428565, 0.5],
    [[26, 5, 8, 78], 2.6955469017846783e-14, 0.724782673786395],
    [[12, 0, 15, 40], 2.898777613669054e-6, 0.5685352436149611],
    [[1, 9, 11, 3], 0.0027594561852200836, -0.6761234037828132],
    [[400, 1600, 900, 17100], 9.743467234190544e-105, 0.18253663072083826],
    [[0, 5, 5, 0], 0.007936507936507938, -1],
  ] as const)("%j: Fisher's exact p and phi", ([both, aOnly, bOnly, neither], p, strength) => {
    const seen = table(both, aOnly, bOnly, neither);
    expect(fisherExact(seen) / p).toBeCloseTo(1, 7);
    expect(phi(seen)).toBeCloseTo(strength, 12);
  });

  it("say nothing where one of them is in every incident", () => {
    expect(fisherExact(table(4, 0, 3, 0))).toBe(1);
    expect(phi(table(4, 0, 3, 0))).toBeNull();
  });

  it("are the same the other way round, and never more likely than certain", () => {
    const count = fc.integer({ min: 0, max: 60 });
    fc.assert(
      fc.property(count, count, count, count, (both, aOnly, bOnly, neither) => {
        const p = fisherExact(table(both, aOnly, bOnly, neither));
        expect(p).toBeGreaterThan(0);
        expect(p).toBeLessThanOrEqual(1);
        expect(fisherExact(table(both, bOnly, aOnly, neither))).toBeCloseTo(p, 9);
        expect(fisherExact(table(neither, aOnly, bOnly, both))).toBeCloseTo(p, 9);
      }),
    );
  });

  it("have a p adjusted for how many were looked at", () => {
    // SciPy 1.17.1: scipy.stats.false_discovery_control([0.001, 0.2, 0.03, 0.04, 0.011, 0.9, 0.03])
    const wanted = [0.007, 0.23333333333333336, 0.0525, 0.056, 0.0385, 0.9, 0.0525];
    adjustP([0.001, 0.2, 0.03, 0.04, 0.011, 0.9, 0.03]).forEach((p, at) =>
      expect(p).toBeCloseTo(wanted[at] ?? -1, 12),
    );
    expect(adjustP([])).toEqual([]);
  });
});

describe("what goes with what", () => {
  const cries = { antecedents: ["noise"], behaviors: ["crying"], consequences: ["break"], setting: "hall" };
  const incidents = [
    incident(),
    incident({ behaviors: ["shouting", "shouting", "crying"] }),
    incident(cries),
    incident(cries),
  ];

  it("counts an incident once under each of its labels, however often a label stands there", () => {
    expect(countLabels(incidents, "behavior")).toEqual({ crying: 3, shouting: 2 });
    expect(Object.keys(countLabels(incidents, "setting"))).toEqual(["hall", "room 4"]);
  });

  it("lists the pairs that at least one incident has, with their four counts", () => {
    const pairs = associations(incidents);
    expect(pairs.filter(({ kind }) => kind === "antecedent-behavior")).toMatchObject([
      { a: "told to wait", b: "shouting", both: 2, aOnly: 0, bOnly: 0, neither: 2, phi: 1 },
      { a: "noise", b: "crying", both: 2, aOnly: 0, bOnly: 1, neither: 1 },
      { a: "told to wait", b: "crying", both: 1, aOnly: 1, bOnly: 2, neither: 0 },
    ]);
    for (const { both, aOnly, bOnly, neither, adjustedP, fisherP } of pairs) {
      expect(both + aOnly + bOnly + neither).toBe(incidents.length);
      expect(adjustedP).toBeGreaterThanOrEqual(fisherP);
    }
  });

  it("finds the chains seen more than once", () => {
    expect(chains(incidents)).toEqual([
      { antecedent: "told to wait", behavior: "shouting", consequence: "talked with an adult", count: 2 },
      { antecedent: "noise", behavior: "crying", consequence: "break", count: 2 },
    ]);
  });

  it("has no pairs, no dates and no middles without incidents", () => {
    expect(incidentFigures([])).toMatchObject({
      n: 0,
      from: null,
      to: null,
      grid: [],
      associations: [],
      intensity: { n: 0, mean: null, median: null, counts: {} },
      minutes: { n: 0, total: 0, median: null, longest: null },
    });
  });

  it("places each incident in its hour and weekday, and leaves out those without a time", () => {
    expect(
      timeGrid([
        incident(),
        incident({ at: "10:59" }),
        incident({ at: null }),
        incident({ on: "2026-11-22", at: "00:00" }),
      ]),
    ).toEqual([
      [1, 10, 2],
      [7, 0, 1],
    ]);
  });
});

describe("how often", () => {
  // SciPy 1.17.1: chi2.ppf(0.025, 2 k) / 2 and chi2.ppf(0.975, 2 k + 2) / 2; the same numbers as in Garwood's table (1936).
  it.each([
    [0, 0, 3.6888794541139354],
    [1, 0.025317807984289876, 5.571643390938898],
    [4, 1.0898653736263249, 10.241588675403694],
    [18, 10.667940780399528, 28.447760267527983],
    [100, 81.36399125092314, 121.62679382242638],
  ])("%d incidents have Garwood's interval where days vary as chance would have it", (k, low, high) => {
    const daily = Array.from({ length: 200 }, (_, day) => (day < k ? 1 : 0));
    const rate = incidentRate(daily);
    expect(rate).toMatchObject({ incidents: k, days: 200, perDay: k / 200, widened: false });
    expect((rate?.low ?? -1) * 200).toBeCloseTo(low, 6);
    expect((rate?.high ?? -1) * 200).toBeCloseTo(high, 6);
  });

  it("is less certain where bad days cluster, and says so", () => {
    const daily = [6, 0, 0, 0, 0, 6, 0, 0, 0, 0];
    const rate = incidentRate(daily);
    expect(rate).toMatchObject({ incidents: 12, perDay: 1.2, widened: true });
    // Variance 6.4, mean 1.2: dispersion 16/3; exp(1.959964 · sqrt(16/3/12)) = 3.69375 by hand.
    expect(rate?.high).toBeCloseTo(1.2 * 3.69375, 4);
    expect(rate?.low).toBeCloseTo(1.2 / 3.69375, 4);
    expect(incidentRate([])).toBeNull();
  });

  it("compares two spans by their rates", () => {
    const days = (from: number, counts: readonly number[]) =>
      counts.map((count, at) => ({ on: `2026-09-${String(from + at).padStart(2, "0")}`, count }));
    const change = rateChange(days(1, [1, 0, 2, 1, 3, 0, 1, 2, 4, 0]), days(14, [0, 0, 1, 0, 0, 0, 1]));
    expect(change?.ratio).toBeCloseTo(2 / 7 / 1.4, 12);
    expect(rateChange(days(1, [0, 0, 0]), days(14, [1]))?.ratio).toBeNull();
    expect(rateChange(days(1, [1, 2]), days(14, [1]))?.p).toBeNull();
    expect(rateChange([], days(14, [1]))).toBeNull();
  });
});

describe("how long", () => {
  it("adds exact minutes to what bands allow, and invents none", () => {
    const band = (name: string) => {
      const found = starterBands.find((one) => one.name === name);
      if (!found) throw new Error(name);
      return { band: found };
    };
    expect(totalLength([{ minutes: 4 }, band("5–15 min"), band("2–5 min")])).toEqual({ low: 11, high: 24 });
    expect(totalLength([{ minutes: 4 }, band("over an hour")])).toEqual({ low: 64, high: null });
    expect(totalLength([])).toEqual({ low: 0, high: 0 });
  });

  it("puts a length by the clock in the band that begins with it", () => {
    expect([0, 2, 59.9, 60, 600].map((minutes) => bandOf(starterBands, minutes)?.name)).toEqual([
      "under 2 min",
      "2–5 min",
      "30–60 min",
      "over an hour",
      "over an hour",
    ]);
    expect(bandOf([{ name: "long", from: 5, to: null }], 3)).toBeNull();
  });
});
