import { type Association, associations } from "./associations.ts";
import { countHours, countLabels, countMonths, countWeekdays, type Counts, timeGrid } from "./counts.ts";
import type { LabelledIncident } from "./labelled-incident.ts";
import { summariseIntensity, summariseMinutes } from "./lengths.ts";

/** Everything that is counted of a set of incidents. */
export interface IncidentFigures {
  n: number;
  from: string | null;
  to: string | null;
  bySetting: Counts;
  byAntecedent: Counts;
  byBehavior: Counts;
  byConsequence: Counts;
  byFunction: Counts;
  byMonth: Counts;
  byWeekday: Counts;
  byHour: Counts;
  grid: [weekday: number, hour: number, count: number][];
  intensity: ReturnType<typeof summariseIntensity>;
  minutes: ReturnType<typeof summariseMinutes>;
  associations: Association[];
}

/**
 * The counts, the time grid, lengths, strengths and pairs of these incidents.
 *
 * @param tested those of which pairs are made: the first of each episode, where episodes are known
 */
export function incidentFigures(
  incidents: readonly LabelledIncident[],
  tested: readonly LabelledIncident[] = incidents,
): IncidentFigures {
  const days = incidents.map(({ on }) => on).sort();
  const known = <Value>(value: (incident: LabelledIncident) => Value | null): Value[] =>
    incidents.map(value).filter((one) => one !== null);
  return {
    n: incidents.length,
    from: days[0] ?? null,
    to: days.at(-1) ?? null,
    bySetting: countLabels(incidents, "setting"),
    byAntecedent: countLabels(incidents, "antecedent"),
    byBehavior: countLabels(incidents, "behavior"),
    byConsequence: countLabels(incidents, "consequence"),
    byFunction: countLabels(incidents, "function"),
    byMonth: countMonths(incidents),
    byWeekday: countWeekdays(incidents),
    byHour: countHours(incidents),
    grid: timeGrid(incidents),
    intensity: summariseIntensity(known(({ intensity }) => intensity)),
    minutes: summariseMinutes(known(({ minutes }) => minutes)),
    associations: associations(tested),
  };
}
