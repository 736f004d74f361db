import { stringify } from "csv-stringify/sync";

/** A table as a file that spreadsheets open. */
export function csvOf(
  { head, rows }: { head: readonly string[]; rows: readonly { cells: readonly (string | number)[] }[] },
  name: string,
): Response {
  // A label that begins like a formula must not become one in the program that opens the file.
  const file = stringify([head, ...rows.map(({ cells }) => cells)], {
    bom: true,
    record_delimiter: "windows",
    escape_formulas: true,
  });
  return new Response(file, {
    headers: {
      "Content-Type": "text/csv; charset=utf-8",
      "Content-Disposition": `attachment; filename="${name}.csv"`,
      "Cache-Control": "no-store",
    },
  });
}
