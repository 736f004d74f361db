import { type MasteryWindow, readWindow } from "../criteria/criterion.ts";
import type { Direction } from "../measures/direction-schema.ts";
import { isDate } from "../dates/day-number.ts";
import type { Judged } from "../criteria/mastery.ts";
import { inDateOrder, type Observation } from "../progress/progress.ts";
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
    /** From the columns `judged`, `settings` and `people`, where the file has them: what is held against the criterion. */
    occasions?: Judged[];
    breadth?: { settings?: number | undefined; people?: number | undefined };
    /** The phase of the last row, whether that has a value or not, and the day on which it began. */
    currentPhase?: string | undefined;
    phaseFrom?: string | undefined;
    /** Amounts that add up, of which no trend is told. */
    isTotal?: boolean;
  };
  /** The date of the last row of a file with `judged`; null where the file has no such column. */
  lastRowOn: string | null;
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
    since: string | null;
    per: string | null;
    joined: string[];
  };
}

/** The columns that are the same in all rows of a series: of every file, and those that only `decide` reads. */
const constantColumns = ["direction", "criterion", "window", "due"];
const decideColumns = ["unit", "today", "met", "weeks", "taught", "stale", "since", "per", "joined"];
/** What a goal's file says of each point: does it meet the criterion, or is it not held against it? */
const judgedWords = ["yes", "no", "out"];

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
    since: readDate(row, "since"),
    per: row.cells["per"] || null,
    joined: (row.cells["joined"] ?? "").split(" | ").filter(Boolean),
  };
}

/** What the rows of a goal's file say of the criterion; nothing where they do not say it of each point. */
function judgedFrom(
  rows: readonly Row[],
): { constants: Partial<Series["constants"]>; lastRowOn: string | null } | null {
  const inOrder = inDateOrder(rows.map(({ cells }) => ({ date: cells["date"] ?? "", cells })));
  const [first, last] = [inOrder[0]?.cells, inOrder.at(-1)?.cells];
  const isBaseline = ({ phase }: Record<string, string>) => phase === "baseline";
  if (!inOrder.some(({ cells }) => judgedWords.includes(cells["judged"] ?? ""))) return null;
  const several = (text = "") => text.split(" | ").filter(Boolean);
  const whole = (text = "") => (/^\d{1,2}$/.test(text) ? Number(text) : undefined);
  const constants = {
    occasions: inOrder.flatMap(({ date, cells }) =>
      (cells["judged"] !== "yes" && cells["judged"] !== "no") || isBaseline(cells)
        ? []
        : [
            {
              ...{ date, meets: cells["judged"] === "yes" },
              ...{ settings: several(cells["setting"]), people: several(cells["observer"]) },
            },
          ],
    ),
    breadth: { settings: whole(first?.["settings"]), people: whole(first?.["people"]) },
    ...{ currentPhase: last?.["phase"], phaseFrom: first?.["since"] || undefined },
    isTotal: first?.["measure"] === "running-total",
  };
  return { constants, lastRowOn: inOrder.at(-1)?.date ?? null };
}

/**
 * Reads the series of a CSV with `series,date,phase,value` and, constant within a series and optional, `direction`, `criterion`,
 * `window`, `due`. In the file of a goal `judged` says of each row whether it meets the criterion (`yes`, `no`) or is not held against it
 * (`out`), since that takes more than the value: figures joined to it, points without a figure. Other columns are ignored.
 *
 * @returns series in the order in which they first appear
 * @throws InputError at its line when something in it is wrong
 */
export const readSeries = (text: string): Series[] => readEach(text, constantColumns, () => ({}));

/**
 * Reads the same file with what `decide` asks for: `unit`, `today`, `met`, `weeks` (school weeks left), `taught` (the day up to which it was
 * taught as planned), `stale` (`yes` or `no`: is the last point older than two school weeks?), `since` (the day on which the phase of today
 * began), `per` (what a point is: session, day, week, month), `joined` (what is joined to the criterion), constant within a series too.
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
  const rowsOf = new Map<string, Row[]>();
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
      ...{ name, observations: [], texts, constants: readConstants(row), lastRowOn: null },
      ...readMore(row),
    };
    all.set(name, series);
    const ofSeries = rowsOf.get(name);
    if (ofSeries) ofSeries.push(row);
    else rowsOf.set(name, [row]);
    const date = cells["date"] ?? "";
    if (!isDate(date))
      throw new InputError(line, `date ${date || "is empty"}${date ? " is not a date (YYYY-MM-DD)" : ""}`);
    const value = cells["value"] ?? "";
    if (value === "") continue;
    if (!isNumber(value)) throw new InputError(line, `value ${value} is not a number`);
    series.observations.push({ date, phase: cells["phase"] ?? "", value: Number(value) });
  }
  for (const [name, series] of all) {
    const judged = judgedFrom(rowsOf.get(name) ?? []);
    if (judged)
      Object.assign(series, {
        lastRowOn: judged.lastRowOn,
        constants: { ...series.constants, ...judged.constants },
      });
  }
  return [...all.values()];
}
