import type { ComponentType } from "react";
import type { MeasureKind } from "#core/measures/measure.ts";
import type { SittingPanel } from "./panel.ts";

type Panels = Record<MeasureKind, ComponentType<SittingPanel>>;

let loaded: Panels | null = null;

/** A panel gets only sheets of its own measure: the kind below chose it. */
const panel = <M,>(component: ComponentType<SittingPanel<M>>) =>
  component as unknown as ComponentType<SittingPanel>;

/** Loads the panel of every measure before a sitting is shown: a key that came before its panel would be lost. */
export async function loadPanels(): Promise<void> {
  const [taps, clocks, rows, intervals] = await Promise.all([
    import("./tap-panels.tsx"),
    import("./clock-panels.tsx"),
    import("./row-panels.tsx"),
    import("./intervals-panel.tsx"),
  ]);
  loaded = {
    trials: panel(taps.TrialsPad),
    supports: panel(taps.SupportsPad),
    count: panel(taps.CountPad),
    duration: panel(clocks.DurationPad),
    latency: panel(clocks.LatencyPad),
    fluency: panel(clocks.FluencyPad),
    intervals: panel(intervals.IntervalsPad),
    skills: rows.RowsPad,
    steps: rows.RowsPad,
    checklist: rows.RowsPad,
    rubric: rows.RowsPad,
    outcomes: rows.RowsPad,
    "running-total": panel(rows.RunningTotalPad),
  };
}

export function PanelOf(props: SittingPanel) {
  const Panel = loaded?.[props.measure.kind];
  return Panel ? <Panel {...props} /> : null;
}
