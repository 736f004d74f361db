import { figure, lengthOfTime, plainFigure } from "../amounts.ts";
import { dateWithYear, shortDate } from "../dates.ts";
import { ticksEn } from "./ticks.ts";
import { capitalise, inDigits, plural } from "../numbers.ts";
import { type CreditedArgs, creditedHelp } from "./credited.ts";

type PerArgs = "session" | "day" | "week" | "month" | "minute" | "hour";

const times = { total: "Total time", mean: "Mean time", longest: "Longest time" };

/** A chart for those who do not see it. Values are in `unit`, dates `YYYY-MM-DD`. */
export interface ChartDescriptionArgs {
  unit: string;
  /** Null where there is no point. */
  points: { n: number; from: string; to: string; lowest: number; highest: number; last: number } | null;
  notCounted: number;
  blank: number;
  criterion: number | null;
  aim: { from: number; to: number; on: string } | null;
  metOn: string | null;
}

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
  baseline: () => "baseline",
  errors: () => "errors",
  ticks: ticksEn,
  metOn: (on: string) => `Criterion reached on ${shortDate(on)}`,
  description: ({ unit, points, notCounted, blank, criterion, aim, metOn }: ChartDescriptionArgs) => {
    const says = (value: number) => figure(value, unit);
    return [
      points
        ? `${inDigits(points.n)} ${plural(points.n, "point")} from ${shortDate(points.from)} to ${shortDate(points.to)}, lowest ${says(points.lowest)}, highest ${says(points.highest)}, last ${says(points.last)}.`
        : "No points yet.",
      points && notCounted > 0
        ? `${inDigits(notCounted)} ${plural(notCounted, "is", "are")} not counted toward the criterion.`
        : "",
      points && blank > 0 ? `${inDigits(blank)} gave no figure.` : "",
      criterion === null ? "" : `The criterion is ${says(criterion)}.`,
      aim ? `The aim line runs from ${says(aim.from)} to ${says(aim.to)} on ${dateWithYear(aim.on)}.` : "",
      points && metOn ? `Criterion reached on ${shortDate(metOn)}.` : "",
    ]
      .filter(Boolean)
      .join(" ");
  },
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
