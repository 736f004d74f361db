import { thresholdWords } from "../criteria/criterion-words.ts";
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
 * One session on the due date, in words: the middle, the 80 % prediction interval, and the chance that it meets the criterion.
 * Nothing is said with too few points, where middle or interval leave the measure's range, or where the due date lies further
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
  if (dueOn < today) return { hidden: "The due date is past." };
  const phase = phases.find((one) => one.phase === currentPhase);
  if (!projection || !phase || to === null)
    return { hidden: "An outlook needs six points on three days in this phase." };
  const { mean, low80, high80, probability } = projection;
  if (low80 === null || high80 === null)
    return { hidden: "Every point lies on one line: how far a session may fall from it cannot be told." };
  if (dayNumber(dueOn) - dayNumber(phase.to) > dayNumber(phase.to) - dayNumber(phase.from))
    return { hidden: "The due date lies further ahead than the points of this phase reach back." };
  const [low, high] = rangeOf(unit);
  if (low80 < low || high80 > high)
    return {
      hidden: "The line leads out of what the measure can be by the due date: it tells nothing of it.",
    };
  const chance =
    probability === null || criterion === null
      ? ""
      : `; the chance that it meets ${thresholdWords(criterion, unit)} is ${chanceWords(probability)}`;
  return {
    words: `If it goes on like this, one session on ${dateWithYear(dueOn)} would fall at about ${figure(mean, unit)}, in 8 of 10 cases between ${plainFigure(low80, unit)} and ${figure(high80, unit)}${chance}.`,
  };
}

/** A chance is never none and never certain. */
function chanceWords(probability: number): string {
  if (probability < 0.01) return `below ${percent(1)}`;
  return probability > 0.99 ? `above ${percent(99)}` : percent(100 * probability);
}
