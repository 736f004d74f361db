import type { Measure } from "#core/measures/measure.ts";
import { CountPanel, FluencyPanel, RunningTotalPanel, SupportsPanel, TrialsPanel } from "./count-panels.tsx";
import { ChecklistPanel, OutcomesPanel, RubricPanel, SkillsPanel, StepsPanel } from "./mark-rows.tsx";
import type { PanelProps } from "./panel.ts";
import { DurationPanel, IntervalsPanel, LatencyPanel } from "./time-panels.tsx";

/** The fields of an entry, made for its measure: they record it, correct it, and show in the set-up what will be recorded. */
export function EntryPanel(props: PanelProps<Measure>) {
  return (
    <div className="entry-panel">
      <PanelOfKind {...props} />
    </div>
  );
}

function PanelOfKind({ measure, ...panel }: PanelProps<Measure>) {
  switch (measure.kind) {
    case "trials":
      return <TrialsPanel measure={measure} {...panel} />;
    case "supports":
      return <SupportsPanel measure={measure} {...panel} />;
    case "skills":
      return <SkillsPanel measure={measure} {...panel} />;
    case "checklist":
      return <ChecklistPanel measure={measure} {...panel} />;
    case "steps":
      return <StepsPanel measure={measure} {...panel} />;
    case "count":
      return <CountPanel measure={measure} {...panel} />;
    case "duration":
      return <DurationPanel measure={measure} {...panel} />;
    case "latency":
      return <LatencyPanel measure={measure} {...panel} />;
    case "intervals":
      return <IntervalsPanel measure={measure} {...panel} />;
    case "fluency":
      return <FluencyPanel measure={measure} {...panel} />;
    case "rubric":
      return <RubricPanel measure={measure} {...panel} />;
    case "outcomes":
      return <OutcomesPanel measure={measure} {...panel} />;
    case "running-total":
      return <RunningTotalPanel measure={measure} {...panel} />;
  }
}
