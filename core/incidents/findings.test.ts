import { describe, expect, it } from "vitest";
import { dateOfDay, dayNumber, weekdayOf } from "../dates/day-number.ts";
import { episodesOf } from "./episodes.ts";
import { hourSlots, type KnownIncident, type Watched } from "./finding-candidates.ts";
import { whatStandsOut } from "./findings.ts";
import { seededRandom } from "./seeded-random.ts";

const days = Array.from({ length: 84 }, (_, day) => dateOfDay(dayNumber("2026-09-07") + day)).filter(
  (date) => weekdayOf(date) <= 5,
);
const periods = hourSlots(8, 15);
const look = (incidents: readonly KnownIncident[], more: Partial<Watched> = {}) =>
  whatStandsOut({ incidents, days, periods, ...more });
const two = (number: number) => String(number).padStart(2, "0");

/** One incident at random: nothing goes with anything. */
function atRandom(random: () => number, incidentId: string): KnownIncident {
  const pick = (from: string, size: number) => `${from} ${Math.floor(random() ** 1.6 * size)}`;
  const some = (from: string, size: number) => [
    pick(from, size),
    ...(random() < 0.3 ? [pick(from, size)] : []),
  ];
  return {
    incidentId,
    on: days[Math.floor(random() * days.length)] ?? "",
    at: `${two(8 + Math.floor(random() * 7))}:${two(Math.floor(random() * 60))}`,
    setting: pick("place", 6),
    antecedents: some("before", 8),
    behaviors: some("did", 6),
    consequences: some("after", 8),
    functions: [],
    minutes: null,
    intensity: null,
  };
}
function independent(seed: number, count: number): KnownIncident[] {
  const random = seededRandom(seed);
  return Array.from({ length: count }, (_, index) => atRandom(random, String(index)));
}
/** The same trouble written down one to six times within minutes of each other. */
function inBursts(seed: number, count: number): KnownIncident[] {
  const random = seededRandom(seed);
  const made: KnownIncident[] = [];
  while (made.length < count) {
    const first = atRandom(random, "");
    const size = Math.min(count - made.length, 1 + Math.floor(random() * 6));
    const [hour = 8, minute = 0] = (first.at ?? "").split(":").map(Number);
    for (let at = 0; at < size; at += 1)
      made.push({
        ...first,
        incidentId: String(made.length),
        at: `${two(hour)}:${two(Math.min(59, minute + 4 * at))}`,
      });
  }
  return made;
}

const seeds = 250;
const shareOf = (pages: readonly boolean[]) =>
  Math.round((1000 * pages.filter(Boolean).length) / pages.length) / 10;
const pagesOf = (make: (seed: number, count: number) => KnownIncident[], count: number) =>
  Array.from({ length: seeds }, (_, seed) => look(make(seed + 1, count)).findings);

// The table of docs/methods.md.
describe("of pure noise", () => {
  it.each([
    ["independent", independent, 20],
    ["independent", independent, 40],
    ["independent", independent, 80],
    ["independent", independent, 160],
    ["in bursts", inBursts, 20],
    ["in bursts", inBursts, 40],
    ["in bursts", inBursts, 80],
    ["in bursts", inBursts, 160],
  ] as const)(
    "%s, %s, %d incidents: a sentence on at most 6% of pages, a strong one on at most 3%",
    (_, make, count) => {
      const pages = pagesOf(make, count);
      const any = shareOf(pages.map((findings) => findings.length > 0));
      const strong = shareOf(pages.map((findings) => findings.some(({ strength }) => strength === "strong")));
      if (process.env["SHOW"]) console.log(count, any, strong);
      expect(any).toBeLessThanOrEqual(6);
      expect(strong).toBeLessThanOrEqual(3);
    },
  );
});

describe("of a pair that is there", () => {
  it("at 70% against 22%, with 80 episodes, it is said on at least 80% of pages", () => {
    const pages = Array.from({ length: seeds }, (_, seed) => {
      const random = seededRandom(7000 + seed);
      const incidents = Array.from({ length: 80 }, (_, index) => {
        const one = atRandom(random, String(index));
        const isBell = random() < 0.3;
        const hides = random() < (isBell ? 0.7 : 0.22);
        return {
          ...one,
          at: `${two(8 + (index % 7))}:00`,
          on: days[index % days.length] ?? "",
          antecedents: [isBell ? "the bell" : (one.antecedents[0] ?? "")],
          behaviors: [hides ? "hiding" : (one.behaviors[0] ?? "")],
        };
      });
      return look(incidents).findings.some(({ labels }) => labels.join() === "the bell,hiding");
    });
    if (process.env["SHOW"]) console.log("planted", shareOf(pages));
    expect(shareOf(pages)).toBeGreaterThanOrEqual(80);
  });
});

