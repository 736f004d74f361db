import { listed } from "../lists.ts";
import { capitalise, inDigits } from "../numbers.ts";

/** An incident in the words of its choices; what was not recorded is null or empty. */
export interface IncidentArgs {
  behavior: readonly string[];
  antecedent: readonly string[];
  consequence: readonly string[];
  setting: string | null;
  /** Was it still going on when it was recorded? Then its end says nothing yet. */
  ongoing: boolean;
  /** In minutes, or a band as the school calls it. */
  duration: number | string | null;
  intensity: number | null;
  resolved: boolean | null;
  resolvedMinutes: number | null;
  injury: boolean;
  restraint: boolean;
  seclusion: boolean;
}

const minutes = (count: number) => `${inDigits(Number(count.toFixed(1)))}\u00a0min`;
const duration = (length: number | string) => (typeof length === "number" ? minutes(length) : length);

function ending(incident: IncidentArgs): string {
  if (incident.ongoing) return "Still going on when recorded.";
  const { resolved, resolvedMinutes } = incident;
  const told = [
    incident.duration !== null && `duration ${duration(incident.duration)}`,
    incident.intensity !== null && `intensity ${incident.intensity}\u00a0of\u00a05`,
    resolved && `resolved${resolvedMinutes === null ? "" : ` after ${minutes(resolvedMinutes)}`}`,
    resolved === false && "not resolved at the time",
  ].filter((one) => typeof one === "string");
  return told.length > 0 ? `${capitalise(told.join(", "))}.` : "";
}

/** An incident in sentences; English. */
export const incidentLineEn = {
  duration,
  /** "Shouting and crying (classroom). Antecedent: told no. Consequence: a break. Duration 5–15 min." */
  incident: (incident: IncidentArgs) => {
    const { behavior, antecedent, consequence, setting, injury, restraint, seclusion } = incident;
    const harm = [injury && "an injury", restraint && "a restraint", seclusion && "seclusion"].filter(
      (one) => typeof one === "string",
    );
    return [
      `${capitalise(listed(behavior))}${setting ? ` (${setting})` : ""}.`,
      antecedent.length > 0 ? `Antecedent: ${listed(antecedent)}.` : "",
      consequence.length > 0 ? `Consequence: ${listed(consequence)}.` : "",
      ending(incident),
      harm.length > 0 ? `There was ${listed(harm)}.` : "",
    ]
      .filter(Boolean)
      .join(" ");
  },
};

/** The line of an incident in one language. */
export type IncidentLineWords = typeof incidentLineEn;
