import { figure } from "../amounts.ts";
import { inDigits, plural } from "../numbers.ts";
import { countOf } from "./count-of.ts";

/** A value that is to be reached, or not to be passed, in the unit of its measure. */
export interface ThresholdArgs {
  value: number;
  direction: "increase" | "decrease";
  unit: string;
}

/** What is joined to a criterion: the figure beside the value, and what it is called. */
export interface JoinedArgs extends ThresholdArgs {
  figure: string;
  label: string;
}

export interface CriterionArgs extends ThresholdArgs {
  joined: readonly JoinedArgs[];
  window: { k: number; n: number };
  windowUnit: "session" | "day" | "week" | "month";
  settings: number | undefined;
  people: number | undefined;
  minimumOpportunities: number | undefined;
}

/** The threshold alone: "80%", "at most 10%", "at least 75 a minute". */
function threshold({ value, direction, unit }: ThresholdArgs): string {
  const shown = figure(value, unit);
  if (direction === "decrease") return value === 0 ? `no more than ${shown}` : `at most ${shown}`;
  return unit === "percent" ? shown : `at least ${shown}`;
}

const joined = (one: JoinedArgs) => `${threshold(one)} ${one.label}`;

function occasions({ window: { k, n }, windowUnit }: CriterionArgs): string {
  const preposition = windowUnit === "day" ? "on" : "in";
  if (n === 1) return `${preposition} one ${windowUnit}`;
  return k === n
    ? `${preposition} ${countOf(k, windowUnit)} in a row`
    : `${preposition} ${inDigits(k)} of ${inDigits(n)} ${windowUnit}s`;
}

/** A criterion in phrases without a full stop; English. */
export const criterionEn = {
  joined,
  /** "80% in 3 of 4 sessions", "at least 90 a minute and 95% accuracy in three sessions in a row" */
  criterion: (asked: CriterionArgs) => {
    const { settings, people, minimumOpportunities: least } = asked;
    return [
      `${threshold(asked)}${asked.joined.map((one) => ` and ${joined(one)}`).join("")} ${occasions(asked)}`,
      settings ? `in ${countOf(settings, "setting")}` : "",
      people ? `with ${countOf(people, "person", "people")}` : "",
      least ? `at least ${inDigits(least)} ${plural(least, "opportunity", "opportunities")} each` : "",
    ]
      .filter(Boolean)
      .join(", ");
  },
  /** "75% of 8 is 6 of 8", "80% of 8 takes 7 of 8" */
  countsNeeded: (args: {
    percent: number;
    direction: "increase" | "decrease";
    opportunities: number;
    needed: number;
    isExact: boolean;
  }) => {
    const of = `${figure(args.percent, "percent")} of ${inDigits(args.opportunities)}`;
    const takes = args.isExact ? "is" : args.direction === "increase" ? "takes" : "takes at most";
    return `${of} ${takes} ${inDigits(args.needed)} of ${inDigits(args.opportunities)}`;
  },
};

/** The criterion in one language. */
export type CriterionWords = typeof criterionEn;
