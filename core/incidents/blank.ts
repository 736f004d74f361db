import type { ChosenChoices, IncidentDetails } from "../model/incident-content.ts";

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

/** No choice in any list. */
export const emptyChosen = (): ChosenChoices => ({
  setting: [],
  antecedent: [],
  behavior: [],
  consequence: [],
  "setting event": [],
});
