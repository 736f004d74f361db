import type { ComponentType } from "react";
import type { PadProps } from "./pad.ts";

let Pad: ComponentType<PadProps> | null = null;

/** Loads the panels before a sitting is shown: a key that came before its panel would be lost. */
export async function loadPads(): Promise<void> {
  Pad = (await import("./pads.tsx")).PadOf;
}

export function LoadedPad(props: PadProps) {
  return Pad ? <Pad {...props} /> : null;
}
