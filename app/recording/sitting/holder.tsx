import { lazy, Suspense, useState } from "react";
import type { Device } from "../device/device.ts";
import { useHolder } from "./use-sitting.ts";

/** Loaded after the page: it is opened a few times a day. */
export const loadHolderSheet = () => import("./holder-sheet.tsx");
const HolderSheet = lazy(() => loadHolderSheet().then(({ HolderSheet }) => ({ default: HolderSheet })));

/** Who records here, and the way to hand the device on without leaving the sitting. */
export function HolderButton({ device }: { device: Device }) {
  const { person } = device.pack;
  const holder = useHolder(device);
  const [open, setOpen] = useState(false);
  return (
    <>
      <button
        type="button"
        className={`min-h-11 cursor-pointer rounded-lg px-2 text-fine ${holder ? "bg-arrival font-bold" : "text-soft underline decoration-dotted underline-offset-4"}`}
        aria-label={`${holder?.name ?? person.name} records. Hand over`}
        onClick={() => setOpen(true)}
      >
        {holder?.name ?? person.name}
        {holder && holder.handoverId === null ? ` (${person.name} writes)` : ""}
      </button>
      {open ? (
        <Suspense>
          <HolderSheet device={device} onClose={() => setOpen(false)} />
        </Suspense>
      ) : null}
    </>
  );
}
