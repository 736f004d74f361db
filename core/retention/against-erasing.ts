/** What stands against erasing a student's record now. */
export type AgainstErasing = "still at the school" | "on hold" | "request open" | "planned already";

/**
 * Why a student's record cannot be erased now: nothing is erased of a student who is at the school, during a hold, or while somebody asks by
 * right to inspect, amend or erase it. 34 CFR 99.10(e) forbids it during a request to inspect.
 *
 * @param leftOn the day the student left; null where they are at the school
 * @returns every reason; empty where it may be planned
 */
export function againstErasing(
  {
    leftOn,
    holds,
    openRequests,
    isPlanned,
  }: { leftOn: string | null; holds: number; openRequests: number; isPlanned: boolean },
  today: string,
): AgainstErasing[] {
  const reasons: [AgainstErasing, boolean][] = [
    ["still at the school", leftOn === null || leftOn > today],
    ["on hold", holds > 0],
    ["request open", openRequests > 0],
    ["planned already", isPlanned],
  ];
  return reasons.flatMap(([reason, holds]) => (holds ? reason : []));
}

/** An erasing is done so many days after it is planned at the soonest: until then it can be cancelled. */
export const daysToCancel = 7;
