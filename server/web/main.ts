import cluster from "node:cluster";
import { randomBytes } from "node:crypto";
import { once } from "node:events";
import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import { Server as SocketServer } from "node:net";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { createRequestListener } from "@remix-run/node-fetch-server";
import compression from "compression";
import { createRequestHandler } from "react-router";
import sirv from "sirv";
import * as build from "virtual:react-router/server-build";
import { warmPasswords } from "../auth/password.ts";
import { connectApplication } from "../db/connection.ts";
import { failure, log, loggableError, loggedPath, noteSecurity } from "../failure.ts";
import { mailServerFrom, siteOf } from "../dispatch/mail-server.ts";
import { withOwnLocale } from "../locale.ts";
import { openPacketMaker } from "../exports/packet-maker.ts";
import { openPrinter } from "../exports/printer.ts";
import { keepJobsRunning } from "../jobs/run.ts";
import { openHub } from "../live/hub.ts";
import { backUpByParent } from "./ask-parent.ts";
import { requestFacts } from "./context.ts";
import { clientAddress, isSecure, knownHosts, malformed, refusal } from "./guard.ts";
import { requests } from "../metrics.ts";
import { securityTxt } from "./security-txt.ts";
import { listen } from "./listen.ts";
import { routeNames, serveMetrics } from "./metrics.ts";
import { openReadiness } from "./readiness.ts";
import { readBody } from "./read-body.ts";
import { withSecurityHeaders } from "./security-headers.ts";

const url = process.env["APP_DATABASE_URL"];
if (!url) throw new Error("APP_DATABASE_URL is not set");
const host = process.env["HOST"] ?? "127.0.0.1";
const hops = Number(process.env["TRUST_PROXY"] ?? 0);
const hosts = knownHosts(process.env["HOSTS"], host);
const database = connectApplication(url, { max: Number(process.env["POOL"] ?? 10) });
/** Where the database is behind a pool of connections, notifications are heard past it. */
const hub = openHub(process.env["LISTEN_DATABASE_URL"] || url);
const mailServer = mailServerFrom(process.env);
const printer = openPrinter();
const clientFolder = fileURLToPath(new URL("../client", import.meta.url));
const packets = openPacketMaker({ assets: join(clientFolder, "assets"), databaseUrl: url });
/** The address of this site, for links in messages: as it is set, or this machine's own where nobody else reaches it. */
const sending = { mailServer, site: siteOf(process.env) };
const jobs = keepJobsRunning(url, database, { backUp: backUpByParent(), packets, sending });
const readiness = openReadiness(url, hub, Number(process.env["PATIENCE"] ?? 2) * 1000);

const answerRequest = createRequestHandler(build, "production");

async function handlePage(request: Request): Promise<Response> {
  const facts = requestFacts.getStore();
  if (!facts) throw new Error("outside a request");
  const read = await readBody(request);
  if (!(read instanceof Request)) return new Response(`${read.text}\n`, { status: read.status });
  return answerRequest(read, {
    ...{ database, hub, printer, assets: join(clientFolder, "assets") },
    ...{ pulse: readiness, mails: mailServer !== null, ...facts },
  });
}

function onError(error: unknown): Response {
  const { body, status } = failure(error);
  return new Response(`Something went wrong. Reference ${body.id}.\n`, { status });
}

/** The framework compares where a form comes from with the address of the request, so that it has to know how it is really reached. */
const listeners = {
  https: createRequestListener(handlePage, { protocol: "https:", onError }),
  http: createRequestListener(handlePage, { protocol: "http:", onError }),
};

const assets = sirv(clientFolder, {
  etag: true,
  gzip: true,
  brotli: true,
  setHeaders: (response, path) =>
    response.setHeader(
      "Cache-Control",
      path.startsWith("/assets/")
        ? "public, max-age=31536000, immutable"
        : path === "/sw.js"
          ? "no-cache"
          : "public, max-age=300",
    ),
});

const compress = compression({
  filter: (request, response) =>
    !String(response.getHeader("Content-Type")).startsWith("text/event-stream") &&
    compression.filter(request, response),
});

function answer(response: ServerResponse, status: number, text: string): void {
  response
    .writeHead(status, { "Content-Type": "text/plain; charset=utf-8", "Cache-Control": "no-store" })
    .end(`${text}\n`);
}

async function ready(response: ServerResponse): Promise<void> {
  const why = await readiness.whyNot();
  if (why === null) return answer(response, 200, `ready\n${await readiness.details()}`);
  log.warn({ why }, "not ready");
  answer(response, 503, why);
}

function handle(request: IncomingMessage, response: ServerResponse, secure: boolean): void {
  const path = request.url ?? "/";
  if (path === "/health") return answer(response, 200, "ok");
  if (path === "/ready") return void ready(response);
  if (path === "/.well-known/security.txt") {
    const text = securityTxt(process.env["SECURITY_CONTACT"], Date.now());
    return text === null
      ? answer(response, 404, "No contact is set for this installation.")
      : answer(response, 200, text);
  }
  const refused = malformed(request, hosts) ?? refusal(request, secure);
  if (refused) {
    if (refused.status === 403) noteSecurity("foreign origin", { path: loggedPath(path) });
    if (refused.status === 421) noteSecurity("unknown host");
    return answer(response, refused.status, refused.text);
  }
  const run = () => {
    response.setHeader("Cache-Control", "no-store");
    void listeners[secure ? "https" : "http"](request, response);
  };
  compress(request as never, response as never, () => {
    if (request.method === "GET" || request.method === "HEAD") assets(request, response, run);
    else run();
  });
}

