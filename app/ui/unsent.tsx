import { useEffect, useState } from "react";
import { Link, useLocation } from "react-router";
import { type Device, openDevice } from "#app/recording/device/device.ts";
import { used } from "#app/recording/device/idle.ts";
import { useQueue } from "#app/recording/device/use-queue.ts";
import { registerWorker } from "#app/recording/device/worker.ts";
import { listOpenSittings } from "#app/recording/sitting/store.ts";

/** Makes this device ready to record without a network, and says how much of what was recorded is not sent yet. */
export default function Unsent() {
  const [device, setDevice] = useState<Device | null>(null);
  useEffect(() => {
    openDevice(() => undefined).then(
      (found) => {
        setDevice(found.device);
        registerWorker(async () => !found.device || (await listOpenSittings(found.device)).length === 0);
      },
      () => undefined,
    );
  }, []);
  // Each page that the server gives is use of the browser by who is signed in.
  const { key } = useLocation();
  useEffect(() => used(), [key]);
  const { waiting } = useQueue(device, () => undefined);
  if (waiting.length === 0) return null;
  return (
    <p role="status">
      <Link
        to="/record"
        className="block rounded bg-arrival px-1 py-2 leading-tight font-bold text-base-content no-underline"
      >
        {waiting.length} not sent
      </Link>
    </p>
  );
}
