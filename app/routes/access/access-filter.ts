import { isDate } from "#core/dates/day-number.ts";
import type { EventFilter, EventKind } from "#server/db/access-record.ts";

/** What can be chosen on the access record and on the school's events. */
export const eventKindNames = {
  saw: "Looked at",
  took: "Saved or printed",
  received: "Sent or given",
  record: "Recorded or changed",
  people: "People and their access",
  refused: "Refused",
  "signed in": "Sign-ins",
  settings: "Settings of the school",
  command: "Commands on the server",
} as const satisfies Record<EventKind, string>;

const kindsHere = Object.keys(eventKindNames) as EventKind[];

/** The choices that an address names; what is none is left out. */
export function readEventFilter(search: URLSearchParams): Omit<EventFilter, "studentId"> {
  const kind = kindsHere.find((one) => one === search.get("kind"));
  const [from, to, before] = [search.get("from"), search.get("to"), search.get("before")];
  const who = search.get("who");
  return {
    ...(kind ? { kind } : {}),
    ...(from !== null && isDate(from) ? { from } : {}),
    ...(to !== null && isDate(to) ? { to } : {}),
    ...(before !== null && /^\d{1,18}$/.test(before) ? { before } : {}),
    ...(who === "outside" || who === "staff" ? { outside: who === "outside" } : {}),
  };
}
