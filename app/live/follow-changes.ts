const channelName = "gentle-margin-live";

/** What a page hears: students whose record changed, or that everything is read again, at once or in the next seconds. */
export type Heard = { what: "changed"; students: readonly string[] } | { what: "all"; when: "now" | "soon" };

type Message =
  /** `at` is the server's moment of it, in milliseconds of the epoch; `to` one tab alone. */
  | { type: "heard"; at: number | null; heard: Heard | null; to?: string }
  /** A tab asks what changed since its page was made; null where it was hidden for long. */
  | { type: "since"; at: number | null; from: string }
  /** The tab with the stream can answer from now on. */
  | { type: "opened" };

/** The server knows what changed in the last two minutes. Whoever was away for longer reads everything again. */
const awayMs = 100_000;

const studentsIn = (data: string): string[] => {
  const parsed: unknown = JSON.parse(data);
  const students =
    typeof parsed === "object" && parsed !== null && "students" in parsed ? parsed.students : null;
  return Array.isArray(students) ? students.map(String) : [];
};

/**
 * Hears of changes. Of all tabs that are visible, the one holding a browser-wide lock has the one stream and passes what it hears to the
 * others; a tab that is hidden lets go of it. A stream that is opened goes on from the moment its tab knows of, so that nothing has to be
 * read again because a stream began.
 *
 * @param madeAt the server's moment at which the page was made, in milliseconds of the epoch
 * @returns ends it
 */
export function followChanges(madeAt: number, onHeard: (heard: Heard) => void): () => void {
  const channel = new BroadcastChannel(channelName);
  const tab = crypto.randomUUID();
  /** Until this moment this tab has heard everything; null where it has to read everything again. */
  let upTo: number | null = madeAt;
  let stream: { from: number; changes: { at: number; students: readonly string[] }[] } | null = null;
  let leave: (() => void) | null = null;
  let over = false;

  const hear = (at: number | null, heard: Heard | null) => {
    upTo = at ?? upTo;
    if (heard) onHeard(heard);
  };
  const tell = (at: number | null, heard: Heard | null) => {
    channel.postMessage({ type: "heard", at, heard } satisfies Message);
    hear(at, heard);
  };
  /** What this tab, which has the stream, heard since a moment; all of it where that was before its stream. */
  function heardSince({ from, changes }: NonNullable<typeof stream>, at: number | null): Heard | null {
    if (at === null || at < from) return { what: "all", when: "now" };
    const students = changes.flatMap((change) => (change.at >= at - 1000 ? change.students : []));
    return students.length > 0 ? { what: "changed", students: [...new Set(students)] } : null;
  }
  const askSince = () => channel.postMessage({ type: "since", at: upTo, from: tab } satisfies Message);
  channel.onmessage = ({ data }: MessageEvent<Message>) => {
    // A tab that is hidden catches up when it is seen.
    if (document.visibilityState === "hidden") return;
    if (data.type === "opened") return askSince();
    if (data.type === "since") {
      if (!stream) return;
      const heard = heardSince(stream, data.at);
      return channel.postMessage({ type: "heard", at: upTo, heard, to: data.from } satisfies Message);
    }
    if (data.to === undefined || data.to === tab) hear(data.at, data.heard);
  };

  function keepStream(): Promise<void> {
    return new Promise((resolve) => {
      let source: EventSource;
      let timer: number | undefined;
      let patience = 2000;
      function open() {
        const since = upTo;
        source = new EventSource(since === null ? "/live" : `/live?since=${since}`);
        source.onopen = () => {
          patience = 2000;
          stream ??= { from: since ?? Infinity, changes: [] };
          channel.postMessage({ type: "opened" } satisfies Message);
          if (upTo === null) tell(null, { what: "all", when: "now" });
        };
        const on = (event: string, what: (data: string) => Heard | null) =>
          source.addEventListener(event, ({ data, lastEventId }: MessageEvent<string>) => {
            const at = Number(lastEventId);
            const heard = what(data);
            if (stream) {
              stream.from = Math.min(stream.from, at);
              if (heard?.what === "changed") stream.changes.push({ at, students: heard.students });
              stream.changes = stream.changes.filter((change) => change.at > at - awayMs);
              stream.from = Math.max(stream.from, at - awayMs);
            }
            tell(at, heard);
          });
        on("changed", (data) => ({ what: "changed", students: studentsIn(data) }));
        on("resync", () => ({ what: "all", when: "soon" }));
        on("yours", () => ({ what: "all", when: "now" }));
        on("beat", () => null);
        // The browser tries again by itself after a cut, but not after an answer such as 502 from a proxy.
        source.onerror = () => {
          if (source.readyState !== EventSource.CLOSED) return;
          timer = window.setTimeout(open, patience);
          patience = Math.min(60_000, patience * 2);
        };
      }
      open();
      leave = () => {
        window.clearTimeout(timer);
        source.close();
        stream = null;
        resolve();
      };
    });
  }

  let waiting: AbortController | null = null;
  function join() {
    if (over || waiting) return;
    const controller = new AbortController();
    waiting = controller;
    askSince();
    navigator.locks
      .request(channelName, { signal: controller.signal }, () =>
        document.visibilityState === "visible" && !over ? keepStream() : undefined,
      )
      .catch(() => undefined);
  }
  let partedAt = 0;
  function part() {
    if (waiting) partedAt = Date.now();
    waiting?.abort();
    waiting = null;
    leave?.();
    leave = null;
  }
  function onVisibility() {
    if (document.visibilityState === "hidden") return part();
    if (partedAt > 0 && Date.now() - partedAt > awayMs) upTo = null;
    join();
  }
  function onPageShow(event: PageTransitionEvent) {
    if (event.persisted) onVisibility();
  }
  document.addEventListener("visibilitychange", onVisibility);
  window.addEventListener("pagehide", part);
  window.addEventListener("pageshow", onPageShow);
  if (document.visibilityState === "visible") join();
  return () => {
    over = true;
    part();
    channel.close();
    document.removeEventListener("visibilitychange", onVisibility);
    window.removeEventListener("pagehide", part);
    window.removeEventListener("pageshow", onPageShow);
  };
}
