import { readMeasure, scoreEntry } from "#core/measures/measure.ts";
import { scoreWords } from "#core/words/amounts.ts";
import { InputError } from "#core/files/input-error.ts";
import { inputLines, isRecord, jsonLines } from "./lines.ts";

/** A field written as null is a field that is not given. */
function given(record: Record<string, unknown>): Record<string, unknown> {
  return Object.fromEntries(Object.entries(record).filter(([, value]) => value !== null));
}

function said(part: string, problems: readonly { field: string; message: string }[]): string {
  return problems.map(({ field, message }) => `${field ? `${part}.${field}` : part}: ${message}`).join(" ");
}

function readLine(line: string, number: number) {
  let parsed: unknown;
  try {
    parsed = JSON.parse(line);
  } catch {
    throw new InputError(number, "is not JSON");
  }
  if (!isRecord(parsed)) throw new InputError(number, "is not an object");
  const { id, measure, entry } = parsed;
  if (typeof id !== "string" && typeof id !== "number") throw new InputError(number, "id is missing");
  if (!isRecord(measure)) throw new InputError(number, "measure is missing");
  if (!isRecord(entry)) throw new InputError(number, "entry is missing");
  const read = readMeasure(given(measure));
  if (!read.ok) throw new InputError(number, said("measure", read.problems));
  const scored = scoreEntry(read.measure, given(entry));
  if (!scored.ok) throw new InputError(number, said("entry", scored.problems));
  return { id, ...scored.score };
}

/** `figures score`: JSON Lines of entries in, their scores out. */
export function figuresScore(text: string, { json }: { json: boolean }): string {
  const rows = inputLines(text).map(({ line, number }) => readLine(line, number));
  if (json) return jsonLines(rows);
  const width = Math.max(2, ...rows.map((row) => String(row.id).length));
  return rows.map((row) => `${String(row.id).padEnd(width)}  ${scoreWords(row)}\n`).join("");
}
