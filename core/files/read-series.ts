import { type MasteryWindow, readWindow } from "../criteria/criterion.ts";
import type { Direction } from "../measures/direction-schema.ts";
import { isDate } from "../dates/day-number.ts";
import type { Observation } from "../progress/progress.ts";
import { type CsvRow, readCsv } from "./csv.ts";
import { InputError } from "./input-error.ts";

/** One series of a file for `figures progress`: its measured points, and what is the same in all of its rows. */
export interface Series {
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

/**
 * Reads the series of a CSV with `series,date,phase,value` and, constant within a series and optional, `direction`, `criterion`,
 * `window`, `due`.
 *
 * @returns series in the order in which they first appear
 * @throws InputError at its line when something in it is wrong
 */
export function readSeries(text: string): Series[] {
  const rows = readRows(text);
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
