import type { StandingKey } from "./standing.ts";

/** Why a goal asks to be looked at, the most pressing first. */
export const attentionReasons = [
  "behind the line",
  "criterion reached, not confirmed yet",
  "no longer met",
  "due date passed",
  "not measured for two school weeks",
  "due today",
  "too few points",
] as const;
export type AttentionReason = (typeof attentionReasons)[number];

const byStanding: Partial<Record<StandingKey, AttentionReason>> = {
  behind: "behind the line",
  reached: "criterion reached, not confirmed yet",
  lost: "no longer met",
  "past-due": "due date passed",
};

/**
 * Why a goal asks to be looked at; null where it goes its way.
 *
 * @param quiet no entry for two school weeks
 *
 * Source: ours.
 */
export function attentionOf({
  key,
  quiet,
  dueToday,
}: {
  key: StandingKey | null;
  quiet: boolean;
  dueToday: boolean;
}): AttentionReason | null {
  const said = key === null ? undefined : byStanding[key];
  if (said) return said;
  if (key === "met") return null;
  if (quiet) return "not measured for two school weeks";
  if (dueToday) return "due today";
  return key === "too-few" ? "too few points" : null;
}

/** The rank of a reason: smaller is more pressing; no reason ranks last. */
export const attentionRank = (reason: AttentionReason | null): number =>
  reason === null ? attentionReasons.length : attentionReasons.indexOf(reason);
