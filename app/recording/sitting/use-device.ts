import { useCallback, useEffect, useState } from "react";
import { type Device, openDevice } from "../device/device.ts";
import type { Reach } from "../device/reach.ts";
import { type Queue, useQueue } from "../device/use-queue.ts";
import { registerWorker } from "../device/worker.ts";
import { listOpenSittings } from "./store.ts";

/** How this browser stands: opening; open with what is kept here; locked; nobody has signed in here yet; or it keeps nothing at all. */
export type DeviceState =
  | { state: "opening" }
  | { state: "open"; device: Device; reach: Reach }
  | { state: "locked" }
  | { state: "nobody"; reach: Reach }
  | { state: "keeps nothing" };

/** Opens this device, keeps its pack fresh, and sends what waits whenever the server can be reached. */
export function useDevice(): Queue & { opened: DeviceState; setReach: (reach: Reach) => void } {
  const [opened, setOpened] = useState<DeviceState>({ state: "opening" });
  useEffect(() => {
    let current = true;
    openDevice((kept) => {
      if (current) setOpened({ state: "open", device: kept, reach: "online" });
    }).then(
      (found) => {
        if (!current) return;
        const { device, reach } = found;
        setOpened(
          reach === "locked"
            ? { state: "locked" }
            : device
              ? { state: "open", device, reach }
              : { state: "nobody", reach },
        );
        registerWorker(async () => !device || (await listOpenSittings(device)).length === 0);
      },
      () => {
        if (current) setOpened({ state: "keeps nothing" });
      },
    );
    return () => {
      current = false;
    };
  }, []);
  const isOpen = opened.state === "open";
  useEffect(() => {
    const watched = isOpen ? import("./lock-when-unused.ts").then((lock) => lock.lockWhenUnused()) : null;
    return () => void watched?.then((end) => end());
  }, [isOpen]);
  const setReach = useCallback(
    (reach: Reach) =>
      setOpened((before) =>
        before.state === "open" && before.reach !== reach ? { ...before, reach } : before,
      ),
    [],
  );
  const queue = useQueue(opened.state === "open" ? opened.device : null, setReach);
  return { opened, ...queue, setReach };
}
