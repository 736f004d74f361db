import { authorize } from "#server/access/authorize.ts";
import { notFound } from "#server/errors.ts";
import { csvOf } from "#app/ui/csv.server.ts";
import { readSchoolPatterns } from "./school-patterns.server.ts";
import { schoolTables } from "./school-tables.ts";
import type { Route } from "./+types/patterns-csv";

/** The numbers of one picture of the school's patterns as a file, without names. */
export function loader({ request, context }: Route.LoaderArgs) {
  const search = new URL(request.url).searchParams;
  return authorize(request, context, "school.patterns", null, async (scope) => {
    const read = await readSchoolPatterns(scope, search);
    const name = search.get("table") ?? "time";
    const tables = read.patterns ? schoolTables(read.patterns, read.strengths) : {};
    const table = (Object.hasOwn(tables, name) ? tables[name] : undefined) ?? notFound();
    return csvOf(table, `school-patterns-${name}-${read.span?.from}-to-${read.span?.to}`);
  });
}
