import type { Measure } from "./measure.ts";

/** How many opportunities, parts or points one entry of a measure has, as far as its set-up says; 0 where it does not. */
export function plannedOpportunities(measure: Measure): number {
  switch (measure.kind) {
    case "skills":
      return measure.skills.length;
    case "steps":
      return measure.steps.length;
    case "checklist":
      return measure.items.length;
    case "rubric":
      return measure.criteria.reduce((sum, { max }) => sum + max, 0);
    default:
      return "planned" in measure ? (measure.planned ?? 0) : 0;
  }
}
