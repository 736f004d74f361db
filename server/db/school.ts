import pRetry from "p-retry";
import type { Actor, CircleRole, StudentActor } from "../access/actor.ts";
import type { Scope } from "../access/scope.ts";
import { Invalid, SessionOver } from "../errors.ts";
import { log } from "../failure.ts";
import { keyIn } from "./app-key.ts";
import type { Database, Transaction } from "./connection.ts";

interface Entered {
  circle_role: CircleRole | null;
  moment: Date;
  local_time: string | null;
  time_zone: string | null;
}

/** Locked by another, deadlocked with another, overtaken by another: the same again may well succeed. */
const inTheWay = new Set(["55P03", "40P01", "40001"]);
const isInTheWay = (error: unknown): error is Error =>
  error instanceof Error && "code" in error && inTheWay.has(String(error.code));

/**
 * What the database's own checks refuse (a day in the year 9999, a number that is none) and nothing before them did: said to the person,
 * with nothing saved. A change without a step in its history is a fault of ours and stays one.
 */
function asInvalid(thrown: unknown): unknown {
  const { code, constraint } = (thrown instanceof Error ? thrown : {}) as {
    code?: string;
    constraint?: string;
  };
  if (code !== "23514" || constraint === "keep_history") return thrown;
  log.warn({ constraint }, "refused by the database");
  return new Invalid({
    form: "A day or a number in this cannot be, so nothing was saved. Look at them again.",
  });
}

/** How an actor enters their school: nobody says who they are, the database finds it out. No row where they are nobody there now. */
async function enter(
  trx: Transaction,
  actor: Present,
  studentId: string | null,
): Promise<Entered | undefined> {
  const ask = async (call: string, values: (Buffer | string | null)[]) =>
    (await trx.raw<{ rows: Entered[] }>(`select * from gate.${call}`, values)).rows[0];
  switch (actor.kind) {
    case "person":
      return ask("enter(?, ?)", [actor.session, studentId]);
    case "link":
      return ask("enter_family(?, ?)", [actor.session, actor.linkId]);
    case "job":
      return ask("enter_work(?, ?)", [keyIn(trx), actor.schoolId]);
  }
}

/** Who acts on the server today. A student's own part has no way in yet. */
type Present = Exclude<Actor, StudentActor>;

/**
 * One short transaction of one actor inside their school: the only way school data are reached. Row-level security shows nothing
 * of another school, and nothing of a student in whose circle the actor is not. Nothing from outside is awaited in it and nothing is streamed from it. Where it meets a locked row it is taken back, lets
 * its connection go, and is done again, for about three seconds: so `work` must bear being done twice.
 *
 * @param studentId the student it is about, if any: `circleRole` is then the person's role in that student's circle
 * @throws SessionOver where the actor is nobody there any more
 */
export async function withScope<A extends Present, T>(
  database: Database,
  actor: A,
  studentId: string | null,
  work: (scope: Scope<A>) => Promise<T>,
): Promise<T> {
  const once = () =>
    database.transaction(async (trx) => {
      const row = await enter(trx, actor, studentId);
      if (!row) throw new SessionOver();
      // A school that is not there has no time of its own, and no rows to show.
      const local = row.local_time ?? "";
      return work({
        actor,
        schoolId: actor.schoolId,
        timeZone: row.time_zone ?? "UTC",
        studentId,
        circleRole: row.circle_role,
        trx,
        now: row.moment,
        localNow: local.slice(0, 16),
        today: local.slice(0, 10),
      });
    });
  // What else is thrown, as a redirect, passes as it is.
  const outcome = await pRetry(
    () =>
      once().then(
        (done) => ({ done }),
        (thrown: unknown) => {
          if (isInTheWay(thrown)) throw thrown;
          return { thrown: asInvalid(thrown) };
        },
      ),
    { retries: 8, minTimeout: 40, factor: 1.4, maxTimeout: 300, randomize: true },
  );
  if ("thrown" in outcome) throw outcome.thrown;
  return outcome.done;
}
