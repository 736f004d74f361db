import type { Criterion, Purpose } from "../criteria/criterion.ts";
import { poolOccasions } from "../criteria/pool.ts";
import {
  baselinePhase,
  inDateOrder,
  latestPhase,
  type Observation,
  type Progress,
  progress,
} from "./progress.ts";
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

/** The phase a date falls in: the latest that had begun, as the name `progress` compares by. */
export function phaseOn(date: string, phases: readonly GoalPhase[]): string {
  const begun = inDateOrder(phases.map((phase) => ({ ...phase, date: phase.startsOn }))).filter(
    (phase) => phase.startsOn <= date,
  );
  const phase = begun.at(-1);
  return phase ? (phase.isBaseline ? baselinePhase : phase.phaseId) : "";
}

/** The measured entries whose purpose counts, in date order, each with its phase. */
export function goalPoints(setup: GoalSetup, entries: readonly EntryFigure[]): GoalPoint[] {
  const counted = setup.criterion?.purposes ?? ["probe"];
  return inDateOrder(entries).flatMap((entry) =>
    entry.value === null || !counted.includes(entry.purpose)
      ? []
      : [{ date: entry.date, value: entry.value, phase: phaseOn(entry.date, setup.phases), entry }],
  );
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
  const lastBegun = inDateOrder(setup.phases.map((phase) => ({ ...phase, date: phase.startsOn }))).at(-1);
  const running = lastBegun && (lastBegun.isBaseline ? baselinePhase : lastBegun.phaseId);
  const lastDate = points.at(-1)?.date;
  return progress(points, {
    direction: setup.criterion?.direction ?? "increase",
    criterion: setup.criterion?.value ?? null,
    window: setup.criterion?.window ?? { k: 1, n: 1 },
    due: setup.dueOn,
    enteredBaseline: setup.enteredBaseline,
    currentPhase: running ?? (lastDate ? (latestPhase(points) ?? undefined) : undefined),
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
    slopePerWeek: figures.theilSen && 7 * figures.theilSen.slope,
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
