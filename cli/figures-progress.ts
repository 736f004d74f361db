import { readWindow, type Direction, type MasteryWindow } from "#core/criteria/criterion.ts";
import { isDate } from "#core/progress/day-number.ts";
import type { Comparison } from "#core/phases/compare-phases.ts";
import { type FullFigures, fullFigures, type PhaseFigures } from "#core/progress/full-figures.ts";
import type { Observation } from "#core/progress/progress.ts";
import { type CsvRow, readCsv } from "#server/imports/csv.ts";
import { InputError } from "#server/imports/input-error.ts";

interface Series {
  name: string;
  observations: Observation[];
  constants: { direction: Direction; criterion: number | null; window: MasteryWindow; due: string | null };
  texts: Record<"direction" | "criterion" | "window" | "due", string>;
}

type Row = Pick<CsvRow, "cells" | "line">;

const required = ["series", "date", "phase", "value"] as const;
const decimal = /^[+-]?(\d+(\.\d*)?|\.\d+)(e[+-]?\d+)?$/i;
const isNumber = (text: string) => decimal.test(text) && Number.isFinite(Number(text));

function readRows(text: string): Row[] {
  return readCsv(text, required)
    .filter(({ empty }) => !empty)
    .map(({ cells, line }) => ({
      line,
      cells: Object.fromEntries(Object.entries(cells).map(([name, cell]) => [name, cell.trim()])),
    }));
}

function readConstants({ cells, line }: Row): Series["constants"] {
  const direction = cells["direction"] || "increase";
  if (direction !== "increase" && direction !== "decrease")
    throw new InputError(line, `direction ${direction} is neither increase nor decrease`);
  const criterionText = cells["criterion"] ?? "";
  if (criterionText !== "" && !isNumber(criterionText))
    throw new InputError(line, `criterion ${criterionText} is not a number`);
  const window = readWindow(cells["window"] || "1");
  if (!window) throw new InputError(line, `window ${cells["window"]} is not k of n, k consecutive or 1`);
  const due = cells["due"] || null;
  if (due !== null && !isDate(due)) throw new InputError(line, `due ${due} is not a date (YYYY-MM-DD)`);
  return { direction, criterion: criterionText === "" ? null : Number(criterionText), window, due };
}

function readSeries(rows: Row[]): Series[] {
  const all = new Map<string, Series>();
  for (const row of rows) {
    const { cells, line } = row;
    const name = cells["series"] ?? "";
    if (name === "") throw new InputError(line, "series is empty");
    const texts = {
      direction: cells["direction"] ?? "",
      criterion: cells["criterion"] ?? "",
      window: cells["window"] ?? "",
      due: cells["due"] ?? "",
    };
    const known = all.get(name);
    if (known) {
      for (const field of ["direction", "criterion", "window", "due"] as const) {
        if (known.texts[field] !== texts[field])
          throw new InputError(line, `${field} differs within series ${name}`);
      }
    }
    const series = known ?? { name, observations: [], constants: readConstants(row), texts };
    all.set(name, series);
    const date = cells["date"] ?? "";
    if (!isDate(date))
      throw new InputError(line, `date ${date || "is empty"}${date ? " is not a date (YYYY-MM-DD)" : ""}`);
    const value = cells["value"] ?? "";
    if (value === "") continue;
    if (!isNumber(value)) throw new InputError(line, `value ${value} is not a number`);
    series.observations.push({ date, phase: cells["phase"] ?? "", value: Number(value) });
  }
  return [...all.values()];
}

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

function comparisonFields(comparison: Comparison, phases: readonly PhaseFigures[]) {
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

function report(series: Series) {
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

const shown = (value: number | null, digits = 2) => (value === null ? "–" : value.toFixed(digits));

/** `figures progress`: a CSV of series in; trend, phases, mastery, aim line, rules and projection of each out. */
export function figuresProgress(text: string, { json }: { json: boolean }): string {
  const series = readSeries(readRows(text)).map(report);
  if (json) return `${JSON.stringify({ series }, null, 2)}\n`;
  return series
    .map(({ ols, theilSen, kendall, mastery, projection, ...one }) =>
      [
        `${one.series}: ${one.n} points, ${one.from ?? "–"} to ${one.to ?? "–"}`,
        `  a week: ${shown(theilSen?.slopePerWeek ?? null)} (Theil–Sen), ${shown(ols?.slopePerWeek ?? null)} (least squares); tau-b ${shown(kendall?.tauB ?? null)}, p ${shown(kendall?.p ?? null, 3)}`,
        ...one.phases.map(
          ({ phase, n, mean, median, sd, min, max }) =>
            `  ${phase}: ${n} points, mean ${shown(mean)}, median ${shown(median)}, sd ${shown(sd)}, ${min} to ${max}`,
        ),
        ...one.comparisons.map(
          ({ before, after, nap, napLow, napHigh, tau, tauU, pnd, pem, mannWhitneyP, percentChange }) =>
            `  ${before} → ${after}: NAP ${shown(nap)} (${shown(napLow)} to ${shown(napHigh)}), Tau ${shown(tau)}, Tau-U ${shown(tauU)}, PND ${shown(pnd, 0)}, PEM ${shown(pem, 0)}, p ${shown(mannWhitneyP, 3)}, change ${shown(percentChange, 0)} %`,
        ),
        `  ${mastery ? (mastery.met ? `criterion reached ${mastery.on}` : "criterion not reached") : "no criterion"}${mastery ? `, ${mastery.inWindow} of ${mastery.needed} now` : ""}; four-point ${one.fourPoint ?? "–"}`,
        projection
          ? `  on ${projection.at}: ${shown(projection.mean)} (80 %: ${shown(projection.low80)} to ${shown(projection.high80)}), chance of the criterion ${shown(projection.probability)}, expected ${projection.expectedOn ?? "–"}`
          : `  no projection`,
      ].join("\n"),
    )
    .map((said) => `${said}\n`)
    .join("");
}
