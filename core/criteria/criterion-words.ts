import { countWord, percent } from "../words/numbers.ts";
import type { Criterion } from "./criterion.ts";

/** A criterion as a short phrase: "80 % in 3 of 4 sessions", "at most 10 % on 3 consecutive days". */
export function criterionWords(criterion: Criterion): string {
  const { window, windowUnit, direction, minimumOpportunities } = criterion;
  const threshold = `${direction === "decrease" ? "at most " : ""}${percent(criterion.value)}`;
  const preposition = windowUnit === "day" ? "on" : "in";
  const occasions =
    window.n === 1
      ? `${preposition} one ${windowUnit}`
      : window.k === window.n
        ? `${preposition} ${countWord(window.k)} ${windowUnit}s in a row`
        : `${preposition} ${window.k} of ${window.n} ${windowUnit}s`;
  return `${threshold} ${occasions}${minimumOpportunities ? `, at least ${minimumOpportunities} opportunities each` : ""}`;
}