describe("episodes", () => {
  const at = (on: string, time: string | null, period: string | null = null) => ({ on, at: time, period });
  it("are incidents less than 30 minutes apart on a day, each after the one before", () => {
    const day = "2026-10-05";
    expect(
      episodesOf([
        at(day, "10:40"),
        at(day, "10:00"),
        at(day, "10:29"),
        at(day, "11:10"),
        at("2026-10-06", "10:05"),
      ]).map((ones) => ones.map((one) => one.at)),
    ).toEqual([["10:00", "10:29", "10:40"], ["11:10"], ["10:05"]]);
  });
  it("put an incident known by its period at its beginning; one known by its day alone is its own", () => {
    const day = "2026-10-05";
    const slots = [{ name: "Math", startsAt: "10:15" }];
    expect(
      episodesOf([at(day, "10:20"), at(day, null, "Math"), at(day, null), at(day, null)], slots).map(
        (ones) => ones.length,
      ),
    ).toEqual([2, 1, 1]);
    expect(episodesOf([at(day, null, "Bus"), at(day, null, "Bus")], slots).length).toBe(1);
  });
});

describe("findings", () => {
  const planted = () =>
    independent(3, 40).map((incident, index) =>
      index < 12
        ? {
            ...incident,
            on: days[index * 4] ?? "",
            antecedents: ["the bell"],
            behaviors: ["hiding"],
            setting: "hall",
            consequences: index < 8 ? ["a break"] : ["the task went on"],
          }
        : incident,
    );

  it("is said with its counts and what followed, opens the incidents behind it, and never says one thing twice", () => {
    const all = planted();
    const { findings, nothing } = look(all);
    expect(findings[0]).toMatchObject({
      ...{ kind: "antecedent-behavior", strength: "strong", labels: ["the bell", "hiding"] },
      words: expect.stringMatching(
        /^all (\d+) \w+ with hiding had the antecedent “the bell”; of the others, 0 of \d+; consequence: “a break” in \d+ of the \1, “the task went on” in \d+/,
      ) as string,
    });
    expect(findings[0]?.both).toBeGreaterThanOrEqual(9);
    expect(findings[0]?.incidentIds).toHaveLength(findings[0]?.both ?? -1);
    expect(findings[0]?.incidentIds.every((id) => Number(id) < 12)).toBe(true);
    expect(findings.filter(({ strength }) => strength === "strong")).toHaveLength(1);
    expect(findings.length).toBeLessThanOrEqual(5);
    expect(nothing).toBeNull();
  });

  it("counts ten minutes of the same trouble once", () => {
    const burst = planted().flatMap((one, index) =>
      index < 3
        ? Array.from({ length: 5 }, (_, time) => ({
            ...one,
            incidentId: `${index} ${time}`,
            at: `10:${10 + 2 * time}`,
          }))
        : index < 12
          ? []
          : [one],
    );
    const { n, episodes, findings } = look(burst);
    expect([n, n - episodes >= 12]).toEqual([43, true]);
    expect(findings.filter(({ labels }) => labels.includes("the bell"))).toEqual([]);
  });

  it("says that there are too few to tell under 20 episodes, else that nothing went together", () => {
    expect(look(independent(1, 15))).toMatchObject({ n: 15, findings: [], nothing: "too-few" });
    expect(look(independent(2, 60))).toMatchObject({ findings: [], nothing: "none" });
    expect(look([])).toMatchObject({ n: 0, episodes: 0, nothing: "too-few" });
  });

  const spread = (times: readonly (string | null)[], period: string | null = null) =>
    independent(5, 9).map((incident, index) => ({
      ...incident,
      on: days[5 * index] ?? "",
      at: times[index % times.length] ?? null,
      ...(period ? { period } : {}),
    }));

  it("tells a time with its share of the day, and counts a bad morning once", () => {
    const morning = independent(5, 9).map((one, index) => ({
      ...one,
      on: days[3] ?? "",
      at: `10:${10 + index}`,
    }));
    expect(look(morning).findings.filter(({ kind }) => kind === "time")).toEqual([]);
    expect(look(spread(["10:10"])).findings[0]).toMatchObject({
      ...{ kind: "time", strength: "strong", labels: ["Monday", "10 to 11 o’clock"], both: 9 },
      words: expect.stringMatching(
        /^all 9 incidents with a known time began on Monday during 10 to 11 o’clock \(10:00–11:00\sAM\), which is 60 of 420 minutes a day$/,
      ) as string,
    });
  });

  it("counts an incident that is known by its period as one that is known by the clock", () => {
    const byClock = look(spread(["10:10"])).findings[0];
    const byPeriod = look(spread([null], "10 to 11 o’clock")).findings[0];
    expect(byPeriod?.adjustedP).toBeCloseTo(byClock?.adjustedP ?? 0, 12);
    expect(byPeriod?.labels).toEqual(byClock?.labels);
  });

  it("does not call a usual hour busy where it was watched more", () => {
    // Every day is watched from 8 to 15; one period holds six of the seven hours.
    const long = [1, 2, 3, 4, 5].flatMap((weekday) => [
      { weekday, name: "Work", startsAt: "08:00", endsAt: "14:00" },
      { weekday, name: "Yard", startsAt: "14:00", endsAt: "15:00" },
    ]);
    expect(
      look(independent(8, 60), { periods: long }).findings.filter(({ kind }) => kind === "time"),
    ).toEqual([]);
  });
});
