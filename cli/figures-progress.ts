import { readWindow, type Direction, type MasteryWindow } from "#core/criteria/criterion.ts";
import { isDate } from "#core/progress/day-number.ts";
import { type Observation, progress, type Progress } from "#core/progress/progress.ts";
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

function theilSenFields(figures: Progress) {
  const trend = figures.theilSen;
  if (!trend) return null;
  const why =
    trend.low === null
      ? {
          lowPerDay: figures.nInPhase < 5 ? "fewer than 5 points" : "too many ties",
          highPerDay: figures.nInPhase < 5 ? "fewer than 5 points" : "too many ties",
        }
      : undefined;
  return {
    slopePerDay: trend.slope,
    slopePerWeek: figures.slopePerWeek,
    intercept: trend.intercept,
    lowPerDay: trend.low,
    highPerDay: trend.high,
    why,
  };
}

function report(series: Series) {
  const { constants, texts } = series;
  const figures = progress(series.observations, constants);
  const why: Record<string, string> = {};
  if (!figures.theilSen)
    why["theilSen"] = figures.n === 0 ? "no measured row" : "fewer than 2 different dates";
  if (!figures.mastery) why["mastery"] = "no criterion";
  else if (figures.n === 0) why["mastery"] = "no measured row";
  if (!figures.aim) {
    why["aim"] =
      constants.criterion === null
        ? "no criterion"
        : constants.due === null
          ? "no due date"
          : series.observations.some(({ phase }) => phase === "baseline")
            ? "due on or before the last baseline date"
            : "no baseline";
    why["fourPoint"] = "no aim line";
  }
  const mastery = figures.n === 0 ? null : figures.mastery;
  return {
    series: series.name,
    n: figures.n,
    from: figures.from,
    to: figures.to,
    theilSen: theilSenFields(figures),
    mastery: mastery && { ...mastery, window: texts.window || "1" },
    aim: figures.aim,
    fourPoint: figures.fourPoint,
    why: Object.keys(why).length > 0 ? why : undefined,
  };
}

/** `figures progress`: a CSV of series in; trend, mastery, aim line and the four-point rule of each out. */
export function figuresProgress(text: string, { json }: { json: boolean }): string {
  const series = readSeries(readRows(text)).map(report);
  if (json) return `${JSON.stringify({ series }, null, 2)}\n`;
  return series
    .map((one) => {
      const slope = one.theilSen?.slopePerWeek ?? null;
      const trend = slope === null ? "no trend" : `${slope.toFixed(2)} a week`;
      const met = one.mastery
        ? one.mastery.met
          ? `criterion reached ${one.mastery.on}`
          : "criterion not reached"
        : "no criterion";
      return `${one.series}: ${one.n} points, ${one.from ?? "–"} to ${one.to ?? "–"}; ${trend}; ${met}; four-point ${one.fourPoint ?? "–"}\n`;
    })
    .join("");
}
