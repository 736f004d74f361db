import { isMeasureKind, scoreEntry } from "#core/measures/measure.ts";
import { percentWithCounts } from "#core/words/numbers.ts";
import { InputError } from "#server/imports/input-error.ts";

function isRecord(value: unknown): value is Record<string, unknown> {
  return typeof value === "object" && value !== null && !Array.isArray(value);
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
  if (!isMeasureKind(measure["kind"]))
    throw new InputError(number, `measure.kind ${JSON.stringify(measure["kind"])} is not known`);
  if (!isRecord(entry)) throw new InputError(number, "entry is missing");
  const scored = scoreEntry(measure["kind"], entry);
  if (!scored.ok)
    throw new InputError(
      number,
      scored.problems.map(({ field, message }) => `entry.${field}: ${message}`).join(" "),
    );
  return { id, ...scored.score };
}

/** `figures score`: JSON Lines of entries in, their scores out. */
export function figuresScore(text: string, { json }: { json: boolean }): string {
  const rows = text
    .replace(/^\uFEFF/, "")
    .split(/\r?\n/)
    .flatMap((line, index) => (line.trim() === "" ? [] : [readLine(line, index + 1)]));
  if (json) return rows.map((row) => `${JSON.stringify(row)}\n`).join("");
  const width = Math.max(2, ...rows.map((row) => String(row.id).length));
  return rows.map((row) => `${String(row.id).padEnd(width)}  ${percentWithCounts(row)}\n`).join("");
}
