import { randomBytes } from "node:crypto";
import pino from "pino";

export const log = pino({
  level: process.env["LOG_LEVEL"] ?? "info",
  base: null,
  timestamp: pino.stdTimeFunctions.isoTime,
});

/** What happens that whoever looks after the server should see, in words of this list and without personal data. */
type SecurityEvent =
  | "sign-in failed"
  | "second step failed"
  | "password not changed"
  | "family code failed"
  | "PIN failed"
  | "provider away"
  | "limit reached"
  | "not permitted"
  | "foreign origin"
  | "unknown host";

/** Logs such an event, at `warn`. */
export function noteSecurity(event: SecurityEvent, details: Record<string, string> = {}): void {
  log.warn({ security: event, ...details }, "security");
}

/** Ids and what stands in queries never reach the log: `/students/:id/report`. */
export function loggedPath(url: string): string {
  const path = url.split("?", 1)[0] ?? "";
  return path
    .replace(/[0-9a-f]{8}-[0-9a-f-]{27}/gi, ":id")
    .replace(/[\w-]{43}/g, ":token")
    .replace(/[^\w/.:*-]/g, "…")
    .slice(0, 120);
}

interface Detail {
  name?: unknown;
  code?: unknown;
  constraint?: unknown;
  routine?: unknown;
  stack?: unknown;
  message?: unknown;
}

/** What of an error may be logged: its kind and its place. Messages can quote what a person typed, so they stay out. */
export function loggableError(error: unknown): Record<string, unknown> {
  const { name, code, constraint, routine, stack }: Detail =
    typeof error === "object" && error !== null ? error : {};
  const frames =
    typeof stack === "string"
      ? stack
          .split("\n")
          .filter((line) => /^\s+at /.test(line))
          .map((line) => line.trim())
      : [];
  // What we wrote tells where to look; the library's own way down tells little.
  const ours = frames.filter((line) => !/node_modules|\(?node:|<anonymous>/.test(line));
  return { name, code, constraint, routine, at: (ours.length > 0 ? ours : frames).slice(0, 12) };
}

const unavailableCodes = new Set([
  "ECONNREFUSED",
  "ECONNRESET",
  "EPIPE",
  "ETIMEDOUT",
  "57P01",
  "57P02",
  "57P03",
  "08000",
  "08003",
  "08006",
  "53300",
  // A pool of connections before the database says so when it cannot reach it.
  "08P01",
  // Locked, or too slow, for longer than the limits of a transaction.
  "55P03",
  "57014",
  "25P03",
]);

/** The database has stopped answering while something is asked of it. */
export class DatabaseAway extends Error {}

/** Whether the database answers, apart from all that is asked of it. */
export interface Pulse {
  /** Does it answer in time? */
  answers: () => Promise<boolean>;
  /** Did it not, a moment ago? */
  isAway: () => boolean;
}

/** Is the database away for now (restarting, full, cut off), so that trying again helps? */
export function isUnavailable(error: unknown): boolean {
  const { name, code, message }: Detail = typeof error === "object" && error !== null ? error : {};
  return (
    unavailableCodes.has(String(code)) ||
    name === "KnexTimeoutError" ||
    error instanceof DatabaseAway ||
    /Connection terminated|timeout exceeded when trying to connect|Query read timeout|^timeout expired/.test(
      String(message),
    )
  );
}

export interface Failure {
  kind: "failed" | "unavailable";
  id: string;
}

/** Logs an error under a new id and makes the answer that carries this id and nothing else of it. */
export function failure(error: unknown): { body: Failure; status: number } {
  const id = randomBytes(4).toString("hex");
  const unavailable = isUnavailable(error);
  log.error({ id, error: loggableError(error) }, unavailable ? "database unavailable" : "request failed");
  return { body: { kind: unavailable ? "unavailable" : "failed", id }, status: unavailable ? 503 : 500 };
}
