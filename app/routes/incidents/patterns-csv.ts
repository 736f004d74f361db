import {
  chosenIncidents,
  choosePatterns,
  type PatternChoice,
  type PatternMaterial,
  readChoice,
} from "#core/incidents/choose.ts";
import { incidentTable } from "#core/incidents/incident-file.ts";
import { authorize } from "#server/access/authorize.ts";
import { notFound } from "#server/errors.ts";
import { readPatternMaterial } from "#server/db/pattern-material.ts";
import { csvOf } from "#app/ui/csv.server.ts";
import { patternTables } from "./tables.ts";
import type { Route } from "./+types/patterns-csv";

/** The raw incidents that were chosen, as `figures incidents` and `figures findings` read them. */
function incidentCsv(material: PatternMaterial, choice: PatternChoice): Response {
  const { from, to, compare } = choice;
  const inSpan = (day: string) => from <= day && day <= to;
  const { head, rows } = incidentTable(
    chosenIncidents(material, choice).filter(({ on }) => inSpan(on)),
    {
      ...{ periods: material.periods, notWatched: material.notWatched },
      days: material.days.filter(inSpan),
      plan: typeof compare === "string" ? null : compare,
    },
  );
  return csvOf({ head, rows: rows.map((cells) => ({ cells })) }, `incidents-${from}-to-${to}`);
}

/** The numbers of one picture of the patterns as a file, as they were chosen. */
export function loader({ request, context, params }: Route.LoaderArgs) {
  const { studentId } = params;
  const search = new URL(request.url).searchParams;
  return authorize(request, context, "incident.read", studentId, async (scope) => {
    const { material, strengths } = await readPatternMaterial(scope, studentId);
    const choice = readChoice(search, material);
    const { patterns, comparison } = choosePatterns(material, choice);
    const name = search.get("table") ?? "stands-out";
    if (name === "incidents") return incidentCsv(material, choice);
    const tables = patternTables(patterns, { size: choice.bins, strengthWords: strengths, comparison });
    const table = (Object.hasOwn(tables, name) ? tables[name] : undefined) ?? notFound();
    return csvOf(table(), `patterns-${name}-${choice.from}-to-${choice.to}`);
  });
}
