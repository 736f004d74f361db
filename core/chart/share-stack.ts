import { countedMisses, type PromptLevelsMeasure } from "../measures/prompt-levels/prompt-levels.ts";
import { dayNumber } from "../dates/day-number.ts";
import type { GoalPoint } from "../progress/points.ts";
import { shortDate } from "../words/dates.ts";
import { percent } from "../words/numbers.ts";

/** The share at each prompt level over time: a bar for each point, its parts from no help at the foot to the misses on top. */
export interface ShareStack {
  /** Levels from least to most help, then the misses that count. */
  names: string[];
  /** How many of the names are levels. */
  levels: number;
  bars: { day: number; page: string; label: string; parts: { from: number; to: number }[] }[];
}

/**
 * @param points of a goal measured by prompt levels, in date order
 * @returns null where no point has shares
 */
export function shareStack(measure: PromptLevelsMeasure, points: readonly GoalPoint[]): ShareStack | null {
  const names = [...measure.levels, ...countedMisses(measure)];
  const bars = points.flatMap(({ date, entry }) => {
    const share = entry.detail?.["share"] as Record<string, number> | undefined;
    if (!share) return [];
    let from = 0;
    const parts = names.map((name) => {
      const to = from + (share[name] ?? 0);
      const part = { from, to };
      from = to;
      return part;
    });
    const said = names.flatMap((name) => (share[name] ? [`${percent(share[name])} ${name}`] : []));
    return [
      {
        day: dayNumber(date),
        page: `entries/${entry.entryId}`,
        label: `${shortDate(date)}: ${said.join(", ")}`,
        parts,
      },
    ];
  });
  return bars.length === 0 ? null : { names, levels: measure.levels.length, bars };
}
