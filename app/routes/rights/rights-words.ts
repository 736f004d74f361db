import { dateWithYear } from "#core/words/dates.ts";
import { inspectBy, daysUntil } from "#core/retention/inspect-by.ts";
import type { AgainstErasing } from "#core/retention/against-erasing.ts";
import type { RecordKind } from "#core/retention/record-kinds.ts";
import type { RightsKind, RightsOutcome } from "#core/retention/rights-request.ts";
import { listed } from "#core/words/lists.ts";
import { plural } from "#core/words/numbers.ts";

/** What each kind of record is made of, for who decides how long it is stored. */
export const recordKindNames: Record<RecordKind, { name: string; holds: string }> = {
  observations: {
    name: "Observations",
    holds: "Entries, tallies, second observations and notes of what was not measured",
  },
  incidents: { name: "Incidents", holds: "ABC incidents, watched days and notes about patterns" },
  jots: { name: "Jots", holds: "Jots and their pictures" },
  messages: { name: "Messages", holds: "What was sent, questions of families, feedback" },
  record: {
    name: "The whole record",
    holds:
      "All of these, and goals, plans, decisions, progress statements, editions, guardians and the circle",
  },
};

/** "jots and messages" */
export const recordKindsListed = (kinds: readonly RecordKind[]): string =>
  listed(kinds.map((kind) => recordKindNames[kind].name.toLowerCase()));

export const requestNames: Record<RightsKind, string> = {
  inspect: "Inspect the record",
  amend: "Amend the record",
  erase: "Erase the record",
};

export const outcomeNames: Record<RightsOutcome, string> = {
  inspected: "They inspected it",
  amended: "The record was amended",
  "not amended": "It was not amended, and they know of their right to a hearing",
  "will be erased": "It will be erased",
  "not erased": "It is not erased, and they know why",
  withdrawn: "They withdrew the request",
};

export const againstNames: Record<AgainstErasing, string> = {
  "still at the school": "The student is at the school.",
  "on hold": "The record is on hold.",
  "request open": "A request is open.",
  "planned already": "Erasing is planned already.",
};

/** "by Dec 18, 2026, in 16 days", of a request whose days run; null for others. */
export function requestDueWords(kind: RightsKind, receivedOn: string, today: string): string | null {
  if (kind !== "inspect") return null;
  const by = inspectBy(receivedOn);
  const left = daysUntil(today, by);
  const days = (count: number) => `${count} ${plural(count, "day")}`;
  const when = left === 0 ? "today" : left > 0 ? `in ${days(left)}` : `${days(-left)} ago`;
  return `${left < 0 ? "was due" : "by"} ${dateWithYear(by)}, ${when}`;
}
