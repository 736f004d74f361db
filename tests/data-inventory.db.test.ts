import { readFileSync, writeFileSync } from "node:fs";
import { afterAll, beforeAll, expect, it } from "vitest";
import { format, resolveConfig } from "prettier";
import { columnLines, readers, spans, tableLines } from "./data-inventory.ts";
import { openThrowaway } from "./database.ts";

const page = new URL("../docs/data-inventory.md", import.meta.url);

let db: Awaited<ReturnType<typeof openThrowaway>>;
let columns: { table: string; column: string }[] = [];
beforeAll(async () => {
  db = await openThrowaway("empty");
  const { rows } = await db.owner.raw<{ rows: { table: string; column: string }[] }>(
    `select case n.nspname when 'gate' then 'gate.' else '' end || c.relname as table, a.attname as column
     from pg_class c join pg_namespace n on n.oid = c.relnamespace and n.nspname in ('public', 'gate')
     join pg_attribute a on a.attrelid = c.oid and a.attnum > 0 and not a.attisdropped
     where c.relkind = 'r' and c.relname not like 'knex%' order by n.nspname <> 'public', c.relname, a.attnum`,
  );
  columns = rows;
});
afterAll(() => db.close());

const lineOf = ({ table, column }: { table: string; column: string }) =>
  columnLines[`${table}.${column}`] ?? columnLines[column];

it("every column of every table has a line in the data inventory, and no line is of a table or column that is gone", () => {
  expect(columns.filter((one) => !lineOf(one)).map(({ table, column }) => `${table}.${column}`)).toEqual([]);
  const tables = [...new Set(columns.map(({ table }) => table))];
  expect(Object.keys(tableLines).toSorted()).toEqual(tables.toSorted());
  const names = new Set(columns.flatMap(({ table, column }) => [column, `${table}.${column}`]));
  expect(Object.keys(columnLines).filter((name) => !names.has(name))).toEqual([]);
});

it("docs/data-inventory.md is what the schema and the lines make: written anew with GENTLE_MARGIN_WRITE_INVENTORY=1", async () => {
  const tables = [...new Set(columns.map(({ table }) => table))];
  const parts = tables.map((table) => {
    const line = tableLines[table];
    const mine = columns.filter((one) => one.table === table);
    return `## ${table}\n\n${line?.what ?? ""}. About: ${line?.about ?? ""}. Read by: ${line ? readers[line.readers] : ""}. There: ${line ? spans[line.span] : ""}.\n\n${mine
      .map((one) => `- \`${one.column}\`: ${lineOf(one) ?? ""}`)
      .join("\n")}\n`;
  });
  const text = `# Data inventory\n\nEvery table and column of the database, made from its schema by \`tests/data-inventory.db.test.ts\`. What a school does with it is in [privacy](privacy.md). Beside these are the queue's own tables (schema \`jobs\`), which hold ids and no text.\n\n${parts.join("\n")}`;
  const made = await format(text, { ...(await resolveConfig(page.pathname)), parser: "markdown" });
  if (process.env["GENTLE_MARGIN_WRITE_INVENTORY"] === "1") writeFileSync(page, made);
  expect(readFileSync(page, "utf8")).toBe(made);
});
