import { detailsOf } from "../measures/details-of.ts";
import { type Measure, unitOf } from "../measures/measure.ts";
import type { Direction } from "../measures/direction-schema.ts";
import { criterionEn, type CriterionWords, type JoinedArgs } from "../words/en/criterion.ts";
import type { Criterion } from "./criterion.ts";

/** What is joined to a criterion, with the unit and the name that its measure gives it. */
function joinedArgs({ joined = [] }: Pick<Criterion, "joined">, measure: Measure): JoinedArgs[] {
  const side = detailsOf(measure).sideFigures(measure);
  return joined.map((one) => {
    const known = side.find(({ figure }) => figure === one.figure);
    return { ...one, unit: known?.unit ?? "", label: known?.label ?? one.figure };
  });
}

/** What is joined to a criterion, each in words: "95% accuracy". */
export const joinedWords = (
  criterion: Pick<Criterion, "joined">,
  measure: Measure,
  words: CriterionWords = criterionEn,
): string[] => joinedArgs(criterion, measure).map(words.joined);

/** A criterion as a short phrase: "80% in 3 of 4 sessions", "at least 90 a minute and 95% accuracy in three sessions in a row". */
export function criterionWords(
  criterion: Criterion,
  measure: Measure,
  words: CriterionWords = criterionEn,
): string {
  const { value, direction, window, windowUnit, settings, people, minimumOpportunities } = criterion;
  return words.criterion({
    ...{ value, direction, unit: unitOf(measure), joined: joinedArgs(criterion, measure) },
    ...{ window, windowUnit, settings, people, minimumOpportunities },
  });
}

/**
 * A percentage of so many opportunities as the count it takes: "75% of 8 is 6 of 8", "80% of 8 takes 7 of 8".
 *
 * @param percent from 0 to 100
 * @returns null where there is nothing to count
 *
 * Source: an accuracy is met by the first whole count at or above it, common practice.
 */
export function countsNeeded(
  percent: number,
  direction: Direction,
  opportunities: number,
  words: CriterionWords = criterionEn,
): string | null {
  if (!(opportunities >= 1) || !(percent >= 0 && percent <= 100)) return null;
  const exact = (percent * opportunities) / 100;
  const needed = direction === "increase" ? Math.ceil(exact - 1e-9) : Math.floor(exact + 1e-9);
  const isExact = Math.abs(needed - exact) < 1e-6;
  return words.countsNeeded({ percent, direction, opportunities, needed, isExact });
}
