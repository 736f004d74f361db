import { useCallback, useEffect, useEffectEvent, useRef, useState } from "react";
import type { Device, Reach } from "./device.ts";
import { listWaiting, onQueueChange, sendWaiting, type WaitingItem } from "./queue.ts";

const retryAfter = [3000, 10_000, 30_000, 60_000];

export interface Queue {
  waiting: WaitingItem[];
  send: () => void;
  /** Reads anew what waits: what was put into the queue stands in `waiting` after it, or is sent. */
  look: () => Promise<void>;
}

/** What waits on this device, sent by itself whenever the server can be reached. */
export function useQueue(device: Device | null, onReach: (reach: Reach) => void): Queue {
  const [waiting, setWaiting] = useState<WaitingItem[]>([]);
  const tries = useRef(0);
  const pumpNow = useRef<(() => void) | null>(null);
  const sayReach = useEffectEvent(onReach);
  useEffect(() => {
    if (!device) return;
    let current = true;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const look = async () => {
      const list = await listWaiting(device);
      if (current) setWaiting(list);
      return list.some(({ refused }) => refused === null);
    };
    async function pump(): Promise<void> {
      clearTimeout(timer);
      if (!device || !(await look()) || !current) return;
      const reach = await sendWaiting(device);
      const left = await look();
      if (!current) return;
      if (reach !== "busy") sayReach(reach);
      // A session that is over pauses the queue until someone signs in; anything else is tried again by itself.
      if (left && reach !== "signed out") {
        timer = setTimeout(() => void pump(), retryAfter[Math.min(tries.current, retryAfter.length - 1)]);
        tries.current += 1;
      }
    }
    const now = () => {
      tries.current = 0;
      void pump();
    };
    pumpNow.current = now;
    const stop = onQueueChange(() => void pump());
    window.addEventListener("online", now);
    void pump();
    return () => {
      current = false;
      clearTimeout(timer);
      stop();
      window.removeEventListener("online", now);
    };
  }, [device]);
  return {
    waiting,
    send: useCallback(() => pumpNow.current?.(), []),
    look: useCallback(async () => {
      if (device) setWaiting(await listWaiting(device));
    }, [device]),
  };
}
