/** Saving an entry over HTTP through the real action, against bare handlers that do the same transaction. */
import { Agent, request } from "node:http";
import { fileURLToPath } from "node:url";
import { v7 as newId } from "uuid";
import { openThrowaway } from "#tests/database.ts";
import { signedIn } from "#tests/session.ts";
import { startWebServer } from "#tests/web-server.ts";
import { compare } from "./rounds.ts";

const saves = 640;
const connections = 16;
const db = await openThrowaway("demo");
/** Goals measured by trials, of students whose circle the sender is in: the same marks fit each. */
const { rows: goals } = await db.owner.raw<{ rows: { goal_id: string; student_id: string }[] }>(
  `select g.goal_id, g.student_id from goals g
   join goal_measures m on m.school_id = g.school_id and m.goal_id = g.goal_id and m.version = g.measure_version
   join circle c on c.school_id = g.school_id and c.student_id = g.student_id
   join people p on p.school_id = c.school_id and p.person_id = c.person_id and p.given_name = 'Noor'
   where m.measure ->> 'kind' = 'trials' order by g.goal_id`,
);
const web = await startWebServer(db.appUrl, { LOG_LEVEL: "info" });
const bare = await startWebServer(db.appUrl, {}, fileURLToPath(new URL("bare-server.ts", import.meta.url)));
const cookie = (await signedIn(web.url, "noor")).cookie();
const token = cookie.slice(cookie.indexOf("=") + 1);

const agent = new Agent({ keepAlive: true, maxSockets: connections });

function send(url: string, fields: Record<string, string>): Promise<void> {
  const body = new URLSearchParams(fields).toString();
  const headers = {
    "content-type": "application/x-www-form-urlencoded",
    "content-length": Buffer.byteLength(body),
    cookie,
    origin: new URL(url).origin,
  };
  return new Promise((resolve, reject) => {
    const call = request(url, { method: "POST", agent, headers }, (answer) =>
      answer.resume().once("end", resolve),
    );
    call.once("error", reject);
    call.end(body);
  });
}

/** Sends the saves, goals in turn, and answers how many a second; what it added is taken away again. */
async function load(
  baseUrl: string,
  pathOf: (goal: { goal_id: string; student_id: string }) => string,
): Promise<number> {
  let sent = 0;
  const started = performance.now();
  await Promise.all(
    Array.from({ length: connections }, async () => {
      while (sent < saves) {
        const goal = goals[sent++ % goals.length];
        if (!goal) throw new Error("no goals");
        await send(baseUrl + pathOf(goal), {
          entryId: newId(),
          marks: "1101110111",
          observedAt: "2026-10-05T10:00",
          token,
          goalId: goal.goal_id,
          studentId: goal.student_id,
        });
      }
    }),
  );
  const seconds = (performance.now() - started) / 1000;
  const { rows } = await db.owner.raw<{ rows: { n: string }[] }>(
    "select count(*) as n from entries where observed_at = '2026-10-05T10:00'::timestamp at time zone 'America/Los_Angeles'",
  );
  if (Number(rows[0]?.n) < saves) throw new Error(`${baseUrl}: only ${rows[0]?.n} of ${saves} were saved`);
  await db.owner.raw(
    `delete from revisions where thing = 'entry' and thing_id in (select entry_id from entries
     where observed_at = '2026-10-05T10:00'::timestamp at time zone 'America/Los_Angeles')`,
  );
  await db.owner.raw(
    "delete from entries where observed_at = '2026-10-05T10:00'::timestamp at time zone 'America/Los_Angeles'",
  );
  await db.owner.raw("vacuum entries, revisions, goal_summaries, audit");
  return saves / seconds;
}

await compare(`Saving an entry, ${connections} connections`, [
  {
    name: "the real action",
    run: () => load(web.url, (goal) => `/students/${goal.student_id}/goals/${goal.goal_id}/record`),
  },
  { name: "bare node:http, same statements, same Knex", run: () => load(bare.url, () => "/knex") },
  { name: "bare node:http, same statements, plain pg", run: () => load(bare.url, () => "/pg") },
]);
await Promise.all([web.stop(), bare.stop()]);
await db.close();
