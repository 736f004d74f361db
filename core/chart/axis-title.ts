import { creditedOf } from "../measures/ladder.ts";
import type { Measure } from "../measures/measure-schema.ts";
import type { PointUnit } from "../progress/points.ts";
import { chartEn, type ChartWords } from "../words/en/chart.ts";

/** What the upright axis of a goal's chart shows, with its unit: "Percent correct", "Call-outs per day", "Words correct per minute". */
export function axisTitle(measure: Measure, per: PointUnit, words: ChartWords = chartEn): string {
  switch (measure.kind) {
    case "trials":
      return words.percentCorrect();
    case "supports":
      return words.percentCredited(creditedOf(measure));
    case "skills":
      return words.percentSkills();
    case "checklist":
      return words.percentKnown();
    case "steps":
      return words.percentSteps();
    case "count":
      return words.counted(measure.counted, measure.per === "observation" ? per : measure.per);
    case "duration":
      return measure.report === "share" ? words.percentOfTime() : words.time(measure.report, per);
    case "latency":
      return measure.report === "within"
        ? words.percentWithin(measure.withinSeconds ?? 0)
        : words.delay(measure.report);
    case "intervals":
      return words.percentIntervals();
    case "fluency":
      return words.fluency(measure.counted ?? "words");
    case "rubric":
      return words.percentRubric();
    case "outcomes":
      return words.credit();
    case "running-total":
      return words.total(measure.unit, measure.startsAgain);
  }
}
