import PgBoss from "pg-boss";
import { appRole, withClient } from "../db/client.ts";
import { jobSchema, queues } from "./enqueue.ts";

/** The queue that the library's own scheduler sends through. */
const schedulerQueue = "__pgboss__send-it";

/**
 * Brings the tables of the job queue up to date, as the tables' owner, and lets the application use them: it may add, fetch and finish
 * jobs, and change no table.
 */
export async function prepareJobs(ownerUrl: string): Promise<void> {
  const boss = new PgBoss({
    connectionString: ownerUrl,
    schema: jobSchema,
    max: 1,
    supervise: false,
    schedule: false,
  });
  boss.on("error", () => undefined);
  await boss.start();
  try {
    for (const queue of [...queues, schedulerQueue]) await boss.createQueue(queue);
  } finally {
    await boss.stop({ graceful: false });
  }
  await withClient(ownerUrl, (client) =>
    client.query(`
      revoke all on schema ${jobSchema} from public;
      grant usage on schema ${jobSchema} to ${appRole};
      grant select, insert, update, delete on all tables in schema ${jobSchema} to ${appRole};
      grant execute on all functions in schema ${jobSchema} to ${appRole};`),
  );
}
