import { useState } from "react";
import type { SealedKey } from "#core/sync/device-lock.ts";
import type { Holder } from "#core/sync/pack.ts";
import type { HandOverAnswer } from "#app/routes/recording/hand-over.ts";
import { SheetDialog } from "#app/ui/sheet.tsx";
import type { Device } from "../device/device.ts";
import { handOverTo } from "../device/hand-over.ts";
import { post, withField } from "../device/post.ts";
import { PinField } from "./pin-field.tsx";
import { useHolder } from "./use-sitting.ts";

type Colleague = Device["pack"]["colleagues"][number];

/** A colleague gives their PIN, or goes on named by the signed-in person. */
function TakeOver({
  disk,
  colleague,
  me,
  onTaken,
  onBack,
}: {
  disk: Device["disk"];
  colleague: Colleague;
  me: string;
  onTaken: (handoverId: string | null, sealed?: SealedKey | null) => void;
  onBack: () => void;
}) {
  const [pin, setPin] = useState("");
  const [why, setWhy] = useState("");
  const [busy, setBusy] = useState(false);
  async function give(): Promise<void> {
    setBusy(true);
    const answer = await post(
      "/recording/hand-over",
      { personId: colleague.personId, pin, deviceId: await disk.get("meta", "device") },
      withField<HandOverAnswer>("handoverId", "why"),
    );
    setBusy(false);
    if (answer.kind === "said" && "handoverId" in answer.body)
      return onTaken(answer.body.handoverId, answer.body.sealed);
    setPin("");
    setWhy(
      answer.kind === "said" && "why" in answer.body
        ? answer.body.why
        : "No connection to check a PIN with. Go on without it.",
    );
  }
  return (
    <form
      className="grid gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        void give();
      }}
    >
      {colleague.pin ? (
        <>
          <PinField label={`PIN of ${colleague.name}`} pin={pin} why={why} onPin={setPin} />
          <button className="btn btn-primary h-12" disabled={busy || pin.length < 4}>
            {busy ? "Asking …" : "Take over"}
          </button>
        </>
      ) : (
        <p>
          {colleague.name} has set no PIN: it is set on their own page “My devices”, reached from the
          caseload.
        </p>
      )}
      <button type="button" className="btn btn-plain h-12" onClick={() => onTaken(null)}>
        Go on without a PIN
      </button>
      <p className="text-fine text-soft">
        Without a PIN each line says “{colleague.name}, written by {me}”.
      </p>
      <button type="button" className="link min-h-11 justify-self-start" onClick={onBack}>
        Someone else
      </button>
    </form>
  );
}

/** Hands the device on to a colleague without leaving the sitting. */
export function HolderSheet({ device, onClose }: { device: Device; onClose: () => void }) {
  const { person, colleagues } = device.pack;
  const holder = useHolder(device);
  const [chosen, setChosen] = useState<Colleague | null>(null);
  const take = (next: Holder | null, sealed: SealedKey | null = null) => {
    void handOverTo(device, next, sealed);
    onClose();
  };
  return (
    <SheetDialog label="Who records now" onClose={onClose}>
      <div className="grid gap-3 p-5">
        <h2 className="font-serif text-lg font-semibold">Who records now?</h2>
        {chosen ? (
          <TakeOver
            disk={device.disk}
            colleague={chosen}
            me={person.name}
            onBack={() => setChosen(null)}
            onTaken={(handoverId, sealed) =>
              take({ personId: chosen.personId, name: chosen.name, handoverId, since: Date.now() }, sealed)
            }
          />
        ) : (
          <>
            <ul className="grid gap-2">
              <li>
                <button
                  type="button"
                  className="btn btn-plain h-12 w-full justify-start"
                  aria-pressed={holder === null}
                  onClick={() => take(null)}
                >
                  {person.name}
                  <span className="text-fine font-normal text-soft">signed in here</span>
                </button>
              </li>
              {colleagues.map((colleague) => (
                <li key={colleague.personId}>
                  <button
                    type="button"
                    className="btn btn-plain h-12 w-full justify-start"
                    aria-pressed={holder?.personId === colleague.personId}
                    onClick={() => setChosen(colleague)}
                  >
                    {colleague.name}
                    <span className="text-fine font-normal text-soft">
                      {colleague.pin ? "by PIN" : "no PIN set"}
                    </span>
                  </button>
                </li>
              ))}
            </ul>
            <p className="text-fine text-soft">
              Marks from now on are theirs; earlier marks stay with who made them.
            </p>
            {device.lock?.minutes && !device.lock.sealed ? (
              <p className="text-fine text-soft">
                {person.name} has no PIN, so this screen never locks. Set one on the page “My devices”.
              </p>
            ) : null}
          </>
        )}
      </div>
    </SheetDialog>
  );
}
