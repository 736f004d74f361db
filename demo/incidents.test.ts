import { describe, expect, it } from "vitest";
import { dateOfDay, dayNumber, weekdayOf } from "#core/dates/day-number.ts";
import { slotsOf } from "#core/schedule/timetable.ts";
import { rateChange } from "#core/incidents/rate.ts";
import type { KnownIncident } from "#core/incidents/finding-candidates.ts";
import { whatStandsOut } from "#core/incidents/findings.ts";
import { incidentStories, makeIncidents } from "./incidents.ts";
import { seededRandom } from "./random.ts";
import { timetable } from "./school.ts";

const firstDay = dayNumber("2026-09-07");
const days = 77;
const dateOf = (day: number) => dateOfDay(firstDay + day);
const observed = Array.from({ length: days }, (_, day) => dateOf(day)).filter((date) => weekdayOf(date) <= 5);

function incidentsOf(given: string, seed: number): KnownIncident[] {
  const story = incidentStories.find((one) => one.given === given);
  if (!story) throw new Error(given);
  return makeIncidents(story, {
    days,
    weekdayOf: (day) => weekdayOf(dateOf(day)),
    isOff: () => false,
    random: seededRandom(seed),
  }).map(({ day, at, names, details }, index) => ({
    incidentId: String(index),
    on: dateOf(day),
    at,
    setting: names.setting[0] ?? null,
    antecedents: names.antecedent,
    behaviors: names.behavior,
    consequences: names.consequence,
    functions: [],
    minutes: null,
    intensity: details.intensity,
  }));
}
const periods = slotsOf(timetable);

describe("what was planted in the demo", () => {
  it.each([1, 2, 3, 17])(
    "is found first: before lunch on two weekdays, after a change of task (seed %d)",
    (seed) => {
      const [first] = whatStandsOut({
        incidents: incidentsOf("Wren", seed),
        days: observed,
        periods,
      }).findings;
      expect(first).toMatchObject({ kind: "antecedent-behavior", strength: "strong" });
      expect(first?.words).toMatch(
        /(incidents|episodes) with hitting or kicking had the antecedent “change from a liked to a disliked task”;.*; consequence: “.*” in (all )?\d+.*; (all of them|\d+ of the \d+) on Monday or Wednesday during Math \(10:15–11:00\sAM\)$/,
      );
      expect(first?.incidentIds.length).toBeGreaterThan(15);
    },
  );

  it.each([1, 2, 3])("is found first: one place and time (seed %d)", (seed) => {
    const [first] = whatStandsOut({
      incidents: incidentsOf("Malik", seed),
      days: observed,
      periods,
    }).findings;
    expect(first).toMatchObject({ kind: "time", strength: "strong" });
    expect(first?.words).toMatch(
      /during Lunch and yard \(11:45\sAM–12:30\sPM\), which is 45 of 360 minutes a day/,
    );
  });

  it.each([1, 2, 3])("is found first: fewer since a plan (seed %d)", (seed) => {
    const incidents = incidentsOf("Caspian", seed);
    const plan = dateOf(41);
    const daily = (some: string[]) =>
      some.map((day) => ({ on: day, count: incidents.filter(({ on }) => on === day).length }));
    const rates = rateChange(
      daily(observed.filter((day) => day < plan)),
      daily(observed.filter((day) => day >= plan)),
    );
    if (!rates) throw new Error("no days");
    const after = incidents.filter(({ on }) => on >= plan).map(({ incidentId }) => incidentId);
    const { findings: found } = whatStandsOut({
      incidents,
      days: observed,
      periods,
      change: { name: "the new plan", rates, incidentIds: after },
    });
    expect(found.slice(0, 2).map(({ kind, strength }) => `${kind} ${strength}`)).toContain("change strong");
    expect(found.find(({ kind }) => kind === "change")?.words).toMatch(
      /^since the new plan there were \d+ in 25 observed days, 0\.\d\d a day; before, \d+ in 30 observed days, 0\.\d\d a day$/,
    );
  });

  it("says nothing of a student with fewer than five", () => {
    const incidents = incidentsOf("Lumi", 17).slice(0, 4);
    expect(whatStandsOut({ incidents, days: observed, periods })).toMatchObject({
      findings: [],
      nothing: "too-few",
    });
  });
});
