import type { ChoiceList } from "../model/choice-lists.ts";
import type { IncidentDetails } from "../model/incident-content.ts";
import { listed } from "../words/lists.ts";
import { capitalise } from "../words/numbers.ts";
import type { EntryLine } from "./entry-line.ts";

/** An incident in the words of its choices. */
export interface ToldIncident {
  names: Readonly<Record<ChoiceList, readonly string[]>>;
  details: IncidentDetails;
  ongoing: boolean;
  note: string | null;
}

const minutesWords = (minutes: number) => `${Number(minutes.toFixed(1))}\u00a0min`;

/** How long it lasted, as it is known: "4 min", or a band as the school says it. */
export const lengthWords = (length: NonNullable<IncidentDetails["length"]>): string =>
  "minutes" in length ? minutesWords(length.minutes) : length.band.name;

function ending({ length, resolved, resolvedMinutes, intensity }: IncidentDetails, ongoing: boolean): string {
  if (ongoing) return "It was still going on when this was written.";
  const said = [
    length && `it lasted ${lengthWords(length)}`,
    intensity !== null && `strength ${intensity}\u00a0of\u00a05`,
    resolved === true &&
      `resolved${resolvedMinutes === null ? "" : ` after ${minutesWords(resolvedMinutes)}`}`,
    resolved === false && "not resolved at the time",
  ].filter((one) => typeof one === "string");
  return said.length > 0 ? `${capitalise(said.join(", "))}.` : "";
}

/**
 * An incident as its reader will see it, family included: what was seen and what followed, and no guess at a reason.
 * "Shouting and crying (classroom), just after: told no. What followed: a break. It lasted 5–15 min."
 */
export function incidentLine({ names, details, ongoing, note }: ToldIncident): EntryLine {
  const [setting] = names.setting;
  const { injury, restraint, seclusion } = details.harm;
  const harm = [injury && "an injury", restraint && "a restraint", seclusion && "seclusion"].filter(
    (one) => typeof one === "string",
  );
  const sentences = [
    `${capitalise(listed(names.behavior))}${setting ? ` (${setting})` : ""}${
      names.antecedent.length > 0 ? `, just after: ${listed(names.antecedent)}` : ""
    }.`,
    names.consequence.length > 0 ? `What followed: ${listed(names.consequence)}.` : "",
    ending(details, ongoing),
    harm.length > 0 ? `There was ${listed(harm)}.` : "",
  ];
  return { sentence: sentences.filter(Boolean).join(" "), note: note?.trim() || null };
}
