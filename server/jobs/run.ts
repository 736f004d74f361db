import pRetry, { AbortError } from "p-retry";
import PgBoss from "pg-boss";
import { keyIn } from "../db/app-key.ts";
import { sealAudit, sealKeyOf } from "../db/audit-seals.ts";
import type { Database } from "../db/connection.ts";
import { forgetDisclosed } from "../db/disclosures.ts";
import { forgetPackets, listLeftPackets } from "../db/packets.ts";
import { listSchoolIds } from "../db/sessions.ts";
import { addMessages, findReaderOfTicket, listDueReaders, type NewMessage } from "../db/messages.ts";
import { listSchoolsWithNews } from "../db/news.ts";
import { withScope } from "../db/school.ts";
import { deliverTo, type Sending } from "../dispatch/deliver.ts";
import { hearNews, lookAhead } from "../dispatch/hear.ts";
import { findMailServer } from "../db/mail-settings.ts";
import type { MailServer } from "../dispatch/mail-server.ts";
import type { PacketMaker } from "../exports/packet-maker.ts";
import { log, loggableError } from "../failure.ts";
import { checkSummaries } from "./check-summaries.ts";
import { eraseDue } from "./erase.ts";
import { type FamilyCodeJob, type JobData, jobSchema, type JobQueue, type MailJob } from "./enqueue.ts";

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
  /** How mail is sent; left out where this process sends none. */
  sending?: Omit<Sending, "database"> | undefined;
}

type Handlers = { [Name in JobQueue]: (data: JobData[Name], jobId: string) => Promise<unknown> };

/** So often events are sealed. */
const sealEveryMs = 30_000;

/** Seals the events of every school that are not sealed yet. */
async function sealAll(database: Database): Promise<void> {
  const key = sealKeyOf(keyIn(database));
  for (const schoolId of await listSchoolIds(database)) {
    const seal = () =>
      withScope(database, { kind: "job", schoolId, name: "seal" }, null, (scope) => sealAudit(scope, key));
    // The events of a school that was there before its first seal come in several rounds.
    while ((await seal()) > 0);
  }
}

/** So often messages are looked for that are due, and what happened that may be worth one. */
const lookEveryMs = 3000;

/** Does anything send the mail of this school? */
const sends = async (database: Database, mailServer: MailServer | null, schoolId: string): Promise<boolean> =>
  mailServer !== null || ((await findMailServer(database, schoolId))?.isOn ?? false);

/** Makes the message that a link or a code is to be mailed in. Its id is that of the job, so that done twice it is one. */
async function makeSecretMessage(
  database: Database,
  job: MailJob | FamilyCodeJob,
  jobId: string,
): Promise<{ schoolId: string; readerId: string } | null> {
  const wanted =
    "ticketId" in job
      ? await findReaderOfTicket(database, job.ticketId)
      : {
          ...{ schoolId: job.schoolId, kind: "code" as const },
          reader: { guardianId: job.guardianId } as NewMessage["reader"],
        };
  if (wanted === null) return null;
  const { schoolId, kind, reader } = wanted;
  await withScope(database, { kind: "job", schoolId, name: "mail" }, null, (scope) =>
    addMessages(scope, [
      { messageId: jobId, kind, reader, studentId: null, about: "ticketId" in job ? { ...job } : {} },
    ]),
  );
  return { schoolId, readerId: "personId" in reader ? reader.personId : reader.guardianId };
}

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
  { pollingIntervalSeconds = 10, backUp, packets, sending }: JobOptions,
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
      await eraseDue(database);
      const schools = await listSchoolIds(database);
      await boss.insert(
        schools.map((schoolId) => ({ name: "check-summaries", data: { schoolId, again: false } })),
      );
      if (sending)
        for (const schoolId of schools)
          await lookAhead(database, schoolId, await sends(database, sending.mailServer, schoolId));
    },
    "back-up": () => backUp?.() ?? Promise.resolve(),
    "check-summaries": ({ schoolId, again }) => checkSummaries(database, schoolId, { again }),
    packet: (job) => packets?.make(job) ?? Promise.resolve(),
    mail: async (job, jobId) => {
      if (!sending) return;
      const made = await makeSecretMessage(database, job, jobId);
      if (made) await deliverTo({ ...sending, database }, made.schoolId, made.readerId);
    },
    deliver: async ({ schoolId, readerId }) => {
      if (sending) await deliverTo({ ...sending, database }, schoolId, readerId);
    },
  };
  const work = <Name extends JobQueue>(name: Name, every = pollingIntervalSeconds, batchSize = 1) =>
    boss.work<JobData[Name]>(name, { pollingIntervalSeconds: every, batchSize }, async (jobs) => {
      await Promise.all(jobs.map((job) => handlers[name](job.data, job.id)));
    });
  await boss.start();
  await work("nightly");
  await work("check-summaries");
  await boss.schedule("nightly", nightlyAt, {});
  if (sending) {
    // A person waits for a message.
    await work("mail", Math.min(2, pollingIntervalSeconds));
    // Several at a time: one slow mail server holds up its own readers alone.
    for (let count = 0; count < 4; count += 1) await work("deliver", Math.min(1, pollingIntervalSeconds), 4);
  }
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
  let sealing: Promise<void> | null = null;
  const seals = setInterval(
    () => {
      sealing ??= sealAll(database)
        .catch((error: unknown) => log.warn({ error: loggableError(error) }, "audit not sealed"))
        .finally(() => (sealing = null));
    },
    Math.min(sealEveryMs, pollingIntervalSeconds * 3000),
  );
  seals.unref();
  let looking: Promise<void> | null = null;
  /** Looks at what happened, and has what is due sent: a message is found too whose job was lost with its process. */
  const look = async ({ mailServer, silentSeconds = 180 }: Omit<Sending, "database">) => {
    for (const schoolId of await listSchoolsWithNews(database))
      await hearNews(database, schoolId, await sends(database, mailServer, schoolId));
    for (const data of await listDueReaders(database, silentSeconds))
      await boss.send("deliver", data, { singletonKey: data.readerId, singletonSeconds: 5 });
  };
  const looks =
    sending &&
    setInterval(
      () => {
        looking ??= look(sending)
          .catch((error: unknown) => log.warn({ error: loggableError(error) }, "messages not looked for"))
          .finally(() => (looking = null));
      },
      Math.min(lookEveryMs, pollingIntervalSeconds * 1000),
    );
  looks?.unref();
  return {
    async stop() {
      clearInterval(left);
      clearInterval(looks);
      clearInterval(seals);
      await Promise.all([looking, sealing]);
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
