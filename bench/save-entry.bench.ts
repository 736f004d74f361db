/** Saving an entry over HTTP through the real action, against bare handlers that do the same transaction. */
import { fileURLToPath } from "node:url";
import { openThrowaway } from "#tests/database.ts";
import { signedIn } from "#tests/session.ts";
import { startWebServer } from "#tests/web-server.ts";
import { compare } from "./rounds.ts";
import { connections, loadSaves, recordPath, type SavedGoal, trialGoals } from "./saves.ts";

const db = await openThrowaway("demo");
const goals = await trialGoals(db);
const web = await startWebServer(db.appUrl, { LOG_LEVEL: "info" });
const bare = await startWebServer(db.appUrl, {}, fileURLToPath(new URL("bare-server.ts", import.meta.url)));
const cookie = (await signedIn(web.url, "noor")).cookie();
const load = (url: string, pathOf: (goal: SavedGoal) => string) => loadSaves(db, url, cookie, goals, pathOf);

await compare(`Saving an entry, ${connections} connections`, [
  { name: "the real action", run: () => load(web.url, recordPath) },
  { name: "bare node:http, same statements, same Knex", run: () => load(bare.url, () => "/knex") },
  { name: "bare node:http, same statements, plain pg", run: () => load(bare.url, () => "/pg") },
]);
await Promise.all([web.stop(), bare.stop()]);
await db.close();
