import { creditedOf } from "../measures/ladder.ts";
import type { Measure } from "../measures/measure.ts";
import { slopeSize } from "../words/amounts.ts";
import { changesEn, type ChangesWords } from "../words/en/changes.ts";
import { dayNumber } from "../dates/day-number.ts";
import type { GoalPoint } from "./points.ts";
import { theilSen } from "./theil-sen.ts";

/** Points a week. */
const flatBelow = 1;

/**
 * Says it where independence grows while the figure of the goal stays flat: the share at the first level (no help) rises, its 95%
 * interval above 0, and the trend of the credited share is below a point a week and cannot be told from level.
 *
 * @param points of the current phase, in date order
 * @returns null where it is not so, or the measure has no levels
 *
 * Source: ours, from the Theil–Sen intervals of both.
 */
export function independenceSentence(
  measure: Measure,
  points: readonly GoalPoint[],
  words: ChangesWords = changesEn,
): string | null {
  if (measure.kind !== "supports") return null;
  const [first, credited] = [measure.levels[0], measure.credited];
  if (first === undefined || first === credited) return null;
  const alone = points.flatMap(({ date, entry }) => {
    const share = (entry.detail?.["share"] as Record<string, number> | undefined)?.[first];
    return share === undefined ? [] : [{ x: dayNumber(date), y: share }];
  });
  const own = theilSen(alone);
  const whole = theilSen(points.map(({ date, value }) => ({ x: dayNumber(date), y: value })));
  if (!own || !whole || own.low === null || whole.low === null || whole.high === null) return null;
  const isFlat = whole.low <= 0 && whole.high >= 0 && Math.abs(7 * whole.slope) < flatBelow;
  if (own.low <= 0 || !isFlat || slopeSize(7 * own.slope, "percent") === null) return null;
  return words.independence(first, 7 * own.slope, creditedOf(measure));
}
