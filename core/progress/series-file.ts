import type { MasteryWindow } from "../criteria/criterion.ts";
import type { Judged } from "../criteria/mastery.ts";
import { unitOf } from "../measures/measure.ts";
import { type BlankPoint, type GoalPoint, type GoalSeries, pointUnit } from "./points.ts";
import { joinedWords } from "../criteria/criterion-words.ts";
import type { GoalSetup } from "../model/goal.ts";
import { type FullFigures, fullFigures } from "./full-figures.ts";
import type { SeriesAsk } from "./decide.ts";
import { baselinePhase, inDateOrder, type Observation } from "./progress.ts";

/** A goal as `figures progress` reads it: the same numbers come out of the file and stand on the screen. */
export interface SeriesFile {
  head: string[];
  rows: (string | number)[][];
  /** What the command makes of it. */
  figures: FullFigures;
  /** By the names that phases have in the file. */
  observations: Observation[];
}

interface FileRow {
  date: string;
  phase: string;
  /** Null where the point does not enter trend and standing. */
  value: number | null;
  judged: string;
  point: GoalPoint | BlankPoint | null;
}

/** Between the settings or people of one point. */
const separator = " | ";

/** What the column says of a point: whether it meets the criterion, or is not held against it. */
const judgedWord = (phase: string, judged: Judged | null): string =>
  phase === baselinePhase ? "" : judged === null ? "out" : judged.meets ? "yes" : "no";

const windowText = ({ k, n }: MasteryWindow) =>
  n === 1 ? "1" : k === n ? `${k} consecutive` : `${k} of ${n}`;

/** Phases by names of their own: two that are called alike stay two. */
function phaseNames({ phases }: GoalSetup): Map<string, string> {
  const taken = new Set<string>([baselinePhase]);
  return new Map(
    phases.flatMap(({ phaseId, name, isBaseline }) => {
      if (isBaseline) return [];
      let free = name;
      for (let time = 2; taken.has(free); time += 1) free = `${name} (${time})`;
      taken.add(free);
      return [[phaseId, free]];
    }),
  );
}

/**
 * The points of a goal as a file for `figures progress` and `figures decide`: the columns it reads, and after them the counts and circumstances of each
 * point. A baseline that was entered is its first row.
 *
 * @param name of the series: nothing of the student
 * @param personName who a person of the entries is
 */
export function seriesFile(
  setup: GoalSetup,
  series: GoalSeries,
  name: string,
  personName: (personId: string) => string,
  asked: SeriesAsk,
): SeriesFile {
  const { criterion, dueOn, enteredBaseline, measure } = setup;
  const { points } = series;
  const names = phaseNames(setup);
  const hasBaseline = points.some(({ phase }) => phase === baselinePhase);
  const inFigures = new Set<GoalPoint | BlankPoint>(points);
  const rows: FileRow[] = inDateOrder([
    ...(enteredBaseline && !hasBaseline
      ? [{ ...enteredBaseline, phase: baselinePhase, judged: "", point: null }]
      : []),
    ...series.all.map((point, at) => ({
      ...{ date: point.date, value: inFigures.has(point) ? point.value : null, point },
      phase: names.get(point.phase) ?? point.phase,
      judged: judgedWord(point.phase, series.judged[at] ?? null),
    })),
  ]);
  const window = criterion?.window ?? { k: 1, n: 1 };
  const direction = criterion?.direction ?? "increase";
  const constants = [direction, criterion?.value ?? "", windowText(window), dueOn ?? ""];
  const decideConstants = [
    ...[unitOf(measure), asked.today, setup.metOn ?? "", asked.weeks ?? ""],
    ...[asked.taughtOn ?? "", asked.isStale ? "yes" : "no", asked.since ?? ""],
    ...[measure.kind, pointUnit(setup), criterion ? joinedWords(criterion, measure).join(separator) : ""],
    ...[criterion?.settings ?? "", criterion?.people ?? ""],
  ];
  const observations = rows.flatMap(({ date, value, phase }) =>
    value === null ? [] : [{ date, value, phase }],
  );
  return {
    head: [
      ...["series", "date", "phase", "value", "direction", "criterion", "window", "due"],
      ...["unit", "today", "met", "weeks", "taught", "stale", "since", "measure", "per", "joined"],
      ...["settings", "people", "judged", "counted", "of", "setting", "observer"],
    ],
    rows: rows.map(({ date, phase, value, judged, point }) => [
      ...[name, date, phase, value ?? "", ...constants, ...decideConstants, judged],
      ...[point?.entry.numerator ?? "", point?.entry.denominator ?? ""],
      ...[point?.settings.join(separator) ?? "", point?.people.map(personName).join(separator) ?? ""],
    ]),
    observations,
    figures: fullFigures(observations, {
      ...{ direction, window, criterion: criterion?.value ?? null, due: dueOn },
      ...{ currentPhase: rows.at(-1)?.phase, phaseFrom: asked.since ?? undefined },
      occasions: series.judged.filter((one) => one !== null),
      breadth: { settings: criterion?.settings, people: criterion?.people },
      isTotal: measure.kind === "running-total",
    }),
  };
}
