import pRetry, { AbortError } from "p-retry";
import PgBoss from "pg-boss";
import type { Database } from "../db/connection.ts";
import { forgetDisclosed } from "../db/disclosures.ts";
import { listSchoolIds } from "../db/sessions.ts";
import { mailFamilyCode } from "../dispatch/family-mail.ts";
import { mailNotice } from "../dispatch/notice-mail.ts";
import { mailTicket } from "../dispatch/ticket-mail.ts";
import type { Mailer } from "../dispatch/mailer.ts";
import { log, loggableError } from "../failure.ts";
import { checkSummaries } from "./check-summaries.ts";
import { type JobData, jobSchema, type JobQueue } from "./enqueue.ts";

/** Every night at ten past nine, Greenwich time: the small hours from Hawaii to Newfoundland. */
const nightlyAt = "10 9 * * *";

/** Half an hour before, so that a backup never waits for it. */
const backUpAt = "40 8 * * *";

interface JobOptions {
  pollingIntervalSeconds?: number;
  /** Makes a backup; left out where this process cannot. */
  backUp?: (() => Promise<void>) | undefined;
  /** Sends mail; null where no mail server is set. */
  mailer?: Mailer | null;
}

type Handlers = { [Name in JobQueue]: (data: JobData[Name]) => Promise<unknown> };

export interface Jobs {
  /** Lets what is under way end, up to three seconds; the rest is done again by another process or after the next start. */
  stop: () => Promise<void>;
}

/**
 * Works through the job queue beside the web server. Several processes share it: PostgreSQL gives each job to one of them. Nothing else
 * depends on it: without the queue pages are served as always.
 */
async function runJobs(
  url: string,
  database: Database,
  { pollingIntervalSeconds = 10, backUp, mailer = null }: JobOptions,
): Promise<Jobs> {
  const boss = new PgBoss({
    connectionString: url,
    schema: jobSchema,
    max: 2,
    migrate: false,
    retryLimit: 3,
    retryBackoff: true,
  });
  boss.on("error", (error) => log.warn({ error: loggableError(error) }, "job queue"));
  const handlers: Handlers = {
    nightly: async () => {
      await forgetDisclosed(database);
      const schools = await listSchoolIds(database);
      await boss.insert(
        schools.map((schoolId) => ({ name: "check-summaries", data: { schoolId, again: false } })),
      );
    },
    "back-up": () => backUp?.() ?? Promise.resolve(),
    "check-summaries": ({ schoolId, again }) => checkSummaries(database, schoolId, { again }),
    mail: async (job) => {
      if (mailer === null) return;
      if ("ticketId" in job) await mailTicket(database, mailer, job);
      else if ("notice" in job) await mailNotice(database, mailer, job);
      else await mailFamilyCode(database, mailer, job);
    },
  };
  const work = <Name extends JobQueue>(name: Name, every = pollingIntervalSeconds) =>
    boss.work<JobData[Name]>(name, { pollingIntervalSeconds: every }, async ([job]) => {
      if (job) await handlers[name](job.data);
    });
  await boss.start();
  await work("nightly");
  await work("check-summaries");
  await boss.schedule("nightly", nightlyAt, {});
  // A person waits for a message.
  if (mailer) await work("mail", Math.min(2, pollingIntervalSeconds));
  // Only by a process that can: one of several may have been started without the command that makes backups.
  if (backUp) {
    await work("back-up");
    await boss.schedule("back-up", backUpAt, {});
  }
  return { stop: () => boss.stop({ graceful: true, timeout: 3000 }) };
}

/** Starts the job queue, as often as it takes: a database that is away now is there later. */
export function keepJobsRunning(url: string, database: Database, options: JobOptions = {}): Jobs {
  const stopping = new AbortController();
  const running = pRetry(() => runJobs(url, database, options), {
    forever: true,
    maxTimeout: 60_000,
    signal: stopping.signal,
    onFailedAttempt: (error) => log.warn({ error: loggableError(error) }, "job queue not started"),
  }).catch(() => null);
  return {
    async stop() {
      stopping.abort(new AbortError("stopping"));
      await (await running)?.stop();
    },
  };
}
