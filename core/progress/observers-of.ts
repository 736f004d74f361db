import type { Entry } from "../model/entry.ts";

/** Who a person of these entries is. */
export function observersOf(entries: readonly Entry[]): (personId: string) => string {
  const names = new Map(entries.map(({ observerId, observer }) => [observerId, observer]));
  return (personId) => names.get(personId) ?? "";
}
