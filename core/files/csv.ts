import { parse } from "csv-parse/browser/esm/sync";
import { InputError } from "./input-error.ts";

export interface CsvRow {
  /** Cell by column name, as written. */
  cells: Record<string, string>;
  /** The physical line on which the row starts; the header is line 1. */
  line: number;
  /** Does the row hold nothing but empty cells? */
  empty: boolean;
}

/** The physical line, from 1, on which each record begins; line ends inside quotes do not begin one. */
function recordStarts(text: string): number[] {
  const starts = [1];
  let quoted = false;
  let line = 1;
  for (const character of text) {
    if (character === '"') quoted = !quoted;
    if (character !== "\n") continue;
    line += 1;
    if (!quoted) starts.push(line);
  }
  return starts;
}

/**
 * Reads CSV (RFC 4180) with a header row; a byte-order mark is ignored, lines end in LF or CRLF, extra columns are kept.
 *
 * @throws InputError at its line when it is not CSV, or when a required column is missing
 */
export function readCsv(text: string, required: readonly string[]): CsvRow[] {
  const starts = recordStarts(text);
  let records: string[][];
  try {
    records = parse(text, { bom: true, relax_column_count: true, record_delimiter: ["\r\n", "\n"] });
  } catch (error) {
    const line = error instanceof Error && "lines" in error ? Number(error.lines) : 1;
    throw new InputError(line, `is not CSV: ${error instanceof Error ? error.message : "unreadable"}`);
  }
  const header = (records[0] ?? []).map((name) => name.trim());
  const missing = required.filter((name) => !header.includes(name));
  if (missing.length > 0) throw new InputError(1, `column ${missing.join(", ")} is missing`);
  return records.slice(1).map((record, index) => ({
    cells: Object.fromEntries(header.map((name, column) => [name, record[column] ?? ""])),
    line: starts[index + 1] ?? index + 2,
    empty: record.every((cell) => cell.trim() === ""),
  }));
}
