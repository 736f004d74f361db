import { useEffect } from "react";
import { useRevalidator } from "react-router";

const channelName = "gentle-margin-live";

/**
 * Keeps what is shown up to date. Of all tabs that are visible, the one holding a browser-wide lock keeps the one stream and
 * passes what it hears to the others; a tab that is hidden lets go of it and reads again when it is seen.
 */
function followChanges(onChange: () => void): () => void {
  const channel = new BroadcastChannel(channelName);
  let leave: (() => void) | null = null;
  let over = false;

  const tell = () => {
    channel.postMessage("changed");
    onChange();
  };
  channel.onmessage = () => onChange();

  function keepStream(): Promise<void> {
    return new Promise((resolve) => {
      let source: EventSource;
      let timer: number | undefined;
      let patience = 2000;
      function open() {
        source = new EventSource("/live");
        source.onopen = () => {
          patience = 2000;
          tell();
        };
        source.addEventListener("changed", tell);
        source.addEventListener("resync", tell);
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
        resolve();
      };
    });
  }

  let waiting: AbortController | null = null;
  function join() {
    if (over || waiting) return;
    const controller = new AbortController();
    waiting = controller;
    navigator.locks
      .request(channelName, { signal: controller.signal }, () =>
        document.visibilityState === "visible" && !over ? keepStream() : undefined,
      )
      .catch(() => undefined);
  }
  function part() {
    waiting?.abort();
    waiting = null;
    leave?.();
    leave = null;
  }
  function onVisibility() {
    if (document.visibilityState === "hidden") return part();
    onChange();
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

/**
 * Reads the page's data again after a live notification, one reading at a time.
 *
 * @param personId whom the page was made for
 */
export function useLiveUpdates(personId: string): void {
  const { revalidate, state } = useRevalidator();
  useEffect(() => {
    if (!("locks" in navigator)) return;
    let running = false;
    let again = false;
    let timer: number | undefined;
    async function readAgain() {
      again = true;
      if (running) return;
      running = true;
      window.clearTimeout(timer);
      while (again) {
        again = false;
        const when = await mayRead(personId);
        if (when === "now") await revalidate();
        if (when === "later") timer = window.setTimeout(() => void readAgain(), retryMs);
      }
      running = false;
    }
    const leave = followChanges(() => void readAgain());
    return () => {
      window.clearTimeout(timer);
      leave();
    };
  }, [personId, revalidate]);
  useEffect(() => {
    document.documentElement.dataset["live"] = state;
  }, [state]);
}
