import type { IncidentArgs, IncidentLineWords } from "../en/incident-line.ts";
import { spanish } from "./spanish.ts";

const { list, capital } = spanish;
const minutes = (count: number) => `${spanish.whole(Number(count.toFixed(1)))}\u00a0min`;
const duration = (length: number | string) => (typeof length === "number" ? minutes(length) : length);

function ending(incident: IncidentArgs): string {
  if (incident.ongoing) return "Seguía en curso cuando se registró.";
  const { resolved, resolvedMinutes } = incident;
  const told = [
    incident.duration !== null && `duración ${duration(incident.duration)}`,
    incident.intensity !== null && `intensidad ${spanish.outOf(incident.intensity, 5)}`,
    resolved && `resuelto${resolvedMinutes === null ? "" : ` después de ${minutes(resolvedMinutes)}`}`,
    resolved === false && "sin resolver en ese momento",
  ].filter((one) => typeof one === "string");
  return told.length > 0 ? `${capital(told.join(", "))}.` : "";
}

/** An incident in sentences; Spanish. */
export const incidentLineEs: IncidentLineWords = {
  duration,
  incident: (incident) => {
    const { behavior, antecedent, consequence, setting, injury, restraint, seclusion } = incident;
    const harm = [
      injury && "una lesión",
      restraint && "una contención física",
      seclusion && "aislamiento",
    ].filter((one) => typeof one === "string");
    return [
      `${capital(list(behavior))}${setting ? ` (${setting})` : ""}.`,
      antecedent.length > 0 ? `Antecedente: ${list(antecedent)}.` : "",
      consequence.length > 0 ? `Consecuencia: ${list(consequence)}.` : "",
      ending(incident),
      harm.length > 0 ? `Hubo ${list(harm)}.` : "",
    ]
      .filter(Boolean)
      .join(" ");
  },
};
