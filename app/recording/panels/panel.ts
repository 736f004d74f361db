import type { Measure } from "#core/measures/measure.ts";
import type { Sheet } from "#core/sync/kept.ts";
import type { SittingStore } from "../sitting/store.ts";

/** What every panel of a sitting is given. Buttons with `data-key` are pressed by that key while their panel is active. */
export interface SittingPanel<M = Measure> {
  measure: M;
  sheet: Sheet;
  store: SittingStore;
}
