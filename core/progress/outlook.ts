import type { Criterion } from "../criteria/criterion.ts";
import { figure, plainFigure } from "../words/amounts.ts";
import { dateWithYear } from "../words/dates.ts";
import { percent } from "../words/numbers.ts";
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
): Outlook | null {
  if (dueOn === null) return null;
  if (dueOn < today) return { hidden: "The due date has passed." };
  const phase = phases.find((one) => one.phase === currentPhase);
  if (!projection || !phase || to === null)
    return { hidden: "A projection needs six points on three days in this phase." };
  const { mean, low80, high80, probability } = projection;
  if (low80 === null || high80 === null)
    return { hidden: "All points are on one line, so no spread can be shown." };
  if (dayNumber(dueOn) - dayNumber(phase.to) > dayNumber(phase.to) - dayNumber(phase.from))
    return { hidden: "It is too early to project to the due date." };
  const [low, high] = rangeOf(unit);
  if (mean < low || mean > high)
    return {
      hidden: `The trend would pass ${figure(mean > high ? high : low, unit)}, so no projection is shown.`,
    };
  const chance =
    probability === null || criterion === null
      ? ""
      : `; the chance that it ${criterion.direction === "increase" ? "reaches" : "stays at or below"} ${figure(criterion.value, unit)} is ${chanceWords(probability)}`;
  return {
    words: `If this continues, one session on ${dateWithYear(dueOn)} would be at about ${figure(mean, unit)}${intervalWords([low80, high80], [low, high], unit)}${chance}.`,
  };
}

/** "between 66 and 83% in 8 of 10 cases"; where an end lies outside the measure's range, by the other end alone. */
function intervalWords(
  [from, to]: readonly [number, number],
  [low, high]: readonly [number, number],
  unit: string,
): string {
  if (from >= low && to <= high)
    return `, between ${plainFigure(from, unit)} and ${figure(to, unit)} in 8 of 10 cases`;
  if (from >= low) return `, above ${figure(from, unit)} in 9 of 10 cases`;
  return to <= high ? `, below ${figure(to, unit)} in 9 of 10 cases` : "";
}

/** A chance is never none and never certain. */
function chanceWords(probability: number): string {
  if (probability < 0.01) return `below ${percent(1)}`;
  return probability > 0.99 ? `above ${percent(99)}` : percent(100 * probability);
}
