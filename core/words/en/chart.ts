import { lengthOfTime, plainFigure } from "../amounts.ts";
import { ticksEn } from "./ticks.ts";
import { capitalise } from "../numbers.ts";
import { type CreditedArgs, creditedHelp } from "./credited.ts";

type PerArgs = "session" | "day" | "week" | "month" | "minute" | "hour";

const times = { total: "Total time", mean: "Mean time", longest: "Longest time" };

/** What is written in a chart and beside it, in phrases without a full stop; English. */
export const chartEn = {
  percentCorrect: () => "Percent correct",
  percentCredited: (credited: CreditedArgs) => `Percent ${creditedHelp(credited)}`,
  percentSkills: () => "Percent of skills",
  percentKnown: () => "Percent known",
  percentSteps: () => "Percent of steps",
  /** "Call-outs per day" */
  counted: (counted: string | undefined, per: PerArgs) => `${capitalise(counted || "times")} per ${per}`,
  percentOfTime: () => "Percent of the time",
  time: (report: keyof typeof times, per: PerArgs) => `${times[report]} per ${per}`,
  percentWithin: (seconds: number) => `Percent within ${lengthOfTime(seconds)}`,
  delay: (report: "median" | "mean") => `${capitalise(report)} delay`,
  percentIntervals: () => "Percent of intervals",
  fluency: (counted: string) => `${capitalise(counted)} correct per minute`,
  percentRubric: () => "Percent of rubric points",
  credit: () => "Credit, in percent",
  total: (unit: string, period: "week" | "month" | undefined) =>
    `Total ${unit}${period ? ` in the ${period}` : ""}`,
  criterion: (value: number, unit: string) => `criterion ${plainFigure(value, unit)}`,
  aimLine: () => "aim line",
  trend: () => "trend",
  ticks: ticksEn,
  legendMeasured: () => "filled point: measured",
  legendBaseline: () => "open point: baseline",
  legendNotCounted: () => "small gray point: not counted toward the criterion",
  legendNoFigure: () => "triangle: no figure",
  legendTrend: () => "solid line: trend",
  legendAim: () => "dashed line: aim line",
  legendCriterion: () => "dotted line: criterion",
  legendOthers: (labels: readonly string[]) => `thin dashed line: ${labels.join(", ")}`,
  legendShapes: (labels: readonly string[]) => `shapes: ${labels.join(", ")}`,
};

/** A chart in one language. */
export type ChartWords = typeof chartEn;
