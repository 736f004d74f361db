/** Saves of entries over HTTP, many at once, as a classroom sends them. */
import { Agent, request } from "node:http";
import { v7 as newId } from "uuid";
import type { OpenDatabase } from "#tests/database.ts";

const saves = 640;
export const connections = 16;

/** A goal to save into. */
export interface SavedGoal {
  goal_id: string;
  student_id: string;
}

/** Goals measured by trials, of students whose circle the sender is in: the same marks fit each. */
export async function trialGoals(db: OpenDatabase): Promise<SavedGoal[]> {
  const { rows } = await db.owner.raw<{ rows: SavedGoal[] }>(
    `select g.goal_id, g.student_id from goals g
     join goal_measures m on m.school_id = g.school_id and m.goal_id = g.goal_id and m.version = g.measure_version
     join circle c on c.school_id = g.school_id and c.student_id = g.student_id
     join people p on p.school_id = c.school_id and p.person_id = c.person_id and p.given_name = 'Noor'
     where m.measure ->> 'kind' = 'trials' order by g.goal_id`,
  );
  return rows;
}

/** The address of the real action. */
export const recordPath = (goal: SavedGoal): string =>
  `/students/${goal.student_id}/goals/${goal.goal_id}/record`;

const agent = new Agent({ keepAlive: true, maxSockets: connections });

function send(url: string, fields: Record<string, string>, cookie: string): Promise<void> {
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

const ours = "observed_at = '2026-10-05T10:00'::timestamp at time zone 'America/Los_Angeles'";

/** Sends the saves, goals in turn, and answers how many a second; what it added is taken away again. */
export async function loadSaves(
  db: OpenDatabase,
  baseUrl: string,
  cookie: string,
  goals: readonly SavedGoal[],
  pathOf: (goal: SavedGoal) => string,
): Promise<number> {
  const token = cookie.slice(cookie.indexOf("=") + 1);
  let sent = 0;
  const started = performance.now();
  await Promise.all(
    Array.from({ length: connections }, async () => {
      while (sent < saves) {
        const goal = goals[sent++ % goals.length];
        if (!goal) throw new Error("no goals");
        const marks = { entryId: newId(), marks: "1101110111", observedAt: "2026-10-05T10:00" };
        await send(
          baseUrl + pathOf(goal),
          { ...marks, token, goalId: goal.goal_id, studentId: goal.student_id },
          cookie,
        );
      }
    }),
  );
  const seconds = (performance.now() - started) / 1000;
  const { rows } = await db.owner.raw<{ rows: { n: string }[] }>(
    `select count(*) as n from entries where ${ours}`,
  );
  if (Number(rows[0]?.n) < saves) throw new Error(`${baseUrl}: only ${rows[0]?.n} of ${saves} were saved`);
  await db.owner.raw(
    `delete from revisions where thing = 'entry' and thing_id in (select entry_id from entries where ${ours})`,
  );
  await db.owner.raw(`delete from entries where ${ours}`);
  await db.owner.raw("vacuum entries, revisions, goal_summaries, audit");
  return saves / seconds;
}
