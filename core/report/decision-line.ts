import type { DecisionKind } from "../model/decision-kinds.ts";
import { capitalise } from "../words/numbers.ts";
import type { EntryLine } from "./entry-line.ts";

const said: Record<DecisionKind, string> = {
  "keep going": "decided to keep going",
  raise: "decided to raise the goal",
  "change instruction": "decided to change the instruction",
  "new phase": "decided to begin a new phase",
  "more data": "decided to take more data first",
  "taught as planned": "taught as planned",
};

/** A decision as its reader will see it in the report: what, and why. */
export function decisionLine(
  goalTitle: string,
  { kind, phaseName, reason }: { kind: DecisionKind; phaseName: string | null; reason: string },
): EntryLine {
  return {
    sentence: `${goalTitle}: ${said[kind]}${phaseName ? `; “${phaseName}” begins` : ""}.`,
    note: reason.trim() ? capitalise(reason.trim()) : null,
  };
}
