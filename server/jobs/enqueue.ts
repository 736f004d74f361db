import PgBoss from "pg-boss";
import type { Transaction } from "../db/connection.ts";

/** The schema of the queue's tables. They hold ids and no personal data. */
export const jobSchema = "jobs";

/** The link of a ticket is to be mailed. The link is made when it is sent, so that no queue holds one. */
export interface MailJob {
  ticketId: string;
  /** The address of this site, as the browser of the person who asked knows it. */
  origin: string;
}

/** A code for the link of a guardian is to be mailed. It is made when it is sent. */
export interface FamilyCodeJob {
  schoolId: string;
  guardianId: string;
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
  /** A message that carries a link or a code is wanted. */
  mail: MailJob | FamilyCodeJob;
  /** Sends what is due to one reader, one message after the other. */
  deliver: { schoolId: string; readerId: string };
}

export type JobQueue = keyof JobData;
export const queues: readonly JobQueue[] = [
  "nightly",
  "back-up",
  "check-summaries",
  "packet",
  "mail",
  "deliver",
];

export type Job = {
  [Name in JobQueue]: {
    queue: Name;
    data: JobData[Name];
    /** Seconds to wait before it. */
    startAfter?: number;
  };
}[JobQueue];

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
  const { queue, data, startAfter } = job;
  // The library's statements use one parameter in several places, which Knex would send several times.
  const { acquireConnection } = trx.client as { acquireConnection: () => Promise<Connection> };
  const connection = await acquireConnection();
  await statements.send(queue, data, {
    ...(queue === "packet" ? { expireInHours: 1 } : {}),
    ...(startAfter === undefined ? {} : { startAfter }),
    db: { executeSql: (text, values: unknown[]) => connection.query(text, values) },
  });
}
