import { useCallback, useEffect, useEffectEvent, useRef, useState } from "react";
import type { Device } from "./device.ts";
import type { Reach } from "./reach.ts";
import { listWaiting, onQueueChange, sendWaiting, type WaitingItem } from "./queue.ts";

const retryAfter = [3000, 10_000, 30_000, 60_000];
/** How often it is looked whether somebody has signed in again. */
const lookAgain = 30_000;

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
      // It goes on by itself as soon as the server takes it again: after a session that was over, in another tab too.
      if (left) {
        const pause = retryAfter[Math.min(tries.current, retryAfter.length - 1)];
        timer = setTimeout(() => void pump(), reach === "signed out" ? lookAgain : pause);
        tries.current += 1;
      }
    }
    const now = () => {
      tries.current = 0;
      void pump();
    };
    pumpNow.current = now;
    const stop = onQueueChange(() => void pump());
    const seen = () => {
      if (document.visibilityState === "visible") now();
    };
    window.addEventListener("online", now);
    document.addEventListener("visibilitychange", seen);
    void pump();
    return () => {
      current = false;
      clearTimeout(timer);
      stop();
      window.removeEventListener("online", now);
      document.removeEventListener("visibilitychange", seen);
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
