import { useEffect, useEffectEvent, useState } from "react";
import { useSubmit } from "react-router";
import { openKept } from "#app/recording/device/device.ts";
import { leaveDevice } from "#app/recording/device/leave.ts";
import { openDisk } from "#app/recording/device/disk.ts";
import { listWaiting } from "#app/recording/device/queue.ts";
import { listOpenSittings } from "#app/recording/sitting/store.ts";
import { SheetDialog } from "./sheet.tsx";

interface Left {
  unsent: number;
  open: number;
}

async function whatIsLeft(): Promise<Left> {
  const device = await openKept(await openDisk());
  if (!device) return { unsent: 0, open: 0 };
  return { unsent: (await listWaiting(device)).length, open: (await listOpenSittings(device)).length };
}

/** Signs out: at once where everything is sent, with a warning where something is not. */
export default function SignOutSheet({ onClose }: { onClose: () => void }) {
  const submit = useSubmit();
  const [left, setLeft] = useState<Left | null>(null);
  const signOut = async (): Promise<void> => {
    // Typed drafts of every tab go with the person; the key of what is sealed goes too.
    const others = new BroadcastChannel("gentle-margin sign-out");
    others.postMessage("signed out");
    others.close();
    sessionStorage.clear();
    await leaveDevice().catch(() => undefined);
    await submit(null, { method: "post", action: "/sign-out" });
  };
  const leaveAtOnce = useEffectEvent(signOut);
  useEffect(() => {
    let current = true;
    whatIsLeft()
      .catch(() => ({ unsent: 0, open: 0 }))
      .then((found) => {
        if (!current) return undefined;
        if (found.unsent + found.open === 0) return leaveAtOnce();
        setLeft(found);
        return undefined;
      })
      .catch(() => undefined);
    return () => {
      current = false;
    };
  }, []);
  if (left === null) return null;
  const parts = [
    ...(left.unsent > 0
      ? [`${left.unsent} of your entries ${left.unsent === 1 ? "is" : "are"} not sent yet`]
      : []),
    ...(left.open > 0 ? [`${left.open} ${left.open === 1 ? "sitting is" : "sittings are"} still open`] : []),
  ];
  return (
    <SheetDialog label="Sign out" onClose={onClose}>
      <div className="grid gap-3 p-6">
        <h2 className="font-serif text-xl font-semibold">Before you sign out</h2>
        <p>
          {parts.join(" and ")}. They stay on this device, sealed: nobody else can read them here, and they go
          on when you sign in on this device again.
        </p>
        <div className="flex gap-3">
          <button type="button" className="btn btn-primary" onClick={onClose} autoFocus>
            Stay signed in
          </button>
          <button type="button" className="btn btn-plain" onClick={() => void signOut()}>
            Sign out anyway
          </button>
        </div>
      </div>
    </SheetDialog>
  );
}
