import { type Purpose, purposes } from "#core/criteria/purposes.ts";

/** Every purpose, and which of them the goal does not count. */
export function purposeOptions(counted: readonly Purpose[]): [Purpose, string][] {
  return purposes.map((purpose) => [
    purpose,
    counted.includes(purpose) ? purpose : `${purpose} (not counted)`,
  ]);
}
