import { useEffect, useState } from "react";
import { PageTitle } from "#app/ui/page-title.tsx";
import { plural } from "#core/words/numbers.ts";
import { lockHere, type OpenDisk, openDisk } from "../device/disk.ts";
import { unlock } from "../device/lock.ts";
import { PinField } from "./pin-field.tsx";

interface Here {
  disk: OpenDisk;
  personId: string;
  /** Whose PIN opens the device. */
  names: string[];
  isOver: boolean;
  waiting: number;
  open: number;
}

async function lookHere(): Promise<Here | null> {
  const disk = await openDisk();
  const [personId, lock] = await Promise.all([disk.get("meta", "person"), lockHere(disk)]);
  if (!personId || !lock) return null;
  const [queue, sittings] = await Promise.all([disk.getAll("queue"), disk.getAll("sittings")]);
  const own = (rows: readonly { personId: string }[]) =>
    rows.filter((row) => row.personId === personId).length;
  return {
    ...{ disk, personId, isOver: lock.over, waiting: own(queue), open: own(sittings) },
    names: [lock.name, ...(lock.holder ? [lock.holder.name] : [])],
  };
}

/** A session that is still open is no way around the PIN: it ends first. */
async function signIn(): Promise<void> {
  await fetch("/sign-out", { method: "POST", redirect: "manual" }).catch(() => undefined);
  location.assign("/sign-in?to=/record");
}

/** In place of the recording screens of a device that was not used for a while: the PIN opens them, without a network too. */
export function LockView() {
  const [here, setHere] = useState<Here | null>(null);
  const [pin, setPin] = useState("");
  const [why, setWhy] = useState("");
  const [busy, setBusy] = useState(false);
  useEffect(() => {
    lookHere().then(
      (found) => (found ? setHere(found) : location.reload()),
      () => undefined,
    );
  }, []);
  async function open(found: Here): Promise<void> {
    setBusy(true);
    const unlocked = await unlock(found.disk, found.personId, pin);
    if (unlocked.outcome === "open") return location.reload();
    setPin("");
    setBusy(false);
    if (unlocked.outcome === "sign in") setHere({ ...found, isOver: true });
    else if (unlocked.left === null)
      setWhy("This is not the PIN. After five wrong ones you have to sign in.");
    else
      setWhy(
        `This is not the PIN. ${unlocked.left} more ${plural(unlocked.left, "try", "tries")}, then you have to sign in.`,
      );
  }
  if (!here) return <PageTitle title="This screen is locked" className="sr-only" />;
  const left = [
    here.open > 0 &&
      (here.open === 1 ? "One sitting is open and goes on." : `${here.open} sittings are open and go on.`),
    here.waiting > 0 && `${here.waiting} not sent yet: sent once the screen is open.`,
  ].filter(Boolean);
  return (
    <div className="mx-auto mt-[12vh] grid w-full max-w-sm gap-4">
      <PageTitle title={here.isOver ? "Please sign in again" : "This screen is locked"} />
      {here.isOver ? (
        <>
          <p>
            Five PINs were wrong. What was recorded on this device stays there, sealed, until {here.names[0]}{" "}
            signs in.
          </p>
          <button type="button" className="btn btn-primary h-12" onClick={() => void signIn()} autoFocus>
            Sign in
          </button>
        </>
      ) : (
        <form
          className="grid gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            void open(here);
          }}
        >
          <PinField label={`PIN of ${here.names.join(" or ")}`} pin={pin} why={why} onPin={setPin} />
          <button className="btn btn-primary h-12" disabled={busy || pin.length < 4}>
            {busy ? "Opening …" : "Open"}
          </button>
          <button type="button" className="btn btn-plain h-12" onClick={() => void signIn()}>
            Sign in instead
          </button>
        </form>
      )}
      {left.length > 0 ? <p className="text-[0.9375rem] text-soft">{left.join(" ")}</p> : null}
    </div>
  );
}
