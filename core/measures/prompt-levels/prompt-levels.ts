import type * as z from "zod/mini";
import type { Kind } from "../kind.ts";
import { creditedOf, isCredited, isMark } from "../ladder.ts";
import { refused, scored, type Scored, scoredShare } from "../score.ts";
import { wilsonPercent } from "../wilson-interval.ts";
import type { PromptLevelsMeasure, PromptLevelsEntry, observed } from "./schema.ts";

export type { PromptLevelsMeasure, PromptLevelsEntry } from "./schema.ts";

/** The misses that are opportunities: all of them unless the goal says otherwise. */
export const countedMisses = ({ countMisses, misses }: Pick<PromptLevelsMeasure, "countMisses" | "misses">) =>
  countMisses ?? misses;

/** How often a level or a miss was marked. */
export const countAt = (counts: Record<string, number>, key: string) =>
  Object.hasOwn(counts, key) ? (counts[key] ?? 0) : 0;

/**
 * Scores counts at each prompt level: 100 · opportunities at levels from the first through the credited one / all
 * opportunities, in percent. `detail.share` is the percentage at each level and counted miss, `detail.cumulative` the
 * percentage at or before each level.
 *
 * @param measure the ladder, least to most help; `countMisses` says which misses are opportunities
 * @param entry `{counts}`, whole numbers by level or miss; one that is absent is 0
 * @returns the score; its value is null where only misses that do not count were seen
 *
 * Source: percentage of opportunities at or before a prompt level, common practice; interval: Wilson (1927).
 *
 * @example 4 independent, 3 verbal, 2 visual, 1 incorrect, credited verbal: 70 percent, 40 independent, 90 with visual or less
 */
export function scorePromptLevels(
  measure: PromptLevelsMeasure,
  { counts }: z.infer<typeof observed>,
): Scored {
  const unknown = Object.keys(counts).find((key) => !isMark(measure, key));
  if (unknown !== undefined) return refused("counts", `“${unknown}” is no prompt level of this goal.`);
  const all = Object.values(counts).reduce((sum, count) => sum + count, 0);
  if (all === 0) return refused("counts", "There were no opportunities, so nothing is saved.");
  const counted = [...measure.levels, ...countedMisses(measure)];
  const denominator = counted.reduce((sum, key) => sum + countAt(counts, key), 0);
  if (denominator === 0)
    return scored(null, "percent", {
      detail: { share: {}, cumulative: {} },
      why: { value: "only misses that this goal does not count" },
    });
  const credited = measure.levels
    .filter((level) => isCredited(measure, level))
    .reduce((sum, level) => sum + countAt(counts, level), 0);
  let running = 0;
  const cumulative: Record<string, number> = {};
  for (const level of measure.levels) {
    running += countAt(counts, level);
    cumulative[level] = (100 * running) / denominator;
  }
  return scoredShare(credited, denominator, {
    interval95: wilsonPercent(credited, denominator),
    detail: {
      share: Object.fromEntries(counted.map((key) => [key, (100 * countAt(counts, key)) / denominator])),
      cumulative,
    },
  });
}

/** The levels marked on a recording panel, in order, as an entry. */
export function promptLevelsEntryFromMarks(marks: readonly string[]): PromptLevelsEntry {
  const counts: Record<string, number> = {};
  for (const mark of marks) counts[mark] = countAt(counts, mark) + 1;
  return { kind: "supports", counts, sequence: [...marks] };
}

/** Counts of opportunities at each level of a prompt ladder. */
export const promptLevels: Kind<PromptLevelsMeasure, PromptLevelsEntry> = {
  score: scorePromptLevels,
  problems: (_, { counts, sequence }) => {
    if (!sequence) return [];
    const again = promptLevelsEntryFromMarks(sequence).counts;
    const same = [...new Set([...Object.keys(counts), ...Object.keys(again)])].every(
      (key) => countAt(counts, key) === countAt(again, key),
    );
    return same ? [] : [{ field: "sequence", message: "The marks in order and the counts do not agree." }];
  },
  unit: () => "percent",
  line: (measure, { counts }, score, words) =>
    words.promptLevels(
      score,
      creditedOf(measure),
      [...measure.levels, ...measure.misses]
        .map((level) => ({ level, count: countAt(counts, level) }))
        .filter(({ count }) => count > 0),
    ),
};
