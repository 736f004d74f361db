import { type Purpose, purposes } from "#core/criteria/purposes.ts";

/** What an entry of a goal is for unless one says otherwise: a probe, where probes count. */
export function usualPurpose(counted: readonly Purpose[]): Purpose {
  return counted.includes("probe") ? "probe" : (counted[0] ?? "probe");
}

/** Every purpose, and which of them the goal does not count. */
export function purposeOptions(counted: readonly Purpose[]): [Purpose, string][] {
  return purposes.map((purpose) => [
    purpose,
    counted.includes(purpose) ? purpose : `${purpose} (not counted)`,
  ]);
}
