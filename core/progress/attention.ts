import type { Criterion } from "../criteria/criterion.ts";
import type { GoalSummary } from "./goal-figures.ts";
import type { StandingKey } from "./standing.ts";

/** Why a goal asks to be looked at, the most pressing first. */
export const attentionReasons = [
  "behind the line",
  "criterion reached, to be confirmed",
  "reached and lost again",
  "not measured for two school weeks",
  "due today",
  "too few points",
] as const;
export type AttentionReason = (typeof attentionReasons)[number];

/**
 * Why a goal asks to be looked at; null where it goes its way.
 *
 * @param facts the kept facts of the goal, null before its first entry
 * @param quiet no entry for two school weeks
 *
 * Source: ours.
 */
export function attentionOf({
  key,
  facts,
  criterion,
  metOn,
  quiet,
  dueToday,
}: {
  key: StandingKey | null;
  facts: Pick<GoalSummary, "mastery"> | null;
  criterion: Criterion | null;
  metOn: string | null;
  quiet: boolean;
  dueToday: boolean;
}): AttentionReason | null {
  if (key === "behind") return "behind the line";
  const mastery = criterion === null ? null : (facts?.mastery ?? null);
  if (mastery?.met) {
    const isHeld = mastery.inWindow >= mastery.needed;
    if (isHeld && metOn === null) return "criterion reached, to be confirmed";
    if (!isHeld) return "reached and lost again";
  }
  if (key === "met") return null;
  if (quiet) return "not measured for two school weeks";
  if (dueToday) return "due today";
  return key === "too-few" ? "too few points" : null;
}

/** The rank of a reason: smaller is more pressing; no reason ranks last. */
export const attentionRank = (reason: AttentionReason | null): number =>
  reason === null ? attentionReasons.length : attentionReasons.indexOf(reason);
