import { plainFigure } from "../words/amounts.ts";
import { chartEn, type ChartWords } from "../words/en/chart.ts";
import { aimLabelPlace, type ProgressChart } from "./chart.ts";
import type { PlacedLabel } from "./label-places.ts";

/** A word in a chart and the line it names. */
export interface WordBeside extends PlacedLabel {
  text: string;
  tone: "ink" | "data" | "aim" | "other";
  weight: 400 | 700;
}

const letterWidth = 6.2;
/** On a narrow chart the word of the criterion stands within it, above its line. */
const withinLine = -5;

/** The room on the left of a chart 800 pixels wide: for the title of the axis and its labels. */
export const leftRoom = (unit: string): number => (unit === "seconds" ? 64 : 50);

/**
 * The words beside the lines of a chart, the most important first: the last figure, the criterion, the aim line, other lines. `placeLabels` keeps them
 * apart.
 *
 * @param x the place of a day, like `y`, that of a value, in pixels
 * @param widthOf a text in pixels, bold or not; a fair guess where it cannot be measured
 */
export function wordsBeside(
  chart: ProgressChart,
  {
    x,
    y,
    rightEdge,
    isShown,
    isNarrow = false,
    widthOf = (text) => text.length * letterWidth,
  }: {
    x: (day: number) => number;
    y: (value: number) => number;
    rightEdge: number;
    isShown: (day: number) => boolean;
    isNarrow?: boolean;
    widthOf?: (text: string, weight: WordBeside["weight"]) => number;
  },
  says: ChartWords = chartEn,
): WordBeside[] {
  const word = (
    text: string,
    tone: WordBeside["tone"],
    [left, baseline]: readonly [number, number],
    weight: WordBeside["weight"] = 400,
  ): WordBeside => ({ ...{ text, tone, left, baseline, weight }, width: widthOf(text, weight) });
  const words: WordBeside[] = [];
  const last = chart.runs.at(-1)?.at(-1);
  if (last && isShown(last.day))
    words.push(word(plainFigure(last.value, chart.unit), "data", [x(last.day) + 10, y(last.value) + 4], 700));
  if (chart.criterion !== null) {
    const text = says.criterion(chart.criterion, chart.unit);
    const at = y(chart.criterion);
    words.push(
      word(
        text,
        "ink",
        isNarrow ? [rightEdge - widthOf(text, 400), at + withinLine] : [rightEdge + 7, at + 4],
      ),
    );
  }
  const aim = aimLabelPlace(chart);
  if (aim && isShown(aim[0])) words.push(word(says.aimLine(), "aim", [x(aim[0]), y(aim[1]) + 18]));
  for (const { label, runs } of chart.others) {
    const end = runs.flat().findLast(({ day }) => isShown(day));
    if (end) words.push(word(label, "other", [x(end.day) + 8, y(end.value) + 4]));
  }
  return words;
}
