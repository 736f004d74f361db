import type { RouteConfigEntry } from "@react-router/dev/routes";
import routes from "#app/routes.ts";

interface RouteFile {
  path: string;
  file: string;
  /** Does it share its address with the route around it? */
  isIndex: boolean;
}

function pathsOf(entries: readonly RouteConfigEntry[], above = ""): RouteFile[] {
  return entries.flatMap((entry) => {
    const path = entry.path === undefined ? above : `${above}/${entry.path}`;
    return [
      ...(entry.path !== undefined || entry.index
        ? [{ path: path || "/", file: entry.file, isIndex: entry.index ?? false }]
        : []),
      ...pathsOf(entry.children ?? [], path),
    ];
  });
}

/** Every route: its address, with its parameters as `:name`, or `:name?` where one may be left out, and its file below `app`. */
export const routesWithFiles: readonly RouteFile[] = pathsOf(routes).map(({ path, ...route }) => ({
  ...route,
  path: path.replace(/\/:\w+\?$/, ""),
}));

/** The address of every route, each once. */
export const routePaths: readonly string[] = [...new Set(pathsOf(routes).map(({ path }) => path))];
