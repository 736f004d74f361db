import { type ComponentType, lazy } from "react";
import type { MeasureKind } from "#core/measures/measure.ts";
import type { SittingPanel } from "./panel.ts";

const load = {
  taps: () => import("./tap-panels.tsx"),
  clocks: () => import("./clock-panels.tsx"),
  rows: () => import("./row-panels.tsx"),
  intervals: () => import("./intervals-panel.tsx"),
};

/** A panel gets only sheets of its own measure: the kind below chose it. */
function panelOf<M>(loaded: () => Promise<ComponentType<SittingPanel<M>>>) {
  return lazy(async () => ({ default: (await loaded()) as unknown as ComponentType<SittingPanel> }));
}

const rows = panelOf(async () => (await load.rows()).RowsPad);

/** One panel for each kind of measure, each loaded when it is first needed; all are on the device beforehand. */
const panels: Record<MeasureKind, ComponentType<SittingPanel>> = {
  trials: panelOf(async () => (await load.taps()).TrialsPad),
  supports: panelOf(async () => (await load.taps()).SupportsPad),
  count: panelOf(async () => (await load.taps()).CountPad),
  duration: panelOf(async () => (await load.clocks()).DurationPad),
  latency: panelOf(async () => (await load.clocks()).LatencyPad),
  fluency: panelOf(async () => (await load.clocks()).FluencyPad),
  intervals: panelOf(async () => (await load.intervals()).IntervalsPad),
  skills: rows,
  steps: rows,
  checklist: rows,
  rubric: rows,
  outcomes: rows,
  "running-total": panelOf(async () => (await load.rows()).RunningTotalPad),
};

export function PanelOf(props: SittingPanel) {
  const Panel = panels[props.measure.kind];
  return <Panel {...props} />;
}
