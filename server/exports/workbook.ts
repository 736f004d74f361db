import ExcelJS, { type Worksheet } from "exceljs";
import { isDate } from "#core/dates/day-number.ts";
import type { DataTable, GoalBlock, ReportDocument } from "#core/report/document.ts";
import type { ColumnKey, FileWords } from "#core/words/en/files.ts";
import { fileWords } from "#core/words/files.ts";
import { xmlText as clean } from "./xml-text.ts";

/** What a spreadsheet takes for a formula where a text begins with it. OWASP, "CSV Injection". */
const formulaStart = /^[=+\-@\t\r\n]/;

/**
 * A text as a cell that is no formula wherever it is opened, copied or saved as CSV: an apostrophe is put before it.
 */
export const plainCell = (text: string): string => (formulaStart.test(text) ? `'${text}` : text);

/** Longer text is cut by every program that opens the file. */
const mostLetters = 32_767;

type Cell = string | number | Date | null;

/** A day as a date without a time: programs read the number of days, and no time zone moves it. */
const dayCell = (day: string): Date => new Date(`${day}T00:00:00Z`);

const cellOf = (value: string | number, key: ColumnKey): Cell =>
  value === ""
    ? null
    : typeof value === "number"
      ? value
      : key === "date" && isDate(value)
        ? dayCell(value)
        : plainCell(clean(value).slice(0, mostLetters));

/** The names of sheets have no `\ / ? * [ ] :`, at most 31 letters, no apostrophe at an end, and none occurs twice. */
function sheetName(wanted: string, taken: Set<string>): string {
  const name =
    clean(wanted)
      .replace(/[\\/?*[\]:]/g, " ")
      .replace(/^'+|'+$/g, "")
      .trim() || "Sheet";
  for (let time = 1; ; time += 1) {
    const more = time === 1 ? "" : ` (${time})`;
    const free = `${name.slice(0, 31 - more.length).trim()}${more}`;
    if (!taken.has(free.toLowerCase())) {
      taken.add(free.toLowerCase());
      return free;
    }
  }
}

interface Sheet {
  name: string;
  columns: ColumnKey[];
  rows: (string | number)[][];
}

/** Columns whose cells hold words of the figures command, and not what somebody typed. */
const worded: ReadonlySet<ColumnKey> = new Set(["phase", "unit", "judged", "own"]);

/** The columns of a table that people read, in this order; those that only repeat a setting are left to the CSV file. */
const chosen = ({ head, rows }: DataTable, keys: readonly ColumnKey[]): Pick<Sheet, "columns" | "rows"> => {
  const columns = keys.filter((key) => head.includes(key));
  const at = columns.map((key) => head.indexOf(key));
  return { columns, rows: rows.map((row) => at.map((index) => row[index] ?? "")) };
};

const goalColumns: readonly ColumnKey[] = [
  ...(["date", "phase", "value", "unit", "counted", "of", "judged", "setting", "observer"] as const),
];
const incidentColumns: readonly ColumnKey[] = [
  ...(["date", "time", "period", "setting", "antecedents", "behaviors", "consequences", "function"] as const),
  ...(["minutes", "length", "intensity", "episode"] as const),
];
const jotColumns: readonly ColumnKey[] = [
  ...(["date", "time", "category", "level", "own", "words", "pictures", "by"] as const),
];

const goalsOf = ({ sections }: ReportDocument): GoalBlock[] =>
  sections.flatMap(({ blocks }) => blocks.filter((block) => block.kind === "goal"));

/** The lines of the log with the number of their goal. */
function logSheet(document: ReportDocument, says: FileWords): Sheet {
  const numbers = new Map(goalsOf(document).map(({ goalId, number }) => [goalId, number]));
  const lines = document.sections
    .filter(({ name }) => name === "log")
    .flatMap(({ blocks }) => blocks.flatMap((block) => (block.kind === "line" ? [block.line] : [])));
  return {
    name: says.log(),
    columns: ["date", "time", "goal", "line", "note", "by"],
    rows: lines.map(({ on, time, goalId, sentence, note, author }) => [
      ...[on, time, (goalId === null ? "" : numbers.get(goalId)) ?? "", sentence, note ?? "", author],
    ]),
  };
}

