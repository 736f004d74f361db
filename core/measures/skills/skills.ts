import type * as z from "zod/mini";
import type { Kind } from "../kind.ts";
import { creditedOf, isCredited, isMark } from "../ladder.ts";
import { type Problem, type Scored, scored, scoredShare } from "../score.ts";
import type { SkillsMeasure, SkillsEntry, observed } from "./schema.ts";

export type { SkillsMeasure, SkillsEntry } from "./schema.ts";

/** The mark of a skill; none where it was not marked. */
export const markOfSkill = (marks: Record<string, string>, skill: string) =>
  Object.hasOwn(marks, skill) ? marks[skill] : undefined;

/**
 * Scores a grid of sub-skills: 100 · skills marked at or before the credited level / skills, in percent.
 *
 * @param measure the skills and the ladder; a miss (no response, refused) is never credited
 * @param entry `{marks}`, one level or miss for every skill
 * @returns the score; the problems where a skill is missing or a mark is none of the measure's; null and *not finished*
 *   where the entry says it was broken off
 *
 * Source: percentage of sub-skills at criterion, common practice. A grid is no sample of anything: no interval.
 */
export function scoreSkills(
  measure: SkillsMeasure,
  { marks, finished }: z.infer<typeof observed> & { finished?: boolean | undefined },
): Scored {
  const problems: Problem[] = [];
  for (const [skill, mark] of Object.entries(marks)) {
    if (!measure.skills.includes(skill))
      problems.push({ field: "marks", message: `“${skill}” is not one of this goal’s skills.` });
    else if (!isMark(measure, mark))
      problems.push({
        field: "marks",
        message: `“${mark}” is no prompt level of this goal.`,
      });
  }
  const missing = measure.skills.filter((skill) => markOfSkill(marks, skill) === undefined);
  const marked = measure.skills.length - missing.length;
  if (missing.length > 0 && (finished !== false || marked === 0))
    problems.push({
      field: "marks",
      message: marked === 0 ? "Nothing is marked yet." : `Not marked yet: ${missing.join(", ")}.`,
    });
  if (problems.length > 0) return { ok: false, problems };
  if (missing.length > 0)
    return scored(null, "percent", {
      detail: { marked, skills: measure.skills.length },
      why: { value: "not finished" },
    });
  const credited = measure.skills.filter((skill) => isCredited(measure, markOfSkill(marks, skill))).length;
  return scoredShare(credited, measure.skills.length);
}

/** A grid of sub-skills, each marked with one prompt level. */
export const skills: Kind<SkillsMeasure, SkillsEntry> = {
  score: scoreSkills,
  unit: () => "percent",
  line: (measure, { marks }, score, words) =>
    score.value === null
      ? words.skillsOpen(Object.keys(marks).length, measure.skills.length)
      : words.skills(score, creditedOf(measure)),
};
