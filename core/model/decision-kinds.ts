export const decisionKinds = [
  "keep going",
  "raise",
  "change instruction",
  "new phase",
  "more data",
  "taught as planned",
] as const;
export type DecisionKind = (typeof decisionKinds)[number];

/** What begins a phase: a line in the chart. */
export const phaseKinds: readonly DecisionKind[] = ["change instruction", "new phase"];
