import { useEffect, useState } from "react";
import { Link } from "react-router";
import type { Device, Reach } from "../device/device.ts";
import { askAgain, dropItem, type WaitingItem } from "../device/queue.ts";

const when = (iso: string, timeZone: string) =>
  new Intl.DateTimeFormat("en-GB", { timeZone, dateStyle: "medium", timeStyle: "short" }).format(
    new Date(iso),
  );

/** What is sent within this time is not spoken of: a note that comes and goes would move the keys away from under a finger. */
const quickly = 4000;

/** What waits on this device and why; what was refused, and what to do. Nothing where all is sent. */
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
  const { pack } = device;
  const unsent = waiting.filter(({ refused }) => refused === null).length;
  const refused = waiting.filter((one) => one.refused !== null);
  const nameOf = ({ item }: WaitingItem) => {
    const student = pack.students.find(({ studentId }) => studentId === item.studentId);
    const goal = student?.goals.find(({ goalId }) => "goalId" in item && goalId === item.goalId);
    const what = goal ? `, ${goal.number} ${goal.title}` : item.kind === "incident" ? ", incident" : "";
    return `${student?.screenName ?? "A student you no longer record for"}${what}`;
  };
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
  if (refused.length === 0 && reach === "online" && !isSlow) return null;
  return (
    <div className="mx-auto mb-4 w-full max-w-4xl" role="status">
      {isSlow || reach !== "online" ? (
        <p className="flex flex-wrap items-center gap-x-3 rounded-lg bg-arrival px-4 py-1.5">
          <span className="min-h-11 flex-1 content-center">
            {reach === "signed out"
              ? `Your session is over; recording goes on.${unsent > 0 ? ` ${unsent} kept here until you sign in.` : ""}`
              : reach === "offline"
                ? unsent > 0
                  ? `No connection: ${unsent} kept on this device, sent by itself once there is one.`
                  : "No connection. Recording works; what you save is sent once there is one."
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
      {refused.length > 0 ? (
        <div className="mt-2 rounded-lg border border-warning px-4 py-2">
          <p className="flex flex-wrap items-center gap-3 font-bold text-warning">
            <span className="flex-1">Not taken by the server; still here.</span>
            <button type="button" className="btn btn-plain h-11" onClick={() => void askAgain(device)}>
              Try again
            </button>
          </p>
          <ul>
            {refused.map((one) => (
              <li key={one.place} className="border-t border-base-300 py-2">
                <p>
                  <b>{nameOf(one)}</b>, {when(one.item.observedAt, pack.timeZone)}
                </p>
                <p>{one.refused}</p>
                {one.item.kind === "entry" ? (
                  <p className="font-mono text-fine break-all text-soft">{JSON.stringify(one.item.entry)}</p>
                ) : null}
                <details>
                  <summary className="min-h-11 cursor-pointer py-2.5 text-soft">
                    Take it out of the queue …
                  </summary>
                  <p className="mb-1">It is gone from this device then. Write it down first.</p>
                  <button
                    type="button"
                    className="btn btn-plain h-11"
                    onClick={() => void dropItem(device, one.place)}
                  >
                    Take it out
                  </button>
                </details>
              </li>
            ))}
          </ul>
        </div>
      ) : null}
    </div>
  );
}
