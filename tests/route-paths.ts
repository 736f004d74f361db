import type { RouteConfigEntry } from "@react-router/dev/routes";
import routes from "#app/routes.ts";

function pathsOf(entries: readonly RouteConfigEntry[], above = ""): string[] {
  return entries.flatMap((entry) => {
    const path = entry.path === undefined ? above : `${above}/${entry.path}`;
    return [
      ...(entry.path !== undefined || entry.index ? [path || "/"] : []),
      ...pathsOf(entry.children ?? [], path),
    ];
  });
}

/** The address of every route, each once, with its parameters as `:name`, or `:name?` where one may be left out. */
export const routePaths: readonly string[] = [...new Set(pathsOf(routes))];
