import pRetry, { AbortError } from "p-retry";
import PgBoss from "pg-boss";
import type { Database } from "../db/connection.ts";
import { forgetDisclosed } from "../db/disclosures.ts";
import { forgetPackets, listLeftPackets } from "../db/packets.ts";
import { listSchoolIds } from "../db/sessions.ts";
import { mailFamilyCode } from "../dispatch/family-mail.ts";
import { mailNotice } from "../dispatch/notice-mail.ts";
import { mailTicket } from "../dispatch/ticket-mail.ts";
import type { Mailer } from "../dispatch/mailer.ts";
import type { PacketMaker } from "../exports/packet-maker.ts";
import { log, loggableError } from "../failure.ts";
import { checkSummaries } from "./check-summaries.ts";
import { type JobData, jobSchema, type JobQueue } from "./enqueue.ts";

/** Every night at ten past nine, Greenwich time: the small hours from Hawaii to Newfoundland. */
const nightlyAt = "10 9 * * *";

/** Half an hour before, so that a backup never waits for it. */
const backUpAt = "40 8 * * *";

/** So often it is looked for packets that nobody works at. */
const leftEveryMs = 20_000;

interface JobOptions {
  pollingIntervalSeconds?: number;
  /** Makes a backup; left out where this process cannot. */
  backUp?: (() => Promise<void>) | undefined;
  /** Makes packets; left out where this process cannot. */
  packets?: PacketMaker | undefined;
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
  { pollingIntervalSeconds = 10, backUp, packets, mailer = null }: JobOptions,
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
      await forgetPackets(database);
      const schools = await listSchoolIds(database);
      await boss.insert(
        schools.map((schoolId) => ({ name: "check-summaries", data: { schoolId, again: false } })),
      );
    },
    "back-up": () => backUp?.() ?? Promise.resolve(),
    "check-summaries": ({ schoolId, again }) => checkSummaries(database, schoolId, { again }),
    packet: (job) => packets?.make(job) ?? Promise.resolve(),
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
  if (packets) await work("packet", Math.min(1, pollingIntervalSeconds));
  // Only by a process that can: one of several may have been started without the command that makes backups.
  if (backUp) {
    await work("back-up");
    await boss.schedule("back-up", backUpAt, {});
  }
  // A packet whose process was killed is taken up again.
  const left =
    packets &&
    setInterval(
      () =>
        void listLeftPackets(database)
          .then((all) =>
            Promise.all(
              all.map((data) =>
                boss.send("packet", data, {
                  singletonKey: data.packetId,
                  singletonSeconds: 60,
                  expireInHours: 1,
                }),
              ),
            ),
          )
          .catch((error: unknown) => log.warn({ error: loggableError(error) }, "packets not looked for")),
      leftEveryMs,
    );
  left?.unref();
  return {
    async stop() {
      clearInterval(left);
      await packets?.stop();
      await boss.stop({ graceful: true, timeout: 3000 });
    },
  };
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
