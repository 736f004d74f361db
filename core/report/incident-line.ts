import type { ChoiceList } from "../model/choice-lists.ts";
import type { IncidentDetails } from "../model/incident-content.ts";
import { incidentLineEn, type IncidentLineWords } from "../words/en/incident-line.ts";
import type { EntryLine } from "./entry-line.ts";

/** An incident in the words of its choices. */
export interface ToldIncident {
  names: Readonly<Record<ChoiceList, readonly string[]>>;
  details: IncidentDetails;
  ongoing: boolean;
  note: string | null;
}

const durationOf = (length: NonNullable<IncidentDetails["length"]>) =>
  "minutes" in length ? length.minutes : length.band.name;

/** How long it lasted, as it is known: "4 min", or a band as the school says it. */
export const lengthWords = (
  length: NonNullable<IncidentDetails["length"]>,
  words: IncidentLineWords = incidentLineEn,
): string => words.duration(durationOf(length));

/**
 * An incident as its reader will see it: what was seen and what followed, and no guess at a reason.
 * "Shouting and crying (classroom). Antecedent: told no. Consequence: a break. Duration 5–15 min."
 */
export function incidentLine(
  { names, details, ongoing, note }: ToldIncident,
  words: IncidentLineWords = incidentLineEn,
): EntryLine {
  const { behavior, antecedent, consequence, setting } = names;
  const { length, intensity, resolved, resolvedMinutes, harm } = details;
  return {
    sentence: words.incident({
      ...{ behavior, antecedent, consequence, setting: setting[0] ?? null, ongoing },
      ...{ duration: length && durationOf(length), intensity, resolved, resolvedMinutes },
      ...{ injury: harm.injury, restraint: harm.restraint, seclusion: harm.seclusion },
    }),
    note: note?.trim() || null,
  };
}
