import { readEntry, type Measure } from "#core/measures/measure.ts";
import type { RubricEntry } from "#core/measures/rubric/schema.ts";
import type { PersonKey } from "./school.ts";

type Row = Record<string, unknown>;

/**
 * Adds to the rubric goals of the demo what a second person gave the same work, on every other day that it was scored, and now and then
 * what the student gave it.
 */
export function seedRatings({
  add,
  random,
  idAt,
  personIds,
  goals,
  measures,
  entries,
  dayOf,
  momentOf,
}: {
  add: (table: string, row: Row) => void;
  random: () => number;
  idAt: (day: number) => string;
  personIds: Record<PersonKey, string>;
  goals: readonly Row[];
  measures: readonly Row[];
  entries: readonly Row[];
  dayOf: (on: string) => number;
  momentOf: (local: string) => unknown;
}): void {
  for (const { goal_id, student_id } of goals) {
    const text = measures.find((one) => one["goal_id"] === goal_id)?.["measure"];
    const measure = JSON.parse(String(text)) as Measure;
    if (measure.kind !== "rubric") continue;
    const scored = entries.filter((one) => one["goal_id"] === goal_id);
    const rate = (on: string, at: string, person_id: string, levels: RubricEntry["levels"], own: boolean) => {
      const read = readEntry(measure, { kind: "rubric", levels });
      if (!read.ok) throw new Error("The scenario made a rating that cannot be scored");
      const observation_id = idAt(dayOf(on));
      add("second_observations", {
        ...{ observation_id, goal_id, student_id, measure_version: 1, person_id, own },
        ...{ observed_at: momentOf(`${on}T${at}`), observed_on: on, made_hash: observation_id },
        ...{ entry: JSON.stringify(read.entry), score: JSON.stringify(read.score) },
      });
    };
    scored.forEach(({ observed_on, author_id, entry }, place) => {
      const on = String(observed_on);
      const { levels } = JSON.parse(String(entry)) as RubricEntry;
      const moved = (by: () => number) =>
        Object.fromEntries(
          measure.criteria.map(({ id, max }) => [id, Math.min(max, Math.max(0, (levels[id] ?? 0) + by()))]),
        );
      const other = author_id === personIds.noor ? personIds.teo : personIds.noor;
      if (place % 2 === 0)
        rate(
          on,
          "14:05",
          other,
          moved(() => (random() < 0.3 ? (random() < 0.5 ? -1 : 1) : 0)),
          false,
        );
      if (place % 4 === 1)
        rate(
          on,
          "14:15",
          personIds.noor,
          moved(() => (random() < 0.5 ? 1 : 0)),
          true,
        );
    });
  }
}
