import { randomUUID } from "node:crypto";
import pg from "pg";
import { loggableError, log } from "../failure.ts";
import { liveChannel } from "../db/events.ts";
import { type FanOut, type Notice, openFanOut } from "./fan-out.ts";

export interface Hub extends Pick<FanOut, "follow" | "heardSince"> {
  isListening(): boolean;
  /**
   * Whether a notification that is sent through the application's own connections arrives here. It does not where the listening
   * connection goes through a pool that gives it to others between transactions.
   *
   * @param send sends this payload to the live channel
   * @param patience milliseconds after which it counts as not arriving
   */
  hearsItself(send: (payload: string) => Promise<unknown>, patience: number): Promise<boolean>;
  close(): Promise<void>;
}

const texts = (value: unknown): string[] => (Array.isArray(value) ? value.map(String) : []);

function readPayload(payload: string | undefined): Notice | { own: string } | null {
  try {
    const parsed: unknown = JSON.parse(payload ?? "");
    if (typeof parsed !== "object" || parsed === null) return null;
    if ("own" in parsed) return { own: String(parsed.own) };
    if (!("school" in parsed)) return null;
    return {
      school: String(parsed.school),
      students: texts("students" in parsed && parsed.students),
      persons: texts("persons" in parsed && parsed.persons),
    };
  } catch {
    return null;
  }
}

/** The LISTEN connection of this process. It reconnects by itself; after a gap every follower is told to read again. */
export function openHub(url: string, { retryAfter = 500 }: { retryAfter?: number } = {}): Hub {
  const fanOut = openFanOut();
  const own = new Map<string, () => void>();
  let client: pg.Client | null = null;
  let listening = false;
  let closed = false;
  let timer: NodeJS.Timeout | undefined;

  async function listen(): Promise<void> {
    const next = new pg.Client({ connectionString: url, keepAlive: true, connectionTimeoutMillis: 5000 });
    client = next;
    const lost = (error?: Error) => {
      if (client !== next || closed) return;
      client = null;
      if (listening && error) log.warn({ error: loggableError(error) }, "live connection lost");
      listening = false;
      fanOut.stop();
      next.end().catch(() => undefined);
      timer = setTimeout(() => void listen(), retryAfter);
    };
    next.on("error", lost);
    next.on("end", () => lost());
    next.on("notification", ({ payload }) => {
      const read = readPayload(payload);
      if (read && "own" in read) own.get(read.own)?.();
      else if (read) fanOut.hear(read);
    });
    try {
      await next.connect();
      await next.query(`listen ${liveChannel}`);
      listening = true;
      fanOut.begin();
    } catch (error) {
      lost(error instanceof Error ? error : undefined);
    }
  }

  void listen();
  return {
    ...{ follow: fanOut.follow, heardSince: fanOut.heardSince },
    isListening: () => listening,
    async hearsItself(send, patience) {
      if (!listening) return false;
      const token = randomUUID();
      const arrived = new Promise<boolean>((resolve) => {
        own.set(token, () => resolve(true));
        setTimeout(() => resolve(false), patience).unref();
      });
      try {
        await send(JSON.stringify({ own: token }));
        return await arrived;
      } finally {
        own.delete(token);
      }
    },
    async close() {
      closed = true;
      clearTimeout(timer);
      fanOut.close();
      await client?.end().catch(() => undefined);
    },
  };
}
