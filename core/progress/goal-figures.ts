import type { Criterion, Purpose } from "../criteria/criterion.ts";
import { poolOccasions } from "../criteria/pool.ts";
import { baselinePhase, inDateOrder, type Observation, type Progress, progress } from "./progress.ts";
import { type Standing, standing, type StandingFacts } from "./standing.ts";

export interface GoalPhase {
  phaseId: string;
  name: string;
  isBaseline: boolean;
  startsOn: string;
}

/** What the figures need to know of a goal. */
export interface GoalSetup {
  criterion: Criterion | null;
  dueOn: string | null;
  metOn: string | null;
  enteredBaseline: { date: string; value: number } | null;
  phases: readonly GoalPhase[];
}

/** What they need to know of an entry: kept, measured or not, in the order observed. */
export interface EntryFigure {
  entryId: string;
  date: string;
  value: number | null;
  numerator: number | null;
  denominator: number | null;
  purpose: Purpose;
}

export interface GoalPoint extends Observation {
  entry: EntryFigure;
}

/** A phase by the name that `progress` compares by. */
function phaseKey(phase: GoalPhase): string {
  return phase.isBaseline ? baselinePhase : phase.phaseId;
}

function inOrderOfStart(phases: readonly GoalPhase[]): GoalPhase[] {
  return [...phases].sort((a, b) => (a.startsOn < b.startsOn ? -1 : a.startsOn > b.startsOn ? 1 : 0));
}

/** The measured entries whose purpose counts, in date order, each with the phase that had begun by its date. */
export function goalPoints(setup: GoalSetup, entries: readonly EntryFigure[]): GoalPoint[] {
  const counted = setup.criterion?.purposes ?? ["probe"];
  const phases = inOrderOfStart(setup.phases);
  return inDateOrder(entries).flatMap((entry) => {
    if (entry.value === null || !counted.includes(entry.purpose)) return [];
    const phase = phases.findLast(({ startsOn }) => startsOn <= entry.date);
    return [{ date: entry.date, value: entry.value, phase: phase ? phaseKey(phase) : "", entry }];
  });
}

/** Trend, mastery, aim line and four-point rule of one goal. Entries with too few opportunities stay out of mastery alone. */
export function goalProgress(setup: GoalSetup, points: readonly GoalPoint[]): Progress {
  const minimum = setup.criterion?.minimumOpportunities ?? 0;
  const occasions = points
    .filter((point) => point.phase !== baselinePhase && (point.entry.denominator ?? Infinity) >= minimum)
    .map(({ date, value, entry }) => ({
      date,
      value,
      numerator: entry.numerator,
      denominator: entry.denominator,
    }));
  const running = inOrderOfStart(setup.phases).at(-1);
  return progress(points, {
    direction: setup.criterion?.direction ?? "increase",
    criterion: setup.criterion?.value ?? null,
    window: setup.criterion?.window ?? { k: 1, n: 1 },
    due: setup.dueOn,
    enteredBaseline: setup.enteredBaseline,
    currentPhase: running && phaseKey(running),
    occasions: poolOccasions(occasions, setup.criterion?.windowUnit ?? "session"),
  });
}

/** The facts of a goal kept beside it for the caseload; nothing here depends on today. */
export interface GoalSummary extends StandingFacts {
  /** Entries kept, measured or not. */
  entries: number;
  n: number;
  last: EntryFigure | null;
  /** The last points, oldest first, for the little chart. */
  recent: { date: string; value: number; phase: string }[];
}

const recentPoints = 16;

export function goalSummary(setup: GoalSetup, entries: readonly EntryFigure[]): GoalSummary {
  const points = goalPoints(setup, entries);
  const figures = goalProgress(setup, points);
  return {
    entries: entries.length,
    n: figures.n,
    last: points.at(-1)?.entry ?? null,
    recent: points.slice(-recentPoints).map(({ date, value, phase }) => ({ date, value, phase })),
    nInPhase: figures.nInPhase,
    slopePerWeek: figures.slopePerWeek,
    fourPoint: figures.fourPoint,
    medianDifference: figures.medianDifference,
    mastery: figures.mastery,
    aim: figures.aim,
  };
}

export function goalStanding(
  summary: StandingFacts,
  setup: Pick<GoalSetup, "criterion" | "metOn">,
): Standing {
  return standing(summary, setup.criterion, setup.metOn);
}
