import type { PhaseComparison } from "../phases/compare-phases.ts";
import { type FullFigures, fullFigures, type PhaseFigures } from "../progress/full-figures.ts";
import type { Series } from "./read-series.ts";

type Why = Record<string, string>;
/** Leaves the reasons out where nothing is missing. */
const reasons = (why: Why) => (Object.keys(why).length > 0 ? { why } : {});
/** The same reason for every one of these figures that is not there. */
const because = <Figures extends object>(
  figures: Figures,
  names: (keyof Figures & string)[],
  why: string,
): Why => Object.fromEntries(names.filter((name) => figures[name] === null).map((name) => [name, why]));

function olsFields({ ols: line }: FullFigures) {
  if (!line) return null;
  const { slope, intercept, r2, residualSd } = line;
  return {
    ...{ slopePerDay: slope, slopePerWeek: 7 * slope, intercept, r2, residualSd },
    ...reasons({
      ...because(line, ["r2"], "all values are equal"),
      ...because(line, ["residualSd"], "fewer than 3 points"),
    }),
  };
}

function theilSenFields({ theilSen: trend, slopePerWeek, nInPhase }: FullFigures) {
  if (!trend) return null;
  const why = nInPhase < 5 ? "fewer than 5 points" : "too many ties";
  return {
    ...{ slopePerDay: trend.slope, slopePerWeek, intercept: trend.intercept },
    ...{ lowPerDay: trend.low, highPerDay: trend.high },
    ...reasons(trend.low === null ? { lowPerDay: why, highPerDay: why } : {}),
  };
}

function comparisonFields(comparison: PhaseComparison, phases: readonly PhaseFigures[]) {
  const { before, after, nap, napLow, napHigh, tau, tauU, pnd, pem, mannWhitneyP } = comparison;
  const { logRatio, logRatioSe, percentChange } = comparison;
  const one = {
    ...{ before, after, nap, napLow, napHigh, tau, tauU, pnd, pem, mannWhitneyP },
    ...{ logRatio, logRatioSe, percentChange },
  };
  const few = (fewest: number) =>
    phases.some(({ phase, n }) => (phase === one.before || phase === one.after) && n < fewest);
  return {
    ...one,
    ...reasons({
      ...because(one, ["napLow", "napHigh"], "fewer than 2 points in a phase"),
      ...because(one, ["mannWhitneyP"], few(3) ? "fewer than 3 points in a phase" : "all values are equal"),
      ...because(
        one,
        ["logRatio", "logRatioSe", "percentChange"],
        few(2) ? "fewer than 2 points in a phase" : "a value below 0, or a mean of 0",
      ),
    }),
  };
}

function projectionFields({ projection, ols }: FullFigures, criterion: number | null) {
  if (!projection) return null;
  return {
    ...projection,
    ...reasons({
      ...because(projection, ["low80", "high80"], "every point lies on the line"),
      ...because(
        projection,
        ["probability"],
        criterion === null ? "no criterion" : "every point lies on the line",
      ),
      ...because(
        projection,
        ["expectedOn"],
        criterion === null
          ? "no criterion"
          : `the line does not meet the criterion within two years${ols?.slope === 0 ? ", it is level" : ""}`,
      ),
    }),
  };
}

function aimWhy({ constants, observations }: Series): string {
  if (constants.criterion === null) return "no criterion";
  if (constants.due === null) return "no due date";
  return observations.some(({ phase }) => phase === "baseline")
    ? "due on or before the last baseline date"
    : "no baseline";
}

/** Everything that `figures progress` prints of a series; what is not defined is null, and `why` beside it says why. */
export function seriesReport(series: Series) {
  const { constants, texts } = series;
  const figures = fullFigures(series.observations, constants);
  const { ols, theilSen, kendall, phases, projection } = figures;
  const none = figures.n === 0 ? "no measured row" : null;
  const dates = none ?? "fewer than 2 different dates";
  const mastery = none ? null : figures.mastery;
  const { weeklyMultiplier, autocorrelation } = figures;
  const extra = { weeklyMultiplier, autocorrelation };
  return {
    series: series.name,
    ...{ n: figures.n, from: figures.from, to: figures.to },
    ols: olsFields(figures),
    theilSen: theilSenFields(figures),
    kendall: kendall && {
      ...kendall,
      ...reasons(because(kendall, ["tauB", "p"], "all values are equal, or S cannot vary")),
    },
    phases: phases.map(({ phase, from, to, n, ...rest }) => ({
      ...{ phase, n, from, to, ...rest },
      ...reasons(because(rest, ["sd"], "one point")),
    })),
    comparisons: figures.comparisons.map((one) => comparisonFields(one, phases)),
    mastery: mastery && {
      ...{ met: mastery.met, on: mastery.on, window: texts.window || "1" },
      ...{ inWindow: mastery.inWindow, needed: mastery.needed },
      ...reasons(because(mastery, ["on"], "the window was never satisfied")),
    },
    ...{ aim: figures.aim, fourPoint: figures.fourPoint },
    projection: projectionFields(figures, constants.criterion),
    ...extra,
    ...reasons({
      ...because({ from: figures.from, to: figures.to }, ["from", "to"], "no measured row"),
      ...because({ ols, theilSen, kendall }, ["ols", "theilSen", "kendall"], dates),
      ...because({ mastery }, ["mastery"], figures.mastery ? "no measured row" : "no criterion"),
      ...because({ aim: figures.aim }, ["aim"], aimWhy(series)),
      ...because({ fourPoint: figures.fourPoint }, ["fourPoint"], "no aim line"),
      ...because(
        { projection },
        ["projection"],
        constants.due === null ? "no due date" : "fewer than 6 points or 3 different dates in the phase",
      ),
      ...because(extra, ["weeklyMultiplier"], ols ? "a value that is not above 0" : dates),
      ...because(extra, ["autocorrelation"], "fewer than 3 points in the phase, or all values are equal"),
    }),
  };
}

export type SeriesReport = ReturnType<typeof seriesReport>;
