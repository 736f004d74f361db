import { useEffect, useState } from "react";
import { v7 as newId } from "uuid";
import type { Queued, TakenBack } from "#core/sync/queued.ts";
import type { Device } from "./device/device.ts";
import { enqueue } from "./device/queue.ts";

const seconds = 10;

/** Puts into the queue that these are taken back. They are sent after what they take back, also without a network. */
export function enqueueTakingBack(device: Device, items: readonly Queued[]): Promise<void> {
  const now = new Date().toISOString();
  return enqueue(
    device,
    items.map(({ id, kind, studentId, observer, observedAt }) => ({
      ...{ format: 1 as const, kind: "take back" as const, id: newId(), studentId },
      ...{ of: kind as TakenBack, thingId: id },
      // An absence is of the day on which it was observed.
      ...{ observedAt: kind === "absent" ? observedAt : now, clockAhead: device.kept.clockAhead },
      ...(observer ? { observer } : {}),
    })),
  );
}

/** Undoes what was just saved, for ten seconds; after that its own page corrects and removes it. */
export function Undo({ children, onUndo }: { children: React.ReactNode; onUndo: () => Promise<void> }) {
  const [state, setState] = useState<"may" | "busy" | "over">("may");
  useEffect(() => {
    const timer = setTimeout(() => setState((now) => (now === "may" ? "over" : now)), seconds * 1000);
    return () => clearTimeout(timer);
  }, []);
  return state === "over" ? null : (
    <button
      type="button"
      className="btn btn-plain h-11"
      disabled={state === "busy"}
      onClick={() => {
        setState("busy");
        void onUndo().catch(() => setState("may"));
      }}
    >
      {children}
    </button>
  );
}
