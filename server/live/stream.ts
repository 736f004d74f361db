import { failure } from "../failure.ts";
import { noteStream } from "./streams-of-session.ts";
import type { Hub } from "./hub.ts";

export interface StreamOptions {
  hub: Hub;
  schoolId: string;
  personId: string;
  /** What tells the viewer's session from others: it has ten streams at most, and the eldest makes room. */
  session: string;
  /** Of these students, those the viewer may read of now; null when the viewer's session is over. */
  readable: (studentIds: string[]) => Promise<string[] | null>;
  /** The school's own date, `YYYY-MM-DD`; null when the viewer's session is over. With a new day, parts begin and end. */
  day: () => Promise<string | null>;
  signal: AbortSignal;
  /** Milliseconds between refreshes of one viewer, and between heartbeats. */
  pace?: { refresh: number; heartbeat: number };
}

/**
 * One viewer's stream of server-sent events: `changed` names the students whose record changed, at most once a second;
 * `resync` asks for everything to be read again. It ends with the session, the connection or the server.
 */
export function liveStream({
  hub,
  schoolId,
  personId,
  session,
  readable,
  day,
  signal,
  pace = { refresh: 1000, heartbeat: 20_000 },
}: StreamOptions): Response {
  const encoder = new TextEncoder();
  let end: (cancelled?: boolean) => void = () => undefined;
  const body = new ReadableStream<Uint8Array>({
    start(controller) {
      const pending = new Set<string>();
      let timer: NodeJS.Timeout | undefined;
      let lastRefresh = 0;
      // The viewer's own part changed: what they see now may be what they may not see any more.
      let isConcerned = false;
      let open = true;
      const send = (text: string) => {
        if (open) controller.enqueue(encoder.encode(text));
      };
      const refresh = async () => {
        timer = undefined;
        lastRefresh = Date.now();
        const asked = [...pending];
        pending.clear();
        const readsAgain = isConcerned;
        isConcerned = false;
        try {
          const students = await readable(asked);
          if (students === null) {
            // The page reads again, and is led to the sign-in.
            if (readsAgain) send("event: resync\ndata: {}\n\n");
            return end();
          }
          if (readsAgain) send("event: resync\ndata: {}\n\n");
          else if (students.length > 0) send(`event: changed\ndata: ${JSON.stringify({ students })}\n\n`);
        } catch (error) {
          failure(error);
          send("event: resync\ndata: {}\n\n");
        }
      };
      const soon = () => {
        timer ??= setTimeout(() => void refresh(), Math.max(0, lastRefresh + pace.refresh - Date.now()));
      };
      let lastDay: string | null = null;
      const look = () =>
        day().then(
          (today) => {
            if (today === null) return end();
            isConcerned ||= lastDay !== null && today !== lastDay;
            lastDay = today;
            if (isConcerned) soon();
          },
          () => undefined,
        );
      void look();
      const heartbeat = setInterval(() => {
        send(": still here\n\n");
        void look();
      }, pace.heartbeat);
      const unsubscribe = hub.subscribe({
        onNotice(notice) {
          if (notice.school !== schoolId) return;
          const isMine = notice.persons.includes(personId);
          if (notice.student !== null) pending.add(notice.student);
          else if (!isMine) return;
          isConcerned ||= isMine;
          soon();
        },
        onGap: () => send("event: resync\ndata: {}\n\n"),
        onClose: () => end(),
      });
      end = (cancelled = false) => {
        if (!open) return;
        open = false;
        clearInterval(heartbeat);
        clearTimeout(timer);
        unsubscribe();
        leave();
        // Whoever cancelled has closed it.
        if (!cancelled) controller.close();
      };
      const leave = noteStream(session, () => end());
      send("retry: 2000\n: welcome\n\n");
      signal.addEventListener("abort", () => end());
      // Whoever left before the stream began is not waited for: their signal was given already.
      if (signal.aborted) end();
    },
    cancel: () => end(true),
  });
  return new Response(body, {
    headers: { "Content-Type": "text/event-stream", "Cache-Control": "no-store", "X-Accel-Buffering": "no" },
  });
}
