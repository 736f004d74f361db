import { randomBytes } from "node:crypto";
import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import { fileURLToPath } from "node:url";
import { createRequestListener } from "@react-router/node";
import compression from "compression";
import helmet from "helmet";
import sirv from "sirv";
import * as build from "virtual:react-router/server-build";
import { warmPasswords } from "../auth/password.ts";
import { connect } from "../db/connection.ts";
import { failure, log, loggableError, loggedPath } from "../failure.ts";
import { keepJobsRunning } from "../jobs/run.ts";
import { openHub } from "../live/hub.ts";
import { requestFacts } from "./context.ts";
import { clientAddress, isSecure, refusal } from "./guard.ts";

const url = process.env["APP_DATABASE_URL"];
if (!url) throw new Error("APP_DATABASE_URL is not set");
const port = Number(process.env["PORT"] ?? 4717);
const host = process.env["HOST"] ?? "127.0.0.1";
const hops = Number(process.env["TRUST_PROXY"] ?? 0);
const database = connect(url, { max: Number(process.env["POOL"] ?? 10) });
const hub = openHub(url);
const jobs = keepJobsRunning(url, database);

const listener = createRequestListener({
  build,
  mode: "production",
  getLoadContext() {
    const facts = requestFacts.getStore();
    if (!facts) throw new Error("outside a request");
    return { database, hub, ...facts };
  },
});

const assets = sirv(fileURLToPath(new URL("../client", import.meta.url)), {
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

const nonceOf = () => `'nonce-${requestFacts.getStore()?.nonce ?? ""}'`;
const headers = (secure: boolean) =>
  helmet({
    contentSecurityPolicy: {
      useDefaults: false,
      directives: {
        defaultSrc: ["'none'"],
        scriptSrc: ["'self'", nonceOf],
        styleSrc: ["'self'"],
        fontSrc: ["'self'"],
        imgSrc: ["'self'", "data:"],
        connectSrc: ["'self'"],
        workerSrc: ["'self'"],
        manifestSrc: ["'self'"],
        formAction: ["'self'"],
        frameAncestors: ["'none'"],
        baseUri: ["'none'"],
      },
    },
    referrerPolicy: { policy: "same-origin" },
    strictTransportSecurity: secure,
  });
const secureHeaders = headers(true);
const plainHeaders = headers(false);

function answer(response: ServerResponse, status: number, text: string): void {
  response
    .writeHead(status, { "Content-Type": "text/plain; charset=utf-8", "Cache-Control": "no-store" })
    .end(`${text}\n`);
}

async function ready(response: ServerResponse): Promise<void> {
  try {
    await database.raw("select 1");
    if (!hub.isListening()) return answer(response, 503, "not listening yet");
    answer(response, 200, "ready");
  } catch (error) {
    log.warn({ error: loggableError(error) }, "not ready");
    answer(response, 503, "the database does not answer");
  }
}

function handle(request: IncomingMessage, response: ServerResponse, secure: boolean): void {
  const path = request.url ?? "/";
  if (path === "/health") return answer(response, 200, "ok");
  if (path === "/ready") return void ready(response);
  const refused = refusal(request, secure);
  if (refused) return answer(response, refused.status, refused.text);
  const run = () => {
    response.setHeader("Cache-Control", "no-store");
    void Promise.resolve(listener(request, response)).catch((error: unknown) => {
      const { body, status } = failure(error);
      if (!response.headersSent) answer(response, status, `Something went wrong. Reference ${body.id}.`);
    });
  };
  compress(request as never, response as never, () => {
    if (request.method === "GET" || request.method === "HEAD") assets(request, response, run);
    else run();
  });
}

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
  response.once("close", () =>
    log.debug(
      {
        method: request.method,
        path: loggedPath(request.url ?? ""),
        status: response.statusCode,
        ms: Math.round(performance.now() - started),
      },
      "request",
    ),
  );
  requestFacts.run(facts, () =>
    (secure ? secureHeaders : plainHeaders)(request, response, () => handle(request, response, secure)),
  );
});
server.requestTimeout = 30_000;
server.headersTimeout = 15_000;

let ending = false;
/** Shuts down: ends streams, finishes answers and jobs under way, closes pool and LISTEN. After 4.5 s it cuts what is left. */
async function end(): Promise<void> {
  if (ending) return;
  ending = true;
  setTimeout(() => process.exit(0), 4500).unref();
  const closed = new Promise<void>((resolve) => server.close(() => resolve()));
  const jobsEnded = jobs.stop();
  await hub.close();
  server.closeIdleConnections();
  await Promise.all([closed, jobsEnded]);
  await database.destroy();
  process.exit(0);
}
process.on("SIGTERM", () => void end());
process.on("SIGINT", () => void end());
process.on("unhandledRejection", (error) =>
  log.error({ error: loggableError(error) }, "unhandled rejection"),
);

await warmPasswords();
server.on("error", (error) => {
  log.fatal({ error: loggableError(error) }, "cannot listen");
  process.exit(1);
});
server.listen(port, host, () => {
  const address = server.address();
  log.info({ port: typeof address === "object" ? address?.port : port }, "listening");
});
