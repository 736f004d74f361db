import PgBoss from "pg-boss";
import type { Transaction } from "../db/connection.ts";

/** The schema of the queue's tables. They hold ids and no personal data. */
export const jobSchema = "jobs";

/** A message that carries the link of a ticket. The link is made when it is sent, so that no queue holds one. */
export interface MailJob {
  ticketId: string;
  /** The address of this site, as the browser of the person who asked knows it. */
  origin: string;
}

/** A code for the link of a guardian. It is made when it is sent, so that no queue holds one. */
export interface FamilyCodeJob {
  schoolId: string;
  guardianId: string;
}

/** What waits for the leads of a student's circle. */
export type NoticeKind = "question" | "held";

/** Tells the leads of a student that something waits for them: first one job for all, which makes one for each. */
export interface NoticeJob {
  notice: NoticeKind;
  schoolId: string;
  studentId: string;
  /** The one it is for; absent in the first job. */
  personId?: string;
  /** The same for each try of the same message. */
  messageId?: string;
}

/** Every queue with what its jobs carry. */
export interface JobData {
  /** Once a night: one job for each school. */
  nightly: Record<string, never>;
  /** Once a night: a backup of everything, by the command that started this process. */
  "back-up": Record<string, never>;
  /** Compares a school's summaries with its entries; `again`: a second look after something was mended. */
  "check-summaries": { schoolId: string; again: boolean };
  /** Makes a packet, or goes on with one. */
  packet: { schoolId: string; packetId: string };
  /** A message to one person. */
  mail: MailJob | FamilyCodeJob | NoticeJob;
}

export type JobQueue = keyof JobData;
export const queues: readonly JobQueue[] = ["nightly", "back-up", "check-summaries", "packet", "mail"];

export type Job = {
  [Name in JobQueue]: {
    queue: Name;
    data: JobData[Name];
    /** Seconds to wait before it. */
    startAfter?: number;
    /** Of jobs with this name, one in ten minutes. */
    once?: string;
    /** Hours after which it is no longer done. */
    keepFor?: number;
  };
}[JobQueue];

/** A mail server that is away is tried again for some hours: 30 s, a minute, two minutes and so on. */
const retries = { mail: { retryLimit: 9, retryDelay: 30, retryBackoff: true } };

/** Never opened: it only makes the statements, which run in the transaction they are given. */
const statements = new PgBoss({
  schema: jobSchema,
  db: { executeSql: () => Promise.reject(new Error("a job belongs to a transaction")) },
});

/** The connection of a transaction: what of it is needed here. */
interface Connection {
  query: (text: string, values: unknown[]) => Promise<{ rows: unknown[] }>;
}

/** Adds a job in the same transaction: it is there once the transaction commits, and not at all otherwise. */
export async function enqueueJob(trx: Transaction, job: Job): Promise<void> {
  const { queue, data, startAfter, once, keepFor } = job;
  // The library's statements use one parameter in several places, which Knex would send several times.
  const { acquireConnection } = trx.client as { acquireConnection: () => Promise<Connection> };
  const connection = await acquireConnection();
  await statements.send(queue, data, {
    ...(queue === "mail" ? retries.mail : {}),
    ...(queue === "packet" ? { expireInHours: 1 } : {}),
    ...(startAfter === undefined ? {} : { startAfter }),
    ...(once === undefined ? {} : { singletonKey: once, singletonSeconds: 600 }),
    ...(keepFor === undefined ? {} : { retentionHours: keepFor }),
    db: { executeSql: (text, values: unknown[]) => connection.query(text, values) },
  });
}
