import { connect } from "../db/connection.ts";
import { notifyLive } from "../db/events.ts";
import { isAnswering, lastBackup, listMissingMigrations, noteReady } from "../db/readiness.ts";
import type { Pulse } from "../failure.ts";
import type { Hub } from "../live/hub.ts";

export interface Readiness extends Pulse {
  /** Why nothing should be sent here now; null where it may. Answers within the patience, whatever the database does. */
  whyNot: () => Promise<string | null>;
  /** What whoever looks after the server should know beside it: how old the last backup is. */
  details: () => Promise<string>;
  /** From now on the answer is that this process is ending. */
  end: () => void;
  close: () => Promise<void>;
}

/**
 * Watches whether this process can serve: it reaches its database by a connection of its own (so that a busy pool says nothing), can
 * write there, the tables are at least as new as the program, and it hears what other processes change: a notification of its own is sent
 * with each look and has to arrive.
 *
 * @param patience milliseconds after which a database that does not answer counts as away
 */
export function openReadiness(
  url: string,
  hub: Pick<Hub, "isListening" | "hearsItself">,
  patience: number,
): Readiness {
  const database = connect(url, { max: 1, patience: { connect: patience, answer: patience } });
  let ending = false;

  /** All who ask at once share one look. */
  const shared = <T>(look: () => Promise<T>, otherwise: T) => {
    let asked: Promise<T> | null = null;
    return () => (asked ??= inTime(patience, look, otherwise).finally(() => (asked = null)));
  };
  let awaySince = -Infinity;
  const ask = shared(() => isAnswering(database), false);
  const whyNot = shared(async () => {
    const missing = await listMissingMigrations(database);
    if (missing.length > 0)
      return `the tables are older than the program (${missing[0]}): bring them up to date with npm start`;
    await noteReady(database);
    // It answers: whoever found it away a moment ago need not wait.
    awaySince = -Infinity;
    if (!hub.isListening()) return "not listening yet";
    const hears = await hub.hearsItself((payload) => notifyLive(database, payload), patience * 0.7);
    return hears
      ? null
      : "notifications of the database do not arrive: set LISTEN_DATABASE_URL to its direct address, past any pool of connections";
  }, "the database does not answer");

  return {
    async answers() {
      const answered = await ask();
      if (!answered) awaySince = performance.now();
      return answered;
    },
    isAway: () => performance.now() - awaySince < patience,
    whyNot: () => (ending ? Promise.resolve("ending") : whyNot()),
    details: () =>
      inTime(patience, async () => backupWords(await lastBackup(database)), "last backup: not known"),
    end: () => void (ending = true),
    close: () => database.destroy(),
  };
}

const backupWords = (last: { hours: number } | null): string =>
  last === null ? "last backup: none yet" : `last backup: ${Math.floor(last.hours)} hours ago`;

/** What a look comes to in time, or otherwise. */
function inTime<T>(patience: number, look: () => Promise<T>, otherwise: T): Promise<T> {
  return new Promise((resolve) => {
    const timer = setTimeout(() => resolve(otherwise), patience);
    void look()
      .catch(() => otherwise)
      .then(resolve)
      .finally(() => clearTimeout(timer));
  });
}