const widths: Partial<Record<ColumnKey, number>> = {
  ...{ date: 12, time: 9, phase: 18, unit: 12, judged: 14, setting: 18, observer: 22, goal: 8 },
  ...{ line: 70, note: 50, words: 60, antecedents: 32, behaviors: 26, consequences: 32, by: 22 },
};

function fill(sheet: Worksheet, { columns, rows }: Sheet, says: FileWords): void {
  sheet.columns = columns.map((key) => ({
    header: says.columns[key][0],
    key,
    width: widths[key] ?? 12,
    style: {
      alignment: { vertical: "top", wrapText: true },
      ...(key === "date" ? { numFmt: "yyyy-mm-dd" } : {}),
    },
  }));
  const shown = (value: string | number, key: ColumnKey) =>
    worded.has(key) ? (says.values[value] ?? value) : value;
  for (const row of rows) sheet.addRow(columns.map((key, at) => cellOf(shown(row[at] ?? "", key), key)));
  sheet.getRow(1).font = { bold: true };
  sheet.views = [{ state: "frozen", ySplit: 1 }];
  if (columns.length > 0)
    sheet.autoFilter = { from: { row: 1, column: 1 }, to: { row: 1, column: columns.length } };
}

/**
 * A report as a workbook (Office Open XML, ISO/IEC 29500): a sheet of what it is about, one for each goal with its points, the log,
 * incidents, jots, and one that explains the columns. Days are dates, numbers are numbers, and no text becomes a formula.
 *
 * @param called "Edition 3", or what kind of report it is
 * @returns the bytes of the file
 */
export async function reportWorkbook(document: ReportDocument, called: string): Promise<Buffer> {
  const says = fileWords[document.language];
  const { data } = document;
  const taken = new Set<string>();
  const sheets: Sheet[] = [
    ...goalsOf(document).flatMap(({ goalId, number }) => {
      const table = data?.goals.find((one) => one.goalId === goalId);
      return table ? [{ name: says.goal(number), ...chosen(table, goalColumns) }] : [];
    }),
    logSheet(document, says),
    ...(data?.incidents ? [{ name: says.incidents(), ...chosen(data.incidents, incidentColumns) }] : []),
    ...(data?.jots ? [{ name: says.jots(), ...chosen(data.jots, jotColumns) }] : []),
  ];
  const book = new ExcelJS.Workbook();
  book.creator = "Gentle Margin";
  book.title = clean(`${document.title} · ${called}`);
  const about = book.addWorksheet(sheetName(says.about(), taken));
  about.columns = [{ width: 24 }, { width: 90, style: { alignment: { wrapText: true, vertical: "top" } } }];
  about.addRow([plainCell(clean(document.title)), called]).font = { bold: true };
  for (const { label, value } of document.facts) about.addRow([label, plainCell(clean(value))]);
  about.addRow([]);
  for (const { number, title, wording } of goalsOf(document))
    about.addRow([says.goal(number), plainCell(clean(`${title}: ${wording}`))]);
  const named = sheets.map((sheet) => ({ ...sheet, name: sheetName(sheet.name, taken) }));
  for (const sheet of named) fill(book.addWorksheet(sheet.name), sheet, says);
  const dictionary = book.addWorksheet(sheetName(says.dictionary(), taken));
  dictionary.columns = [{ width: 18 }, { width: 20 }, { width: 90 }];
  dictionary.addRow(says.dictionaryHead()).font = { bold: true };
  for (const { name, columns } of named)
    for (const key of columns) dictionary.addRow([name, ...says.columns[key]]);
  dictionary.views = [{ state: "frozen", ySplit: 1 }];
  return Buffer.from(await book.xlsx.writeBuffer());
}
