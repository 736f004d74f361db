import { describe, expect, it } from "vitest";
import { seededRandom } from "#demo/random.ts";
import { dateOfDay, dayNumber, weekdayOf } from "../dates/day-number.ts";
import { hourSlots, type KnownIncident, findingsOf } from "./findings.ts";

const days = Array.from({ length: 84 }, (_, day) => dateOfDay(dayNumber("2026-09-07") + day)).filter(
  (date) => weekdayOf(date) <= 5,
);
const periods = hourSlots(8, 15);

/** Incidents spread at random over the days, the hours and the labels: nothing goes with anything. */
function spreadAtRandom(seed: number, count: number): KnownIncident[] {
  const random = seededRandom(seed);
  const pick = (from: string, size: number) => `${from} ${Math.floor(random() ** 1.6 * size)}`;
  const some = (from: string, size: number) => [
    pick(from, size),
    ...(random() < 0.3 ? [pick(from, size)] : []),
  ];
  return Array.from({ length: count }, (_, index) => ({
    incidentId: String(index),
    on: days[Math.floor(random() * days.length)] ?? "",
    at: `${String(8 + Math.floor(random() * 7)).padStart(2, "0")}:${String(Math.floor(random() * 60)).padStart(2, "0")}`,
    setting: pick("place", 6),
    antecedents: some("before", 8),
    behaviors: some("did", 6),
    consequences: some("after", 8),
    functions: [],
    minutes: null,
    intensity: null,
  }));
}

describe("what stands out", () => {
  it.each([12, 40, 120])(
    "of %d incidents spread at random: no strong sentence for 95 of 100 seeds",
    (count) => {
      const strong = Array.from({ length: 100 }, (_, seed) =>
        findingsOf({ incidents: spreadAtRandom(seed + 1, count), days, periods }).some(
          ({ strength }) => strength === "strong",
        ),
      ).filter(Boolean).length;
      expect(strong).toBeLessThanOrEqual(5);
    },
  );

  it("is said with its counts, opens the incidents behind it, and never says one thing twice", () => {
    const random = spreadAtRandom(3, 40);
    const planted = random.map((incident, index) =>
      index < 12
        ? {
            ...incident,
            antecedents: ["the bell"],
            behaviors: ["hiding"],
            setting: "hall",
            consequences: ["a break"],
          }
        : incident,
    );
    const found = findingsOf({ incidents: planted, days, periods });
    expect(found[0]).toMatchObject({
      kind: "antecedent-behavior",
      strength: "strong",
      words: "all 12 incidents with hiding came just after: the bell; of the others, 0 of 28",
    });
    expect(found[0]?.incidentIds).toEqual(planted.slice(0, 12).map(({ incidentId }) => incidentId));
    expect(found.filter(({ strength }) => strength === "strong")).toHaveLength(1);
    expect(found.length).toBeLessThanOrEqual(5);
  });

  it("calls weak what chance may have done, and counts a bad morning once", () => {
    const one = spreadAtRandom(5, 9);
    // All nine within one hour of one morning: one occasion, however many incidents.
    const morning = one.map((incident, index) => ({
      ...incident,
      on: days[3] ?? "",
      at: `10:${10 + index}`,
    }));
    expect(findingsOf({ incidents: morning, days, periods }).filter(({ kind }) => kind === "time")).toEqual(
      [],
    );
    const mornings = one.map((incident, index) => ({
      ...incident,
      on: days[5 * index] ?? "",
      at: `10:${10 + index}`,
    }));
    expect(findingsOf({ incidents: mornings, days, periods })[0]).toMatchObject({
      kind: "time",
      strength: "strong",
      words: expect.stringMatching(
        /^all 9 incidents whose time is known began on Monday during 10 to 11 o’clock/,
      ) as string,
    });
    const four = [...mornings.slice(0, 4), ...one.slice(4, 6)];
    for (const { strength } of findingsOf({ incidents: four, days, periods })) expect(strength).toBe("weak");
  });

  it("does not call a usual hour busy where it was watched more", () => {
    // Every day is watched from 8 to 15; one period holds six of the seven hours.
    const long = [1, 2, 3, 4, 5].flatMap((weekday) => [
      { weekday, name: "Work", startsAt: "08:00", endsAt: "14:00" },
      { weekday, name: "Yard", startsAt: "14:00", endsAt: "15:00" },
    ]);
    const times = findingsOf({ incidents: spreadAtRandom(8, 60), days, periods: long }).filter(
      ({ kind }) => kind === "time",
    );
    expect(times).toEqual([]);
  });
});
