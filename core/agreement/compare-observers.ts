import type { Measure } from "../measures/measure.ts";
import { fixed, percent, plural } from "../words/numbers.ts";
import { agreementFigures, agreementWords, leadingFigure } from "./agreement-figures.ts";
import { type Account, matchObservers, type MatchedUnits } from "./match-observers.ts";
import type { Agreement } from "./ratio.ts";

/** Two observers compared: the figure said first, all figures, and every unit they were compared by. */
export interface ObserverComparison {
  /** "92% trial by trial", or why there is none. */
  said: string;
  /** Percent; null where there is none. */
  value: number | null;
  units: number;
  figures: { name: string; words: string; shown: string }[];
  rows: { unit: string; first: string; second: string; agree: boolean }[];
}

/** A percentage whole, kappa to two places; a reason where there is none. */
function shown(name: string, { value, why }: Agreement): string {
  if (value === null) return why ? `none: ${why}` : "none";
  return name === "kappa" ? fixed(value, 2).replace("-", "−") : percent(value);
}

const trialMarks: Record<string, string> = { "1": "correct", "0": "missed" };
const intervalMarks: Record<string, string> = { "1": "seen", "0": "not seen" };

function rowsOf(matched: MatchedUnits, measure: Measure): ObserverComparison["rows"] {
  const called = measure.kind === "rubric" ? measure.criteria : [];
  const nameOf = (unit: string) => called.find(({ id }) => id === unit)?.label ?? unit;
  switch (matched.kind) {
    case "trial":
      return matched.pairs.map(([first, second], index) => ({
        unit: nameOf(matched.units?.[index] ?? String(index + 1)),
        first: (measure.kind === "trials" ? trialMarks[first] : null) ?? first,
        second: (measure.kind === "trials" ? trialMarks[second] : null) ?? second,
        agree: first === second,
      }));
    case "interval":
      return matched.pairs.map(([first, second], index) => ({
        unit: String(index + 1),
        first: intervalMarks[first] ?? first,
        second: intervalMarks[second] ?? second,
        agree: first === second,
      }));
    case "count":
      return matched.pairs.map(([first, second], index) => ({
        unit: matched.windowSeconds === null ? "in all" : windowWords(index, matched.windowSeconds),
        first: String(first),
        second: String(second),
        agree: first === second,
      }));
    case "duration":
      return matched.pairs.map(([first, second], index) => ({
        unit: String(index + 1),
        first: `${Math.round(first)} s`,
        second: `${Math.round(second)} s`,
        agree: Math.round(first) === Math.round(second),
      }));
  }
}

/** "from 2:10" of the observation. */
function windowWords(index: number, seconds: number): string {
  const from = index * seconds;
  return `from ${Math.floor(from / 60)}:${String(from % 60).padStart(2, "0")}`;
}

/**
 * What two observers of one goal at one time agree on, in the figures of `figures agreement`.
 *
 * @returns null where the two recorded different measures
 *
 * @example compareObservers({ kind: "trials" }, first, second)?.said // "75% trial by trial, 4 trials"
 */
export function compareObservers(
  measure: Measure,
  first: Account,
  second: Account,
): ObserverComparison | null {
  const matched = matchObservers(measure, first, second);
  if (matched === null) return null;
  const figures = agreementFigures(matched);
  const leading = leadingFigure(matched);
  const lead = figures[leading] ?? { value: null };
  const units = matched.pairs.length;
  return {
    said:
      lead.value === null
        ? `no figure yet${lead.why ? `: ${lead.why}` : ""}`
        : `${percent(lead.value)} ${agreementWords(leading)}, ${units} ${plural(units, "unit")}`,
    value: lead.value,
    units,
    figures: Object.entries(figures).map(([name, figure]) => ({
      name,
      words: agreementWords(name),
      shown: shown(name, figure),
    })),
    rows: rowsOf(matched, measure),
  };
}
