import { useEffect, useState } from "react";
import { Link, useSearchParams } from "react-router";
import { openDevice } from "#app/recording/device/device.ts";
import { listWaiting } from "#app/recording/device/queue.ts";
import { listOpenSittings } from "#app/recording/sitting/store.ts";
import { ownPath } from "#app/routes/sign-in/own-path.ts";
import { useAwake } from "#app/ui/use-awake.ts";
import { PageTitle } from "#app/ui/page-title.tsx";

interface OnDevice {
  waiting: number;
  open: number;
}

/** What is on this device of the person who last used it: how much waits to be sent, and how many sittings are open. */
async function lookAtDevice(): Promise<OnDevice | null> {
  const { device } = await openDevice(() => undefined);
  if (!device) return null;
  const [waiting, open] = await Promise.all([listWaiting(device), listOpenSittings(device)]);
  return { waiting: waiting.length, open: open.length };
}

/** In place of any page that cannot be reached: recording goes on, and what waits is safe. It needs no answer of the server. */
export default function Offline() {
  const [onDevice, setOnDevice] = useState<OnDevice | null>(null);
  const [search] = useSearchParams();
  // The page on the device was drawn before anybody wanted to go anywhere.
  const wanted = useAwake() ? ownPath(search.get("to")) : "/caseload";
  useEffect(() => {
    lookAtDevice().then(setOnDevice, () => undefined);
    // The browser's own event says only that there is some network; the server may be away for other reasons.
    const timer = setInterval(() => {
      fetch("/ready", { cache: "no-store" }).then(
        ({ ok }) => ok && location.assign(wanted),
        () => undefined,
      );
    }, 5000);
    return () => clearInterval(timer);
  }, [wanted]);
  const { waiting = 0, open = 0 } = onDevice ?? {};
  return (
    <main
      id="page"
      className="mx-auto flex min-h-dvh max-w-xl flex-col justify-center border-l border-rule px-8 py-12"
    >
      <PageTitle title="No connection" />
      <p className="mt-3 max-w-md font-serif leading-relaxed">
        This page needs the network. Recording does not: sittings, incidents, jots and tallies are saved on
        this device and sent later.
      </p>
      <p className="mt-3 font-bold" role="status">
        {[
          waiting > 0 && `${waiting} saved on this device, not sent yet.`,
          open > 0 && (open === 1 ? "One sitting is open." : `${open} sittings are open.`),
        ]
          .filter(Boolean)
          .join(" ")}
      </p>
      <p className="mt-6 flex flex-wrap gap-3">
        <Link className="btn btn-primary h-11" to="/record">
          Record
        </Link>
        <Link className="btn btn-plain h-11" to="/record?incident">
          Incident
        </Link>
        <Link className="btn btn-plain h-11" to="/record?jot">
          Jot
        </Link>
        <a className="btn btn-plain h-11" href={wanted}>
          Try again
        </a>
      </p>
    </main>
  );
}
