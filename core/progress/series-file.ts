import type { MasteryWindow } from "../criteria/criterion.ts";
import { unitOf } from "../measures/measure.ts";
import type { GoalPoint } from "./goal-figures.ts";
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
  points: readonly GoalPoint[],
  name: string,
  personName: (personId: string) => string,
  asked: SeriesAsk,
): SeriesFile {
  const { criterion, dueOn, enteredBaseline } = setup;
  const names = phaseNames(setup);
  const hasBaseline = points.some(({ phase }) => phase === baselinePhase);
  const rows = inDateOrder([
    ...(enteredBaseline && !hasBaseline ? [{ ...enteredBaseline, phase: baselinePhase, entry: null }] : []),
    ...points.map(({ date, value, phase, entry }) => ({
      ...{ date, value, entry },
      phase: names.get(phase) ?? phase,
    })),
  ]);
  const window = criterion?.window ?? { k: 1, n: 1 };
  const direction = criterion?.direction ?? "increase";
  const constants = [direction, criterion?.value ?? "", windowText(window), dueOn ?? ""];
  const decideConstants = [
    ...[unitOf(setup.measure), asked.today, setup.metOn ?? "", asked.weeks ?? ""],
    ...[asked.taughtOn ?? "", asked.isStale ? "yes" : "no"],
  ];
  const observations = rows.map(({ date, value, phase }) => ({ date, value, phase }));
  return {
    head: [
      ...["series", "date", "phase", "value", "direction", "criterion", "window", "due"],
      ...["unit", "today", "met", "weeks", "taught", "stale"],
      ...["counted", "of", "setting", "observer"],
    ],
    rows: rows.map(({ date, phase, value, entry }) => [
      ...[name, date, phase, value, ...constants, ...decideConstants],
      ...[entry?.numerator ?? "", entry?.denominator ?? "", entry?.setting ?? ""],
      entry?.personId ? personName(entry.personId) : "",
    ]),
    observations,
    figures: fullFigures(observations, {
      ...{ direction, window, criterion: criterion?.value ?? null, due: dueOn },
    }),
  };
}
