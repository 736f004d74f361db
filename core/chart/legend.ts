import { chartEn, type ChartWords } from "../words/en/chart.ts";
import type { ProgressChart } from "./chart.ts";

/** What the marks of a chart stand for, in words: for a picture that leaves the page, where no pointer tells it. */
export function legendOf(chart: ProgressChart, words: ChartWords = chartEn): string[] {
  const points = chart.runs.flat();
  return [
    points.some(({ baseline, hollow }) => !baseline && !hollow) ? words.legendMeasured() : "",
    points.some(({ baseline }) => baseline) ? words.legendBaseline() : "",
    points.some(({ hollow }) => hollow) ? words.legendNotCounted() : "",
    chart.edges.length > 0 ? words.legendNoFigure() : "",
    chart.trends.length > 0 ? words.legendTrend() : "",
    chart.aim ? words.legendAim() : "",
    chart.criterion === null ? "" : words.legendCriterion(),
    chart.others.length > 0 ? words.legendOthers(chart.others.map(({ label }) => label)) : "",
    chart.shapes.length > 0 ? words.legendShapes(chart.shapes) : "",
  ].filter(Boolean);
}

/** Whose chart it is, of which goal, made when: the head of a picture or a file. */
export interface ChartHead {
  student: string;
  goal: string;
  on: string;
}

/** "W.A. · 2 Calling out · Nov 29, 2026" */
export const headWords = ({ student, goal, on }: ChartHead): string => [student, goal, on].join(" · ");

/**
 * The name of a goal's files: initials, the end of the student's id and the goal's number, so that no two goals of a school share one.
 *
 * @example "WA-3f2a-goal-2"
 */
export function goalFileName(
  { initials, studentId }: { initials: string; studentId: string },
  number: string,
): string {
  const plain = (text: string) => text.replace(/[^\p{L}\p{N}]+/gu, "-").replace(/^-|-$/g, "");
  return [initials.replaceAll(".", ""), studentId.slice(-4), "goal", number]
    .map(plain)
    .filter(Boolean)
    .join("-");
}
