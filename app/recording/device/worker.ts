const askAgainAfter = 15_000;

/**
 * Registers what lets the recording page work without a network. A new version takes over only where `idle` says that
 * no sitting is open in this browser; otherwise it waits until every page of ours is closed.
 */
export function registerWorker(idle: () => Promise<boolean>): void {
  if (!("serviceWorker" in navigator) || !import.meta.env.PROD) return;
  void navigator.serviceWorker
    .register("/sw.js", { updateViaCache: "none" })
    .then(async (registration) => {
      const takeOver = async () => {
        if (!registration.waiting) return;
        const isIdle = await idle();
        // Looked up after the wait: meanwhile it may have taken over by itself.
        if (isIdle) registration.waiting?.postMessage({ type: "SKIP_WAITING" });
      };
      registration.addEventListener("updatefound", () => {
        const coming = registration.installing;
        coming?.addEventListener("statechange", () => {
          if (coming.state === "installed") void takeOver();
        });
      });
      await takeOver();
      // A page that stays open has its sittings end, too.
      setInterval(() => void takeOver(), askAgainAfter);
    })
    .catch(() => undefined);
}
