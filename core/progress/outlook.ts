import type { Criterion } from "../criteria/criterion.ts";
import { type ProgressWords, progressEn } from "../words/en/progress.ts";
import { dayNumber } from "../dates/day-number.ts";
import type { FullFigures } from "./full-figures.ts";

/** Projects one session on the due date, or says why it cannot. For the team only. */
export type Outlook = { words: string } | { hidden: string };

/** What a measure can be: a percentage ends at 100, nothing falls below 0. */
const rangeOf = (unit: string): [low: number, high: number] => [0, unit === "percent" ? 100 : Infinity];

/**
 * One session on the due date, in words: the middle, the 80% prediction interval cut at the measure's ends, and the chance that it meets
 * the criterion. Nothing is said with too few points, where the middle itself leaves the measure's range, or where the due date lies further
 * ahead than the current phase reaches back.
 *
 * @param today the school's own date
 * @returns null without a due date
 */
export function outlookOf(
  { projection, phases, currentPhase, to }: FullFigures,
  {
    criterion,
    dueOn,
    unit,
    today,
  }: { criterion: Criterion | null; dueOn: string | null; unit: string; today: string },
  words: ProgressWords = progressEn,
): Outlook | null {
  if (dueOn === null) return null;
  if (dueOn < today) return { hidden: words.duePassed() };
  const phase = phases.find((one) => one.phase === currentPhase);
  if (!projection || !phase || to === null) return { hidden: words.tooFewToProject() };
  const { mean, low80, high80, probability } = projection;
  if (low80 === null || high80 === null) return { hidden: words.noSpread() };
  if (dayNumber(dueOn) - dayNumber(phase.to) > dayNumber(phase.to) - dayNumber(phase.from))
    return { hidden: words.tooEarlyToProject() };
  const [least, greatest] = rangeOf(unit);
  if (mean < least || mean > greatest)
    return { hidden: words.wouldPass(mean > greatest ? greatest : least, unit) };
  return {
    words: words.outlook({
      ...{ dueOn, mean, low: low80, high: high80, least, greatest, unit },
      chance:
        probability === null || criterion === null
          ? null
          : { probability, value: criterion.value, direction: criterion.direction },
    }),
  };
}
