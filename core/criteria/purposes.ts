/** What an entry was taken for. */
export const purposes = ["probe", "teaching", "generalisation", "maintenance"] as const;
export type Purpose = (typeof purposes)[number];

/** What an entry of a goal is for unless one says otherwise: a probe, where probes count. */
export function usualPurpose(counted: readonly Purpose[]): Purpose {
  return counted.includes("probe") ? "probe" : (counted[0] ?? "probe");
}
