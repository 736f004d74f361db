import pg from "pg";
import { loggableError, log } from "../failure.ts";
import { liveChannel } from "../db/events.ts";

/** What a notification carries: ids only. */
export interface Notice {
  school: string;
  /** Null where it is about the persons alone. */
  student: string | null;
  /** Those whose part in the student's circle, or whose place in the school, changed. */
  persons: readonly string[];
}

interface Subscriber {
  onNotice(notice: Notice): void;
  /** Notifications may have been missed: every viewer reads again. */
  onGap(): void;
  onClose(): void;
}

export interface Hub {
  subscribe(subscriber: Subscriber): () => void;
  isListening(): boolean;
  close(): Promise<void>;
}

function readNotice(payload: string | undefined): Notice | null {
  try {
    const parsed: unknown = JSON.parse(payload ?? "");
    if (typeof parsed !== "object" || parsed === null || !("school" in parsed) || !("student" in parsed))
      return null;
    const persons = "persons" in parsed && Array.isArray(parsed.persons) ? parsed.persons.map(String) : [];
    const student = typeof parsed.student === "string" ? parsed.student : null;
    return { school: String(parsed.school), student, persons };
  } catch {
    return null;
  }
}

/** The LISTEN connection of this process. It reconnects by itself; after a gap every subscriber is told to read again. */
export function openHub(url: string, { retryAfter = 500 }: { retryAfter?: number } = {}): Hub {
  const subscribers = new Set<Subscriber>();
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
      next.end().catch(() => undefined);
      timer = setTimeout(() => void listen(), retryAfter);
    };
    next.on("error", lost);
    next.on("end", () => lost());
    next.on("notification", ({ payload }) => {
      const notice = readNotice(payload);
      if (notice) for (const subscriber of subscribers) subscriber.onNotice(notice);
    });
    try {
      await next.connect();
      await next.query(`listen ${liveChannel}`);
      listening = true;
      for (const subscriber of subscribers) subscriber.onGap();
    } catch (error) {
      lost(error instanceof Error ? error : undefined);
    }
  }

  void listen();
  return {
    subscribe(subscriber) {
      subscribers.add(subscriber);
      log.debug({ open: subscribers.size }, "live streams");
      return () => {
        subscribers.delete(subscriber);
        log.debug({ open: subscribers.size }, "live streams");
      };
    },
    isListening: () => listening,
    async close() {
      closed = true;
      clearTimeout(timer);
      for (const subscriber of subscribers) subscriber.onClose();
      subscribers.clear();
      await client?.end().catch(() => undefined);
    },
  };
}
