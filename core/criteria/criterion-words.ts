import { kindOf, type Measure, unitOf } from "../measures/measure.ts";
import { figure } from "../words/amounts.ts";
import { countWord } from "../words/numbers.ts";
import type { Criterion } from "./criterion.ts";
import type { Direction } from "../measures/direction-schema.ts";

/** The threshold alone: "80%", "at most 10%", "at least 75 a minute". */
export function thresholdWords(
  { value, direction }: Pick<Criterion, "value" | "direction">,
  unit: string,
): string {
  const said = figure(value, unit);
  if (direction === "decrease") return value === 0 ? `no more than ${said}` : `at most ${said}`;
  return unit === "percent" ? said : `at least ${said}`;
}

function occasionWords({ window, windowUnit }: Pick<Criterion, "window" | "windowUnit">): string {
  const preposition = windowUnit === "day" ? "on" : "in";
  if (window.n === 1) return `${preposition} one ${windowUnit}`;
  return window.k === window.n
    ? `${preposition} ${countWord(window.k)} ${windowUnit}s in a row`
    : `${preposition} ${window.k} of ${window.n} ${windowUnit}s`;
}

/** What is joined to a criterion, each in words: "95% accuracy". */
export function joinedWords({ joined = [] }: Pick<Criterion, "joined">, measure: Measure): string[] {
  const side = kindOf(measure).sideFigures(measure);
  return joined.map((one) => {
    const known = side.find(({ figure }) => figure === one.figure);
    return `${thresholdWords(one, known?.unit ?? "")} ${known?.label ?? one.figure}`;
  });
}

/** A criterion as a short phrase: "80% in 3 of 4 sessions", "at least 90 a minute and 95% accuracy in three sessions in a row". */
export function criterionWords(criterion: Criterion, measure: Measure): string {
  const joined = joinedWords(criterion, measure).map((words) => ` and ${words}`);
  const { settings, people, minimumOpportunities } = criterion;
  return [
    `${thresholdWords(criterion, unitOf(measure))}${joined.join("")} ${occasionWords(criterion)}`,
    settings ? `in ${countWord(settings)} settings` : "",
    people ? `with ${countWord(people)} people` : "",
    minimumOpportunities ? `at least ${minimumOpportunities} opportunities each` : "",
  ]
    .filter(Boolean)
    .join(", ");
}

/**
 * A percentage of so many opportunities as the count it takes: "75% of 8 is 6 of 8", "80% of 8 takes 7 of 8".
 *
 * @param percent from 0 to 100
 * @returns null where there is nothing to count
 *
 * Source: an accuracy is met by the first whole count at or above it, common practice.
 */
export function countsNeeded(percent: number, direction: Direction, opportunities: number): string | null {
  if (!(opportunities >= 1) || !(percent >= 0 && percent <= 100)) return null;
  const exact = (percent * opportunities) / 100;
  const k = direction === "increase" ? Math.ceil(exact - 1e-9) : Math.floor(exact + 1e-9);
  const same = Math.abs(k - exact) < 1e-6;
  const said = `${figure(percent, "percent")} of ${opportunities}`;
  return same
    ? `${said} is ${k} of ${opportunities}`
    : `${said} takes ${direction === "increase" ? "" : "at most "}${k} of ${opportunities}`;
}
