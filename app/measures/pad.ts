import type { Measure } from "#core/measures/measure.ts";
import type { Sheet } from "#core/sync/kept.ts";
import type { SittingStore } from "../recording/sitting/store.ts";

/** What a panel needs of the sitting it stands in; a form that has no sitting gives it one sheet of its own. */
export type PadStore = Pick<SittingStore, "sitting" | "sheet" | "sheets" | "subscribe" | "change">;

/** What every recording panel is given. Buttons with `data-key` are pressed by that key while their panel is active. */
export interface PadProps<M = Measure> {
  measure: M;
  sheet: Sheet;
  store: PadStore;
}
