import type { TimetableSlot } from "../schedule/timetable.ts";
import { episodesOf } from "./episodes.ts";
import type { PatternIncident } from "./patterns.ts";

/** The incidents of one student in one span as a file: the columns that `figures incidents` and `figures findings` read. */
export interface IncidentTable {
  head: string[];
  rows: (string | number)[][];
}

const separator = "|";
/** What parts labels in a cell is no part of a label there. */
const cell = (labels: readonly string[]) =>
  labels.map((label) => label.replaceAll(separator, "/")).join(separator);

/**
 * Raw incidents as a file, one row each, in the order of their days; the first row also says what was watched, so that the sentences of the page
 * come again from the file.
 *
 * @param days the observed school days of the span
 * @param notWatched periods that nobody watched: `YYYY-MM-DD name`
 * @param plan the plan around whose beginning the span is compared; null where it is not
 */
export function incidentTable(
  incidents: readonly PatternIncident[],
  {
    days,
    periods,
    notWatched,
    plan,
  }: {
    days: readonly string[];
    periods: readonly TimetableSlot[];
    notWatched: readonly string[];
    plan: { name: string; beginsOn: string } | null;
  },
): IncidentTable {
  const episodes = episodesOf(incidents, periods);
  const watched = [
    cell(periods.map(({ weekday, startsAt, endsAt, name }) => `${weekday} ${startsAt}-${endsAt} ${name}`)),
    cell(days),
    cell(notWatched.filter((one) => days.includes(one.slice(0, 10)))),
    plan ? `${plan.beginsOn} ${plan.name}` : "",
  ];
  return {
    head: [
      ...["date", "time", "setting", "antecedents", "behaviors", "consequences", "function", "minutes"],
      ...["intensity", "episode", "period", "length", "timetable", "observed", "not observed", "plan"],
    ],
    rows: episodes.flatMap((ofEpisode, at) =>
      ofEpisode.map((one, index) => [
        ...[one.on, one.at ?? "", one.setting ?? "", cell(one.antecedents), cell(one.behaviors)],
        ...[cell(one.consequences), cell(one.functions), one.minutes ?? "", one.intensity ?? ""],
        ...[at + 1, one.period ?? "", one.length && "band" in one.length ? one.length.band.name : ""],
        ...(at === 0 && index === 0 ? watched : watched.map(() => "")),
      ]),
    ),
  };
}
