import { failure } from "../failure.ts";
import { noteStream } from "./streams-of-session.ts";
import type { FanOut } from "./fan-out.ts";

/** What a viewer may be told now: the school's own date, `YYYY-MM-DD`, and the students they may read of. */
export interface View {
  day: string;
  students: readonly string[];
}

export interface StreamOptions {
  hub: Pick<FanOut, "follow" | "heardSince">;
  schoolId: string;
  personId: string;
  /** What tells the viewer's session from others: it has ten streams at most, and the eldest makes room. */
  session: string;
  /** Asks what the viewer may be told now; null when the viewer's session is over. */
  look: () => Promise<View | null>;
  /**
   * The moment of which the viewer's page is, in milliseconds of the epoch: what changed since is told at once. Null where the page reads
   * itself again now: then what changes from now on.
   */
  since: number | null;
  signal: AbortSignal;
  /** Milliseconds between messages to one viewer, and between heartbeats. */
  pace?: { message: number; heartbeat: number };
}

/**
 * One viewer's stream of server-sent events. `changed` names the students whose record changed, at most once a second. `resync` says that
 * something may have been missed, or that the school's day ended. `yours` says that the viewer's own rights changed: the page reads again
 * at once. `beat` says that the stream is alive. Each has the moment of which it is as its id, so that one that is opened again goes on
 * from there. The database is asked at the start, at each heartbeat and when the viewer's rights change, and not for each change. It ends
 * with the session, the connection or the server.
 */
export function liveStream({
  hub,
  schoolId,
  personId,
  session,
  look,
  since,
  signal,
  pace = { message: 1000, heartbeat: 20_000 },
}: StreamOptions): Response {
  const encoder = new TextEncoder();
  let end: (cancelled?: boolean) => void = () => undefined;
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      const begins = Date.now();
      const pending = new Set<string>();
      let timer: NodeJS.Timeout | undefined;
      let lastMessage = 0;
      let lastDay: string | null = null;
      let open = true;
      const send = (event: string, data: unknown = {}) => {
        const text = `id: ${Date.now()}\nevent: ${event}\ndata: ${JSON.stringify(data)}\n\n`;
        if (open) controller.enqueue(encoder.encode(text));
      };
      let hearsOf: ReadonlySet<string> = new Set();
      /** Asks what the viewer may be told now. False where the session is over. */
      const renew = async () => {
        const view = await look();
        if (view === null) return false;
        if (lastDay !== null && view.day !== lastDay) send("resync");
        lastDay = view.day;
        hearsOf = new Set(view.students);
        following.hearOf(view.students);
        return true;
      };
      let renewal: Promise<unknown> = Promise.resolve();
      let hasFailed = false;
      /** The same, and ends the stream with the session. Where it failed, what was missed until the next heartbeat is read again then. */
      const renewOrEnd = () =>
        (renewal = renew().then(
          (goesOn) => {
            if (hasFailed) send("resync");
            hasFailed = false;
            if (!goesOn) end();
          },
          (error: unknown) => {
            hasFailed = true;
            failure(error);
          },
        ));
      const tell = async () => {
        await renewal;
        timer = undefined;
        lastMessage = Date.now();
        const students = [...pending].filter((studentId) => hearsOf.has(studentId));
        pending.clear();
        if (students.length > 0) send("changed", { students });
      };
      const onChange = (studentId: string) => {
        pending.add(studentId);
        timer ??= setTimeout(() => void tell(), Math.max(0, lastMessage + pace.message - Date.now()));
      };
      const catchUp = () => {
        if (!open) return;
        const missed = hub.heardSince(schoolId, since ?? begins);
        if (missed === null) return send("resync");
        for (const { students } of missed) for (const studentId of students) onChange(studentId);
        if (missed.some(({ persons }) => persons.includes(personId))) send("yours");
      };
      const heartbeat = setInterval(() => {
        send("beat");
        void renewOrEnd();
      }, pace.heartbeat);
      const following = hub.follow(schoolId, personId, {
        onChange,
        onOwnChange() {
          // First: where the session is over, the page is led to the sign-in.
          send("yours");
          void renewOrEnd();
        },
        onGap() {
          send("resync");
          void renewOrEnd();
        },
        onClose: () => end(),
      });
      end = (cancelled = false) => {
        if (!open) return;
        open = false;
        clearInterval(heartbeat);
        clearTimeout(timer);
        following.end();
        leave();
        // Whoever cancelled has closed it.
        if (!cancelled) controller.close();
      };
      const leave = noteStream(session, () => end());
      controller.enqueue(encoder.encode("retry: 2000\n: welcome\n\n"));
      signal.addEventListener("abort", () => end());
      // Whoever left before the stream began is not waited for: their signal was given already.
      if (signal.aborted) return end();
      void renewOrEnd().then(catchUp);
    },
    cancel: () => end(true),
  });
  return new Response(body, {
    headers: { "Content-Type": "text/event-stream", "Cache-Control": "no-store", "X-Accel-Buffering": "no" },
  });
}
