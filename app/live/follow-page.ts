import { followChanges, type Heard } from "./follow-changes.ts";
import { concerns, readShown, resyncMs, type Shown, waitToRead } from "./what-is-read.ts";

/**
 * May a page be read again by itself? Not where another tab has turned to another school of the same account (409): the page would give
 * way to the other school. Not where the server does not answer or has no database: an error would take its place. What is typed in it
 * would be lost.
 */
async function mayRead(personId: string): Promise<"now" | "later" | "never"> {
  try {
    const { status, type } = await fetch(`/live?whose=${personId}`, { redirect: "manual" });
    if (status === 409) return "never";
    return status === 204 || type === "opaqueredirect" ? "now" : "later";
  } catch {
    return "later";
  }
}

/** How long a page waits that could not be read again. */
const retryMs = 5000;

/** Reads at the earliest moment that was asked for, one reading at a time; what is asked meanwhile comes after it. */
function readInTurn(read: (everything: boolean) => Promise<"read" | "again" | "later">) {
  let wanted: { at: number; everything: boolean } | null = null;
  let timer: number | undefined;
  let running = false;
  let lastRead = performance.now();
  const arm = () => {
    window.clearTimeout(timer);
    if (wanted && !running)
      timer = window.setTimeout(() => void run(), Math.max(0, wanted.at - performance.now()));
  };
  async function run() {
    const { everything } = wanted ?? { everything: false };
    wanted = null;
    running = true;
    const outcome = await read(everything).catch(() => "later" as const);
    running = false;
    lastRead = performance.now();
    if (outcome !== "read") ask(outcome === "later" ? retryMs : 0, everything);
    arm();
  }
  function ask(wait: number, everything: boolean) {
    const at = performance.now() + wait;
    wanted = { at: Math.min(at, wanted?.at ?? at), everything: everything || (wanted?.everything ?? false) };
    arm();
  }
  return {
    ask,
    sinceLast: () => performance.now() - lastRead,
    end: () => window.clearTimeout(timer),
  };
}

interface OpenPage {
  personId: string;
  madeAt: number;
  /** Of whom it shows what is recorded, now. */
  shown: () => Shown;
  /** Reads its data again. */
  read: () => Promise<void>;
}

/** Reads a page again when something it shows changed. @returns ends it */
export function followPage({ personId, madeAt, shown, read }: OpenPage): () => void {
  const reading = readInTurn(async (everything) => {
    const when = await mayRead(personId);
    if (when !== "now") return when === "later" ? "later" : "read";
    const place = window.location.href;
    await (everything ? read() : readShown(read));
    // Whoever turns to another page meanwhile breaks the reading off, and what is shown there may have been read before.
    return window.location.href === place ? "read" : "again";
  });
  const leave = followChanges(madeAt, (heard: Heard) => {
    if (heard.what === "all") return reading.ask(heard.when === "now" ? 0 : Math.random() * resyncMs, true);
    if (!concerns(shown(), heard.students)) return;
    reading.ask(waitToRead(shown(), reading.sinceLast(), Math.random()), false);
  });
  return () => {
    reading.end();
    leave();
  };
}
