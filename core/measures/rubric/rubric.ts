import type * as z from "zod/mini";
import type { Kind } from "../kind.ts";
import { type Problem, type Scored, scoredShare } from "../score.ts";
import type { RubricMeasure, RubricEntry, observed } from "./schema.ts";

export type { RubricMeasure, RubricEntry } from "./schema.ts";

type RubricCriterion = RubricMeasure["criteria"][number];

/** What a criterion is called: its label, or its id where it never had another name. */
export function criterionName({ id, label }: RubricCriterion): string {
  return label ?? id;
}

/** What a level says in words, if the rubric has them: described from 0, or from 1 when there is one description a point. */
export function levelWords({ levels, max }: RubricCriterion, level: number): string | undefined {
  if (!levels) return undefined;
  return (levels.length > max ? levels[level] : levels[level - 1]) || undefined;
}

/** The level of a criterion; none where it was not rated. */
export const levelOf = (levels: Record<string, number>, id: string) =>
  Object.hasOwn(levels, id) ? levels[id] : undefined;

/**
 * Scores a rubric: 100 · sum of the levels / sum of the highest levels, in percent.
 *
 * @param entry `{levels}`, a whole level from 0 to its criterion's highest for every criterion
 *
 * Source: share of a rubric's points, common practice. A rubric is no sample of anything: no interval.
 */
export function scoreRubric({ criteria }: RubricMeasure, { levels }: z.infer<typeof observed>): Scored {
  const problems: Problem[] = [];
  const unknown = Object.keys(levels).find((id) => !criteria.some((criterion) => criterion.id === id));
  if (unknown !== undefined)
    problems.push({ field: "levels", message: `“${unknown}” is not one of this rubric’s criteria.` });
  for (const criterion of criteria) {
    const level = levelOf(levels, criterion.id);
    if (level === undefined)
      problems.push({ field: "levels", message: `“${criterionName(criterion)}” has no level yet.` });
    else if (level > criterion.max)
      problems.push({
        field: "levels",
        message: `“${criterionName(criterion)}” goes up to ${criterion.max}, not ${level}.`,
      });
  }
  if (problems.length > 0) return { ok: false, problems };
  const given = criteria.map(({ id }) => levelOf(levels, id) ?? 0);
  return scoredShare(
    given.reduce((sum, level) => sum + level, 0),
    criteria.reduce((sum, { max }) => sum + max, 0),
    { detail: { points: given.reduce((sum, level) => sum + level, 0), lowest: Math.min(...given) } },
  );
}

/** A rubric: criteria, each with levels in words. */
export const rubric: Kind<RubricMeasure, RubricEntry> = {
  score: scoreRubric,
  unit: () => "percent",
  line: (_, { rater }, score, words) => words.rubric(score, rater),
};
