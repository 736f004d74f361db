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
  constants: {
    direction: Direction;
    criterion: number | null;
    /** With how many decimals the criterion is written. */
    decimals: number;
    window: MasteryWindow;
    due: string | null;
  };
  texts: Record<string, string>;
}

/** A series of a file for `figures decide`, with what that asks for beside the points; null where the file does not say. */
export interface SeriesToDecide extends Series {
  decide: {
    unit: string | null;
    today: string | null;
    met: string | null;
    weeks: number | null;
    taught: string | null;
    stale: boolean | null;
  };
}

/** The columns that are the same in all rows of a series: of every file, and those that only `decide` reads. */
const constantColumns = ["direction", "criterion", "window", "due"];
const decideColumns = ["unit", "today", "met", "weeks", "taught", "stale"];

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
  return {
    ...{ direction, window, criterion: criterionText === "" ? null : Number(criterionText) },
    decimals: (/\.(\d*)/.exec(criterionText)?.[1] ?? "").length,
    due: readDate({ cells, line }, "due"),
  };
}

function readDate({ cells, line }: Row, name: string): string | null {
  const text = cells[name] || null;
  if (text !== null && !isDate(text))
    throw new InputError(line, `${name} ${text} is not a date (YYYY-MM-DD)`);
  return text;
}

function readDecide(row: Row): SeriesToDecide["decide"] {
  const weeks = row.cells["weeks"] ?? "";
  const stale = row.cells["stale"] ?? "";
  if (!["", "yes", "no"].includes(stale))
    throw new InputError(row.line, `stale ${stale} is neither yes nor no`);
  if (weeks !== "" && !isNumber(weeks)) throw new InputError(row.line, `weeks ${weeks} is not a number`);
  return {
    unit: row.cells["unit"] || null,
    weeks: weeks === "" ? null : Number(weeks),
    today: readDate(row, "today"),
    met: readDate(row, "met"),
    taught: readDate(row, "taught"),
    stale: stale === "" ? null : stale === "yes",
  };
}

/**
 * Reads the series of a CSV with `series,date,phase,value` and, constant within a series and optional, `direction`, `criterion`,
 * `window`, `due`. Other columns are ignored.
 *
 * @returns series in the order in which they first appear
 * @throws InputError at its line when something in it is wrong
 */
export const readSeries = (text: string): Series[] => readEach(text, constantColumns, () => ({}));

/**
 * Reads the same file with what `decide` asks for: `unit`, `today`, `met`, `weeks` (school weeks left), `taught` (the day up to which it was
 * taught as planned), `stale` (`yes` or `no`: is the last point older than two school weeks?), constant within a series too.
 *
 * @throws InputError at its line when something in it is wrong
 */
export const readSeriesToDecide = (text: string): SeriesToDecide[] =>
  readEach(text, [...constantColumns, ...decideColumns], (row) => ({ decide: readDecide(row) }));

function readEach<More extends object>(
  text: string,
  columns: readonly string[],
  readMore: (row: Row) => More,
): (Series & More)[] {
  const rows = readRows(text);
  const all = new Map<string, Series & More>();
  for (const row of rows) {
    const { cells, line } = row;
    const name = cells["series"] ?? "";
    if (name === "") throw new InputError(line, "series is empty");
    const texts = Object.fromEntries(columns.map((column) => [column, cells[column] ?? ""]));
    const known = all.get(name);
    if (known) {
      for (const field of columns) {
        if (known.texts[field] !== texts[field])
          throw new InputError(line, `${field} differs within series ${name}`);
      }
    }
    const series = known ?? {
      ...{ name, observations: [], texts, constants: readConstants(row) },
      ...readMore(row),
    };
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