const routeOf = routeNames(build.routes);
const knownMethod = (method = "") => (/^(GET|HEAD|POST|OPTIONS)$/.test(method) ? method : "other");

const server = createServer((request, response) => {
  const secure = isSecure(request, hops);
  // Held by the response itself: a signal that passes from request to request on its way may be collected underway.
  const gone = new AbortController();
  response.once("close", () => gone.abort());
  const facts = {
    nonce: randomBytes(16).toString("base64"),
    secure,
    address: clientAddress(request, hops),
    gone: gone.signal,
  };
  const started = performance.now();
  // The number that stands in the log, for whoever reports a request.
  const requestId = randomBytes(6).toString("hex");
  response.setHeader("X-Request-Id", requestId);
  // Whoever has a connection to a process that ends opens another, to the one that serves then.
  if (ending) response.setHeader("Connection", "close");
  response.once("close", () => {
    const seconds = (performance.now() - started) / 1000;
    const route = routeOf(request.url ?? "/");
    const labels = { method: knownMethod(request.method), status: String(response.statusCode) };
    requests.observe({ route, ...labels }, seconds);
    log.info({ id: requestId, route, ...labels, ms: Math.round(seconds * 1000) }, "request");
  });
  requestFacts.run(facts, () =>
    withOwnLocale(() =>
      withSecurityHeaders(request, response, secure, () => handle(request, response, secure)),
    ),
  );
});
server.requestTimeout = 30_000;
server.headersTimeout = 15_000;

/** How long /ready says no before anything closes, so that whoever sends requests here sends them elsewhere. */
const drain = Number(process.env["DRAIN"] ?? (hops > 0 ? 2 : 0)) * 1000;

/** Waits until this process could serve. Answers with why it cannot, if that lasts. */
async function untilReady(): Promise<string | null> {
  for (const until = performance.now() + 20_000; ;) {
    const why = await readiness.whyNot();
    if (why === null || performance.now() > until) return why;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

let ending = false;
/**
 * Shuts down: says so in /ready, then ends streams, finishes answers and jobs under way, closes pool and LISTEN. After 4.5 s it cuts
 * what is left.
 *
 * @param handOver another process listens at the same socket already. /ready stays as it is, for it is asked of that one, and connections
 *   end by themselves: after their next answer, or after five seconds without a request. A request sent at this moment arrives.
 */
async function end({ handOver = false } = {}): Promise<void> {
  if (ending) return;
  ending = true;
  if (!handOver) readiness.end();
  setTimeout(() => process.exit(0), handOver ? 30_000 : drain + 4500).unref();
  if (!handOver) await new Promise((resolve) => setTimeout(resolve, drain));
  const closed = once(server, "close");
  // The close of an HTTP server would cut idle connections at once.
  SocketServer.prototype.close.call(server);
  const jobsEnded = jobs.stop();
  await hub.close();
  if (!handOver) server.closeIdleConnections();
  metrics?.close();
  await Promise.all([closed, jobsEnded]);
  await Promise.all([database.destroy(), readiness.close(), printer.stop()]);
  process.exit(0);
}
for (const signal of ["SIGTERM", "SIGINT", "SIGHUP"]) process.on(signal, () => void end());
process.on("message", (message: { handOver?: boolean }) => {
  if (message.handOver) void end({ handOver: true });
});
// A server whose parent was killed goes on; the next start ends it.
if (cluster.worker) cluster.worker.exitedAfterDisconnect = true;
process.on("unhandledRejection", (error) =>
  log.error({ error: loggableError(error) }, "unhandled rejection"),
);

await warmPasswords();
if (process.env["READY_FIRST"]) {
  const why = await untilReady();
  if (why !== null) {
    log.fatal({ why }, "not ready");
    process.exit(1);
  }
}
const port = await listen(server, {
  port: Number(process.env["PORT"] ?? 4717),
  tries: Number(process.env["PORT_TRIES"] ?? 1),
  host,
}).catch((error: unknown) => {
  log.fatal({ error: loggableError(error) }, "cannot listen");
  process.exit(1);
});
const metrics = await serveMetrics(database, {
  port: process.env["METRICS_PORT"],
  host: process.env["METRICS_HOST"],
}).catch((error: unknown) => {
  // The site is worth more than its figures.
  log.error({ error: loggableError(error) }, "metrics not served");
  return null;
});
// Of a demo or a first try the port is known only now.
if (!process.env["SITE_URL"]) sending.site = siteOf(process.env, port);
log.info({ port }, "listening");
// The start command learns the port that was bound, and asks /ready of nobody else.
process.send?.({ listening: port });
