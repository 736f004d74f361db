import { statfs } from "node:fs/promises";
import { createServer, type Server } from "node:http";
import { matchRoutes, type RouteObject } from "react-router";
import { collectDefaultMetrics } from "prom-client";
import type { Database } from "../db/connection.ts";
import { lastBackup, listWaitingJobs } from "../db/readiness.ts";
import { log, loggableError } from "../failure.ts";
import { openStreams } from "../live/streams-of-session.ts";
import { gauge, registry } from "../metrics.ts";

/** A route of the build, as far as it is needed here. */
interface BuiltRoute {
  id: string;
  parentId?: string | undefined;
  path?: string | undefined;
  index?: boolean | undefined;
}

/** The pattern of the route that answers a path, `/students/:studentId/report`; so that labels are few and hold no id. */
export function routeNames(
  routes: Readonly<Record<string, BuiltRoute | undefined>>,
): (path: string) => string {
  const all = Object.values(routes).filter((route) => route !== undefined);
  const below = (parentId: string | undefined): RouteObject[] =>
    all
      .filter((route) => (route.parentId ?? undefined) === parentId)
      .map(({ id, path, index }): RouteObject => {
        const own = { id, ...(path === undefined ? {} : { path }) };
        return index ? { ...own, index: true } : { ...own, children: below(id) };
      });
  const tree = below(undefined);
  return (path) => {
    const pathname = path.split("?", 1)[0]?.replace(/\.data$/, "") ?? "/";
    if (/^\/assets\//.test(pathname)) return "assets";
    try {
      const pattern = matchRoutes(tree, pathname)?.flatMap(({ route }) => route.path ?? []);
      return pattern && !pattern.includes("*")
        ? `/${pattern.join("/").replaceAll("//", "/").replace(/^\//, "")}`
        : "none";
    } catch {
      return "none";
    }
  };
}

/** What is measured beside the requests: the pool, viewers, jobs, the backup, the disk, and the process itself. */
function measure(database: Database): void {
  collectDefaultMetrics({ register: registry, prefix: "gentle_margin_" });
  const one = (value: number) => Promise.resolve([{ labels: {}, value }]);
  const pool = database.client as {
    pool: { numUsed: () => number; numFree: () => number; numPendingAcquires: () => number };
  };
  gauge("pool_connections", "Connections of the pool, by what they do", ["state"], () =>
    Promise.resolve([
      { labels: { state: "used" }, value: pool.pool.numUsed() },
      { labels: { state: "free" }, value: pool.pool.numFree() },
      { labels: { state: "waited for" }, value: pool.pool.numPendingAcquires() },
    ]),
  );
  gauge("live_viewers", "Open streams of live changes", [], () => one(openStreams()));
  gauge("oldest_job_seconds", "How long the oldest job of a queue has been waiting", ["queue"], async () =>
    (await listWaitingJobs(database)).map(({ queue, seconds }) => ({ labels: { queue }, value: seconds })),
  );
  gauge("backup_age_seconds", "How old the last backup is", [], async () => {
    const last = await lastBackup(database);
    return last ? one(last.hours * 3600) : [];
  });
  gauge("disk_free_bytes", "What is left of the disk with the program", [], async () => {
    const { bavail, bsize } = await statfs(".");
    return one(bavail * bsize);
  });
}

/** Answers with the figures of this process on a port of its own, which nobody outside should reach. Without a port there is none. */
export async function serveMetrics(
  database: Database,
  { port, host = "127.0.0.1" }: { port: string | undefined; host?: string | undefined },
): Promise<Server | null> {
  if (port === undefined || port === "") return null;
  measure(database);
  const server = createServer((_, response) => {
    registry.metrics().then(
      (text) => response.writeHead(200, { "Content-Type": registry.contentType }).end(text),
      (error: unknown) => {
        log.warn({ error: loggableError(error) }, "metrics");
        response.writeHead(500).end();
      },
    );
  });
  await new Promise<void>((resolve, reject) => {
    server.once("error", reject);
    server.listen(Number(port), host, resolve);
  });
  const address = server.address();
  log.info({ metrics: typeof address === "object" ? address?.port : null }, "metrics listening");
  return server;
}
