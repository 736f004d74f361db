import { choiceLists } from "#core/model/choice-lists.ts";
import { isFlagged } from "#core/incidents/missing-facts.ts";
import type { ReportingSpan } from "#core/schedule/reporting-spans.ts";
import { isDate } from "#core/dates/day-number.ts";
import { incidentLine } from "#core/report/incident-line.ts";
import type { Incident } from "#core/model/incident.ts";

export const incidentKinds = [
  ["", "All types"],
  ["ongoing", "still going on"],
  ["harm", "injury, restraint or seclusion"],
  ["facts missing", "facts missing"],
  ["unresolved", "not resolved"],
  ["corrected", "corrected"],
  ["account", "second accounts"],
] as const;
type Kind = (typeof incidentKinds)[number][0];

/** What is looked for in a list of incidents; empty where everything is. */
export interface Narrowing {
  words: string;
  from: string;
  to: string;
  /** The id of a choice. */
  choice: string;
  author: string;
  kind: Kind;
  /** The key of a reporting period; its days go before `from` and `to`. */
  period: string;
}

/** Reads the search from the address; values that do not fit are ignored. */
export function readNarrowing(search: URLSearchParams, periods: readonly ReportingSpan[]): Narrowing {
  const text = (name: string) => (search.get(name) ?? "").trim().slice(0, 100);
  const date = (name: string) => (isDate(text(name)) ? text(name) : "");
  const period = periods.find(({ key }) => key === text("period"));
  return {
    ...{ words: text("words"), from: period?.from ?? date("from"), to: period?.to ?? date("to") },
    period: period?.key ?? "",
    ...{ choice: text("choice"), author: text("author") },
    kind: incidentKinds.find(([key]) => key === text("kind"))?.[0] ?? "",
  };
}

const fold = (text: string) => text.normalize("NFKD").replace(/\p{M}/gu, "").toLocaleLowerCase();

const kinds: Record<Kind, (incident: Incident) => boolean> = {
  "": () => true,
  ongoing: ({ ongoing }) => ongoing,
  harm: ({ details }) => isFlagged(details.harm),
  "facts missing": ({ factsMissing }) => factsMissing.length > 0,
  unresolved: ({ details }) => details.resolved === false,
  corrected: ({ corrected }) => corrected,
  account: ({ sameAs }) => sameAs !== null,
};

/** Does the incident match the search? Each word must occur in its sentence, its note or its names. */
export function isLookedFor(incident: Incident, wanted: Narrowing): boolean {
  const { on, at, period, author, choices, names, details } = incident;
  if ((wanted.from !== "" && on < wanted.from) || (wanted.to !== "" && on > wanted.to)) return false;
  if (wanted.choice !== "" && !choiceLists.some((list) => choices[list].includes(wanted.choice)))
    return false;
  if (wanted.author !== "" && author !== wanted.author) return false;
  if (!kinds[wanted.kind](incident)) return false;
  const { sentence, note } = incidentLine(incident);
  const told = fold(
    [on, at, period, author, sentence, note, ...names["setting event"], ...details.functions]
      .filter(Boolean)
      .join(" "),
  );
  return fold(wanted.words)
    .split(/\s+/)
    .every((word) => told.includes(word));
}
