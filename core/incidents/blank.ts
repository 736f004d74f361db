import type { Chosen, IncidentDetails } from "./content.ts";

/** What a person may think an incident was for. */
export const guesses = ["attention", "escape", "sensory", "tangible", "unknown"] as const;
export type Guess = (typeof guesses)[number];

export const emptyDetails: IncidentDetails = {
  functions: [],
  length: null,
  intensity: null,
  resolved: null,
  resolvedMinutes: null,
  adults: [],
  peers: 0,
  harm: { injury: false, restraint: false, seclusion: false, facts: [] },
};

export const emptyChosen = (): Chosen => ({
  setting: [],
  antecedent: [],
  behavior: [],
  consequence: [],
  "setting event": [],
});
