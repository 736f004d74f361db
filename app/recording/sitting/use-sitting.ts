import { useCallback, useEffect, useState, useSyncExternalStore } from "react";
import { type Device, holderOf, onHolderChange } from "../device/device.ts";
import type { Holder } from "#core/sync/pack.ts";
import type { Sheet, Sitting } from "#core/sync/kept.ts";
import { withMark } from "./sheet.ts";
import type { SittingStore } from "./store.ts";

export function useSheet(store: Pick<SittingStore, "sheet" | "subscribe">, goalId: string): Sheet {
  return useSyncExternalStore(
    // A new function would have React subscribe anew at every mark.
    useCallback((call: () => void) => store.subscribe(goalId, call), [store, goalId]),
    () => store.sheet(goalId),
  );
}

export function useSitting(store: SittingStore): Sitting {
  return useSyncExternalStore((call) => store.subscribe("sitting", call), store.sitting);
}

/** Who holds this device; null is the signed-in person. */
export function useHolder(device: Device): Holder | null {
  return useSyncExternalStore(onHolderChange, () => holderOf(device));
}

/** Does the device keep what is marked? */
export function useKept(store: SittingStore): boolean {
  return useSyncExternalStore((call) => store.subscribe("kept", call), store.kept);
}

let clocks = 0;

/** Does a clock run on this page: one that is shown by the second or faster? */
export const runsClock = (): boolean => clocks > 0;

/** The time now, milliseconds since 1970, asked again while something runs and whenever the page is seen again. */
export function useNow(running: boolean, every = 200): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    if (!running) return;
    const ask = () => setNow(Date.now());
    ask();
    const timer = setInterval(ask, every);
    if (every <= 1000) clocks += 1;
    document.addEventListener("visibilitychange", ask);
    return () => {
      clearInterval(timer);
      if (every <= 1000) clocks -= 1;
      document.removeEventListener("visibilitychange", ask);
    };
  }, [running, every]);
  return now;
}

/** Puts a mark on a sheet, at the time of the touch. */
export function mark(
  store: Pick<SittingStore, "change">,
  goalId: string,
  on: string,
  value = "",
  at = Date.now(),
): void {
  store.change(goalId, (sheet) => withMark(sheet, { at, on, value }));
}
