import { figure } from "../amounts.ts";
import { dateWithYear, shortDate } from "../dates.ts";
import { inDigits, plural } from "../numbers.ts";

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

/** What is told of a chart where it is made, apart from what is drawn with it; English. */
export const chartTextEn = {
  baseline: () => "baseline",
  errors: () => "errors",
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
};

/** A chart in words, in one language. */
export type ChartTextWords = typeof chartTextEn;
