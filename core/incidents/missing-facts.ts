import type { IncidentDetails } from "../model/incident-content.ts";

export type Harm = IncidentDetails["harm"];

/** Was there an injury, a restraint or seclusion? */
export const isFlagged = ({ injury, restraint, seclusion }: Harm): boolean =>
  injury || restraint || seclusion;

/**
 * What the school asks for where there was an injury, a restraint or seclusion, and has not been told: with it missing, an incident is
 * kept and not finished.
 *
 * @param asked the school's questions of today
 * @param before where an incident is corrected that had such a flag already: what was told of it, and what was missing. It keeps the
 *   questions of its time, so that a new question makes no old incident unfinished.
 * @returns the questions without an answer, in their order
 */
export function missingFacts(
  { facts, ...flags }: Harm,
  asked: readonly string[],
  before: { harm: Harm; missing: readonly string[] } | null = null,
): string[] {
  if (!isFlagged({ facts, ...flags })) return [];
  const questions =
    before && isFlagged(before.harm)
      ? [...before.harm.facts.map((fact) => fact.asked), ...before.missing]
      : [...asked];
  const told = new Set(facts.filter(({ said }) => said.trim() !== "").map((fact) => fact.asked));
  return [...new Set(questions)].filter((question) => !told.has(question));
}
