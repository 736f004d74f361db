import { groupBy } from "../lists/group-by.ts";
import { type PhaseComparison, comparePhases } from "../phases/compare-phases.ts";
import { phaseStatistics, type PhaseStatistics } from "../phases/phase-statistics.ts";
import { autocorrelation } from "./autocorrelation.ts";
import { dateOfDay, dayNumber } from "../dates/day-number.ts";
import { type Kendall, kendall } from "./kendall.ts";
import { type LeastSquares, leastSquares } from "./least-squares.ts";
import { inDateOrder, type Observation, type Progress, progress, type Target } from "./progress.ts";
import { project, type Projection } from "./projection.ts";
import { weeklyMultiplier } from "./weekly-multiplier.ts";

export interface PhaseFigures extends PhaseStatistics {
  phase: string;
  from: string;
  to: string;
}

/** Everything that is said of one series. */
export interface FullFigures extends Progress {
  /** On days since the series' first measured date; points of the current phase only, as with everything but `phases` and `comparisons`. */
  ols: LeastSquares | null;
  kendall: Kendall | null;
  /** Ordered by their first date. */
  phases: PhaseFigures[];
  /** Each phase against the one before. */
  comparisons: PhaseComparison[];
  projection: (Omit<Projection, "expectedAt"> & { at: string; expectedOn: string | null }) | null;
  weeklyMultiplier: number | null;
  autocorrelation: number | null;
}

/**
 * Everything that is said of one series: what `progress` gives, and the figures of the current phase, of each phase, and of each
 * phase against the one before.
 *
 * @param observations measured points only, in any order; several on one date keep their order
 */
export function fullFigures(observations: readonly Observation[], target: Target): FullFigures {
  const points = inDateOrder(observations);
  const figures = progress(points, target);
  const dayZero = figures.from === null ? 0 : dayNumber(figures.from);
  const current = points.filter(({ phase }) => phase === figures.currentPhase);
  const onDays = current.map(({ date, value }) => ({ x: dayNumber(date) - dayZero, y: value }));
  const byPhase = [...groupBy(points, ({ phase }) => phase)];
  const line = leastSquares(onDays);
  return {
    ...figures,
    ols: line,
    kendall: kendall(onDays),
    phases: byPhase.flatMap(([phase, ofPhase]) => {
      const found = phaseStatistics(ofPhase.map(({ value }) => value));
      const [first, last] = [ofPhase[0]?.date, ofPhase.at(-1)?.date];
      return found && first !== undefined && last !== undefined
        ? [{ phase, from: first, to: last, ...found }]
        : [];
    }),
    comparisons: byPhase.slice(1).flatMap(([name, after], at) => {
      const before = byPhase[at];
      return before
        ? [comparePhases({ name: before[0], points: before[1] }, { name, points: after }, target.direction)]
        : [];
    }),
    projection: line && target.due !== null ? projectionOn(onDays, line, dayZero, target.due, target) : null,
    weeklyMultiplier: weeklyMultiplier(onDays),
    autocorrelation: autocorrelation(current.map(({ value }) => value)),
  };
}

function projectionOn(
  points: Parameters<typeof project>[0],
  line: LeastSquares,
  dayZero: number,
  due: string,
  target: Target,
): FullFigures["projection"] {
  const found = project(points, line, dayNumber(due) - dayZero, target);
  if (!found) return null;
  const { expectedAt, ...rest } = found;
  return { at: due, ...rest, expectedOn: expectedAt === null ? null : dateOfDay(dayZero + expectedAt) };
}
