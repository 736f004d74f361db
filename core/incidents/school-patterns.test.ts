import { describe, expect, it } from "vitest";
import { starterBands } from "./lengths.ts";
import { type SchoolIncident, schoolPatternsOf } from "./school-patterns.ts";

const span = { from: "2026-11-09", to: "2026-11-20" };
const days = [9, 10, 11, 12, 13, 16, 17, 18, 19, 20].map((day) => `2026-11-${String(day).padStart(2, "0")}`);
const periods = [1, 4].map((weekday) => ({ weekday, name: "Math", startsAt: "10:15", endsAt: "11:00" }));
let made = 0;
const incident = (studentId: string, more: Partial<SchoolIncident> = {}): SchoolIncident => ({
  ...{ studentId, incidentId: `i${(made += 1)}`, on: "2026-11-09", at: "10:20", period: null, minutes: null },
  ...{ setting: "hall", antecedents: [], behaviors: ["shouting"], consequences: [], functions: [] },
  ...{ intensity: null, length: null, ...more },
});
const of = (incidents: SchoolIncident[]) =>
  schoolPatternsOf({ incidents, days, periods, bands: starterBands, ...span });
const five = ["a", "b", "c", "d", "e"];

describe("the patterns of many students", () => {
  it("are not counted where fewer than five had an incident, however many there were", () => {
    const four = five.slice(1).flatMap((id) => Array.from({ length: 50 }, () => incident(id)));
    expect(of(four)).toBeNull();
    expect(of([...four, incident("a")])).toMatchObject({ n: 201, students: 5 });
  });

  it("count the same words of several lists as one label, in the spelling used most", () => {
    const found = of([
      ...five.map((id) => incident(id)),
      ...["a", "b", "c"].map((id) => incident(id, { behaviors: ["Shouting", "shouting"] })),
    ]);
    expect(found?.labels.behavior).toEqual({ counts: [{ label: "shouting", count: 8 }], hidden: 0 });
    expect(found?.rate).toMatchObject({ incidents: 8, days: 10, perDay: 0.8 });
  });

  it("keep back what fewer than three students stand behind, and one more where the sum would tell it", () => {
    const hidden = of([
      ...five.map((id) => incident(id, { setting: "hall" })),
      ...["a", "b", "c"].flatMap((id) => [
        incident(id, { setting: "gym" }),
        incident(id, { setting: "gym" }),
      ]),
      ...["a", "a", "a"].map((id) => incident(id, { setting: "bus" })),
    ]);
    // The bus is one child's; of 14 in all, hall and gym would leave its three.
    expect(hidden?.labels.setting).toEqual({ counts: [{ label: "gym", count: 6 }], hidden: 2 });
    expect(JSON.stringify(hidden)).not.toContain("bus");
    const both = of([
      ...five.map((id) => incident(id, { setting: "hall" })),
      incident("a", { setting: "bus" }),
      incident("b", { setting: "yard" }),
    ]);
    expect(both?.labels.setting).toEqual({ counts: [{ label: "hall", count: 5 }], hidden: 2 });
  });

  it("place them in the school's week and along the span, none where none was", () => {
    const found = of([
      ...five.map((id) => incident(id)),
      ...five.map((id) => incident(id, { on: "2026-11-19", at: null, period: "Math" })),
      incident("a", { on: "2026-11-19", at: "14:00" }),
    ]);
    expect(found?.grid).toMatchObject([{ name: "Math", cells: [{ count: 5 }, { count: 5 }] }]);
    expect(found?.bins.map(({ from, count }) => [from, count])).toEqual([
      ["2026-11-09", 5],
      ["2026-11-16", 6],
    ]);
    expect(of(five.map((id) => incident(id)))?.bins[1]?.count).toBe(0);
  });

  it("say what goes with what where three students stand behind it, and no p", () => {
    const told = { antecedents: ["told no"], behaviors: ["crying"] };
    const found = of([
      ...five.map((id) => incident(id)),
      ...["a", "b", "c"].map((id) => incident(id, told)),
      ...["d", "d", "d"].map((id) => incident(id, { antecedents: ["bell"], behaviors: ["running"] })),
    ]);
    expect(found?.pairs).toEqual([{ a: "told no", b: "crying", both: 3, of: 3, phi: 1 }]);
  });

  it("keep a pair back where the rest of one of its labels is few students’", () => {
    const told = { antecedents: ["told no"], behaviors: ["crying"] };
    const tied = [...five.map((id) => incident(id)), ...["a", "b", "c"].map((id) => incident(id, told))];
    expect(of(tied)?.pairs).toHaveLength(1);
    // One child cried without being told no: of 4 and 3 it could be reckoned.
    expect(of([...tied, incident("d", { behaviors: ["crying"] })])?.pairs).toEqual([]);
  });

  it("say what several students’ incidents have in common, and chains of at least three of them", () => {
    const told = { antecedents: ["told no"], behaviors: ["crying"], consequences: ["hug"], at: "13:00" };
    const many = [
      ...five.flatMap((id) => [incident(id), incident(id, { on: "2026-11-16" })]),
      ...["a", "b", "c"].flatMap((id) => [
        incident(id, told),
        incident(id, { ...told, behaviors: ["Crying"] }),
      ]),
    ];
    const found = of(many);
    expect(found?.findings).toEqual([
      "all 10 incidents with a known time began on Monday during Math (10:15–11:00\u00a0AM), 2.0 times its share of the school week; of 5 students",
      "all 6 incidents with crying had the antecedent “told no”; of 3 students",
      "all 6 incidents with crying had the consequence “hug”; of 3 students",
      "all 6 incidents with the antecedent “told no” had the consequence “hug”; of 3 students",
    ]);
    expect(found?.chains).toEqual([
      { antecedent: "told no", behavior: "crying", consequence: "hug", count: 6, students: 3 },
    ]);
    // Mostly one child's, it is not the school's; and two students make no chain.
    const ones = Array.from({ length: 8 }, () => incident("a", told));
    expect(of([...many, ...ones])?.findings.join()).not.toContain("told no");
    expect(of(many.filter(({ studentId, at }) => at !== "13:00" || studentId !== "c"))?.chains).toEqual([]);
  });

  it("keep bands of lengths as bands", () => {
    const long = starterBands[4];
    const found = of(five.map((id) => incident(id, { length: long ? { band: long } : null })));
    expect(found?.lengths.filter(({ count }) => count !== 0)).toEqual([{ label: "30–60 min", count: 5 }]);
  });
});
