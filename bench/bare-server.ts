/**
 * The references for saving an entry: bare `node:http` handlers on one port, run as a process of their own.
 * `/knex` does the same statements through the same functions and Knex, without the framework around them; `/pg` replays the
 * statements of such a save, recorded once for each goal, on plain `pg`.
 */
import { createServer, type IncomingMessage } from "node:http";
import pg from "pg";
import { v7 as newId } from "uuid";
import { personOf } from "#server/auth/session.ts";
import { connectApplication } from "#server/db/connection.ts";
import { type NewEntry, saveEntry } from "#server/db/entries.ts";
import { withScope } from "#server/db/school.ts";
import { readEntry } from "#core/measures/measure.ts";

interface Save {
  token: string;
  entryId: string;
  goalId: string;
  studentId: string;
  marks: string;
  observedAt: string;
}

const url = process.env["APP_DATABASE_URL"] ?? "";
const database = connectApplication(url, { max: 10 });
const pool = new pg.Pool({ connectionString: url, max: 10 });

async function readBody(request: IncomingMessage): Promise<Save> {
  const chunks: Buffer[] = [];
  for await (const chunk of request) chunks.push(chunk as Buffer);
  return Object.fromEntries(new URLSearchParams(Buffer.concat(chunks).toString())) as unknown as Save;
}

async function saveThroughKnex({
  token,
  entryId,
  goalId,
  studentId,
  marks,
  observedAt,
}: Save): Promise<void> {
  const person = await personOf(database, token);
  if (!person) throw new Error("no session");
  const correct = marks.replaceAll("0", "").length;
  const read = readEntry(
    { kind: "trials" },
    { kind: "trials", correct, attempted: marks.length, sequence: marks },
  );
  if (!read.ok) throw new Error("no entry");
  const entry: NewEntry = {
    entryId,
    goalId,
    studentId,
    observedLocal: observedAt,
    purpose: "probe",
    note: null,
    entry: read.entry,
    score: read.score,
  };
  await withScope(database, person, studentId, (entered) => saveEntry(entered, entry, { goalId, studentId }));
}

interface Recorded {
  entryId: string;
  statements: { sql: string; bindings: unknown[] }[];
}
const recorded = new Map<string, Promise<Recorded>>();
let recording: Promise<unknown> = Promise.resolve();

/** Saves once through Knex and notes the statements; one goal at a time, so that they do not mix. */
function record(save: Save): Promise<Recorded> {
  const work = recording.then(async () => {
    const statements: Recorded["statements"] = [];
    const note = ({ sql, bindings }: { sql: string; bindings?: unknown[] }) =>
      statements.push({ sql, bindings: bindings ?? [] });
    const entryId = newId();
    database.on("query", note);
    await saveThroughKnex({ ...save, entryId });
    database.removeListener("query", note);
    return { entryId, statements };
  });
  recording = work;
  return work;
}

async function saveThroughPg(save: Save): Promise<void> {
  const known = recorded.get(save.goalId) ?? record(save);
  recorded.set(save.goalId, known);
  const { entryId, statements } = await known;
  const client = await pool.connect();
  try {
    for (const { sql, bindings } of statements) {
      await client.query(
        sql,
        bindings.map((value) =>
          typeof value === "string" ? value.replaceAll(entryId, save.entryId) : value,
        ),
      );
    }
  } finally {
    client.release();
  }
}

const server = createServer((request, response) => {
  const save = request.url === "/pg" ? saveThroughPg : saveThroughKnex;
  readBody(request)
    .then(save)
    .then(
      () => response.writeHead(204).end(),
      (error: unknown) => response.writeHead(500).end(String(error)),
    );
});
server.listen(0, "127.0.0.1", () => {
  const address = server.address();
  console.log(JSON.stringify({ msg: "listening", port: typeof address === "object" ? address?.port : 0 }));
});
process.on("SIGTERM", () => process.exit(0));
