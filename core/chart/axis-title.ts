import { creditedWords } from "../measures/ladder.ts";
import type { Measure } from "../measures/measure-schema.ts";
import type { PointUnit } from "../progress/points.ts";
import { lengthOfTime } from "../words/amounts.ts";
import { capitalise } from "../words/numbers.ts";

const ofTime = { total: "Total time", mean: "Mean time", longest: "Longest time" };

/** What the upright axis of a goal's chart shows, with its unit: "Percent correct", "Call-outs per day", "Words correct per minute". */
export function axisTitle(measure: Measure, per: PointUnit): string {
  switch (measure.kind) {
    case "trials":
      return "Percent correct";
    case "supports":
      return `Percent ${creditedWords(measure)}`;
    case "skills":
      return "Percent of skills";
    case "checklist":
      return "Percent known";
    case "steps":
      return "Percent of steps";
    case "count":
      return `${capitalise(measure.counted || "times")} per ${measure.per === "observation" ? per : measure.per}`;
    case "duration":
      return measure.report === "share" ? "Percent of the time" : `${ofTime[measure.report]} per ${per}`;
    case "latency":
      return measure.report === "within"
        ? `Percent within ${lengthOfTime(measure.withinSeconds ?? 0)}`
        : `${capitalise(measure.report)} delay`;
    case "intervals":
      return "Percent of intervals";
    case "fluency":
      return `${capitalise(measure.counted ?? "words")} correct per minute`;
    case "rubric":
      return "Percent of rubric points";
    case "outcomes":
      return "Credit, in percent";
    case "running-total":
      return `Total ${measure.unit}${measure.startsAgain ? ` in the ${measure.startsAgain}` : ""}`;
  }
}
