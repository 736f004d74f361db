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
    })
    .catch(() => undefined);
}
