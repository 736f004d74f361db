/** The lines of an input file that say something, numbered as they stand in it; a byte-order mark is no part of it. */
export function inputLines(text: string): { line: string; number: number }[] {
  return text
    .replace(/^\uFEFF/, "")
    .split(/\r?\n/)
    .flatMap((line, index) => (line.trim() === "" ? [] : [{ line, number: index + 1 }]));
}

export function jsonLines(rows: readonly unknown[]): string {
  return rows.map((row) => `${JSON.stringify(row)}\n`).join("");
}

export function isRecord(value: unknown): value is Record<string, unknown> {
  return typeof value === "object" && value !== null && !Array.isArray(value);
}
