import { randomBytes } from "node:crypto";
import pino from "pino";
import { data, isRouteErrorResponse } from "react-router";

export const log = pino({
  level: process.env["LOG_LEVEL"] ?? "info",
  base: null,
  timestamp: pino.stdTimeFunctions.isoTime,
});

/** Ids and what stands in queries never reach the log: `/students/:id/report`. */
export function loggedPath(url: string): string {
  const path = url.split("?", 1)[0] ?? "";
  return path
    .replace(/[0-9a-f]{8}-[0-9a-f-]{27}/gi, ":id")
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
          .slice(0, 12)
          .map((line) => line.trim())
      : [];
  return { name, code, constraint, routine, at: frames };
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
]);

/** Is the database away for now (restarting, full, cut off), so that trying again helps? */
export function isUnavailable(error: unknown): boolean {
  const { name, code, message }: Detail = typeof error === "object" && error !== null ? error : {};
  return (
    unavailableCodes.has(String(code)) ||
    name === "KnexTimeoutError" ||
    /Connection terminated|timeout exceeded when trying to connect/.test(String(message))
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

/** Runs the work of a loader or action: answers meant for the browser pass, anything else becomes a failure with an id. */
export async function guarded<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (
      error instanceof Response ||
      isRouteErrorResponse(error) ||
      isDataAnswer(error) ||
      error instanceof InputProblems
    )
      throw error;
    const { body, status } = failure(error);
    throw data(body, { status });
  }
}

/** Is this what React Router's `data()` makes: an answer meant for the browser? */
export function isDataAnswer<Body>(
  thrown: unknown,
): thrown is { data: Body; init: { status?: number } | null } {
  return (
    typeof thrown === "object" &&
    thrown !== null &&
    "type" in thrown &&
    thrown.type === "DataWithResponseInit"
  );
}

/** What was entered cannot be kept as it is: one message for each field. It ends the transaction and goes back to the form. */
export class InputProblems extends Error {
  constructor(readonly problems: Record<string, string>) {
    super("the input has problems");
  }
}
