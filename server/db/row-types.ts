import type { Database } from "./connection.ts";

/** What stands in the columns of JSON, and of texts with a type of their own: `table.column` → a type, and the file it comes from. */
const contents: Record<string, readonly [type: string, from: string]> = {
  "goals.criterion": ["Criterion", "#core/criteria/criterion.ts"],
  "goals.schedule": ["Schedule", "#core/schedule/schedule.ts"],
  "goal_measures.measure": ["Measure", "#core/measures/measure.ts"],
  "goal_summaries.summary": ["GoalSummary", "#core/progress/goal-figures.ts"],
  "entries.entry": ["ObservedEntry", "#core/measures/measure.ts"],
  "entries.score": ["Score", "#core/measures/score-schema.ts"],
  "entries.circumstances": ["Circumstances", "#core/model/entry.ts"],
  "second_observations.entry": ["ObservedEntry", "#core/measures/measure.ts"],
  "second_observations.score": ["Score", "#core/measures/score-schema.ts"],
};

/** How the driver reads each type of the database; a date stays a text (see `connection.ts`). */
const read: Record<string, string> = {
  uuid: "string",
  text: "string",
  varchar: "string",
  date: "string",
  time: "string",
  timestamptz: "Date",
  bool: "boolean",
  int2: "number",
  int4: "number",
  int8: "string",
  float8: "number",
  numeric: "string",
  bytea: "Buffer",
  json: "unknown",
  jsonb: "unknown",
};

interface Column {
  table: string;
  name: string;
  type: string;
  array: boolean;
  nullable: boolean;
  /** The few texts that a check allows. */
  allowed: string[] | null;
}

/**
 * The row types of every table as TypeScript, from the database itself. A column's check of the form `column in ('a', 'b')` becomes a union.
 *
 * Ours, where two libraries were tried: one brings 71 MB and a database of its own for this file, the other writes enums and reads a date
 * as a moment.
 */
export async function rowTypes(owner: Database): Promise<string> {
  const { rows } = await owner.raw<{ rows: Column[] }>(`
    select c.relname as table, a.attname as name, coalesce(e.typname, t.typname) as type, e.typname is not null as array,
      not a.attnotnull as nullable,
      (select array(select m[1] from regexp_matches(pg_get_constraintdef(k.oid), '''([^'']*)''::text', 'g') as m)
        from pg_constraint k
        where k.conrelid = c.oid and k.contype = 'c' and k.conkey = array[a.attnum]
          and pg_get_constraintdef(k.oid) ~ ('^CHECK \\(\\(' || a.attname || ' = ANY \\(ARRAY\\[') limit 1) as allowed
    from pg_class c join pg_namespace n on n.oid = c.relnamespace
    join pg_attribute a on a.attrelid = c.oid and a.attnum > 0 and not a.attisdropped
    join pg_type t on t.oid = a.atttypid left join pg_type e on e.oid = t.typelem and t.typcategory = 'A'
    where n.nspname = 'public' and c.relkind in ('r', 'p') and not c.relispartition and c.relname not like 'knex\\_%'
    order by c.relname, a.attnum`);
  const imports = new Map<string, Set<string>>();
  const tables = new Map<string, string[]>();
  for (const { table, name, type, array, nullable, allowed } of rows) {
    const content = contents[`${table}.${name}`];
    if (content) imports.set(content[1], (imports.get(content[1]) ?? new Set()).add(content[0]));
    const one = content?.[0] ?? allowed?.map((text) => JSON.stringify(text)).join(" | ") ?? read[type];
    if (one === undefined) throw new Error(`${table}.${name}: how is ${type} read?`);
    const many = array ? `${one.includes("|") ? `(${one})` : one}[]` : one;
    tables.set(table, [
      ...(tables.get(table) ?? []),
      `    ${name}: ${many}${nullable && many !== "unknown" ? " | null" : ""};`,
    ]);
  }
  return [
    "// Made from the database by `npm run row-types`; a test says when it is old. Not written by hand.",
    ...[...imports]
      .sort()
      .map(([from, names]) => `import type { ${[...names].sort().join(", ")} } from "${from}";`),
    "",
    "/** A row of each table, as the driver reads it. */",
    "export interface Tables {",
    ...[...tables].flatMap(([table, columns]) => [`  ${table}: {`, ...columns, "  };"]),
    "}",
    "",
  ].join("\n");
}
