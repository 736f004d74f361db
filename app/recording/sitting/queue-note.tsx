import { lazy, Suspense, useEffect, useState } from "react";
import { Link } from "react-router";
import type { Device } from "../device/device.ts";
import type { Reach } from "../device/reach.ts";
import { hasUnkept, isStuck, type WaitingItem } from "../device/queue.ts";

/** Loaded with the page and not before it: it is rarely needed, and then perhaps without a network. */
export const loadNotTaken = () => import("./not-taken.tsx");
const NotTaken = lazy(loadNotTaken);

/** What is sent within this time is not spoken of: a note that comes and goes would move the keys away from under a finger. */
const quickly = 4000;

/** Why what was saved is still here, and that it goes on by itself. */
const reachWords: Record<Exclude<Reach, "online">, readonly [why: string, waiting: string]> = {
  offline: ["No connection", "sent once there is one"],
  "signed out": ["Your session is over; recording goes on", "sent when you are signed in again"],
  elsewhere: [
    "Another page answers for the school’s server, perhaps this network’s sign-in page",
    "sent once the server answers",
  ],
  unwell: ["The server can take nothing just now", "sent once it can"],
};

/** What waits on this device and why; what was not taken, and what to do. Nothing where all is sent. */
export function QueueNote({
  device,
  waiting,
  reach,
  onSend,
}: {
  device: Device;
  waiting: readonly WaitingItem[];
  reach: Reach;
  onSend: () => void;
}) {
  const notTaken = waiting.filter((one) => one.refused !== null || isStuck(one));
  const unsent = waiting.length - notTaken.length;
  const failing = waiting.filter((one) => one.failed && !notTaken.includes(one)).length;
  const inPage = waiting.filter(({ place }) => place < 0).length;
  const isSending = unsent > 0 && reach === "online";
  const [isSlow, setIsSlow] = useState(false);
  useEffect(() => {
    if (!isSending) return;
    const timer = setTimeout(() => setIsSlow(true), quickly);
    return () => {
      clearTimeout(timer);
      setIsSlow(false);
    };
  }, [isSending]);
  if (notTaken.length === 0 && reach === "online" && !isSlow && inPage === 0) return null;
  const [why, until] = reach === "online" ? ["", ""] : reachWords[reach];
  return (
    <div className="mx-auto mb-4 w-full max-w-4xl" role="status">
      {inPage > 0 && hasUnkept() ? (
        <p className="mb-2 rounded-lg border border-warning px-4 py-2 font-bold text-warning">
          The storage of this device is full, cleared or switched off: {inPage} only in this page. Leave it
          open until {inPage === 1 ? "it is" : "they are"} sent.
        </p>
      ) : null}
      {isSlow || reach !== "online" ? (
        <p className="flex flex-wrap items-center gap-x-3 rounded-lg bg-arrival px-4 py-1.5">
          <span className="min-h-11 flex-1 content-center">
            {reach !== "online"
              ? unsent > 0
                ? `${why}: ${unsent} saved on this device, ${until}.`
                : `${why}. Recording works; what you save is ${until}.`
              : failing > 0
                ? `${failing} not taken yet: the server fails with ${failing === 1 ? "it" : "them"}. Tried again by itself.`
                : `Sending ${unsent} …`}
          </span>
          {reach === "signed out" ? (
            <Link to="/sign-in?to=/record" reloadDocument className="link min-h-11 content-center font-bold">
              Sign in
            </Link>
          ) : unsent > 0 ? (
            <button type="button" className="link min-h-11 font-bold" onClick={onSend}>
              Send now
            </button>
          ) : null}
        </p>
      ) : null}
      {notTaken.length > 0 ? (
        <Suspense>
          <NotTaken device={device} waiting={notTaken} />
        </Suspense>
      ) : null}
    </div>
  );
}
