import type { Direction } from "../measures/direction-schema.ts";
import { number, slopeNumber, slopeSize, slopeUnit } from "../words/amounts.ts";
import { fewestForTrend, hasDirection, type Slope } from "./trend.ts";

export type PaceKey = "enough" | "not-enough" | "unclear" | "too-early" | "none";

export interface Pace {
  key: PaceKey;
  /** What is needed from here to the due date, in the unit a week; raw, so negative where the criterion lies lower. */
  neededPerWeek: number | null;
  words: string | null;
  /** Do the words tell the gain a week too, so that the trend need not be told beside them? */
  tellsGain: boolean;
}

export interface PaceFacts {
  slope: Slope | null;
  nInPhase: number;
  /** From the first to the last point of the phase. */
  phaseDays: number;
  /** The median of the last three points; null without a point. */
  recentLevel: number | null;
}

/** Three weeks in the phase: sooner neither pace nor advice is told. */
export const fewestDays = 21;

/**
 * Whether the gain a week so far is enough to reach the criterion by the due date. Needed is (criterion − median of the last three points)
 * / weeks to the due date. Enough where the whole 95% interval of the slope is at or above it, not enough where all of it is below, else
 * not clear yet; told from five points over three weeks.
 *
 * @param weeks school weeks from today to the due date; 0 or less where it is past
 *
 * Source: the rate needed is arithmetic; whether progress is sufficient is what most districts' progress reports ask (common practice;
 * 34 CFR 300.320(a)(3) asks for periodic reports).
 */
export function paceOf(
  { slope, nInPhase, phaseDays, recentLevel }: PaceFacts,
  {
    criterion,
    direction,
    weeks,
    unit,
  }: { criterion: number | null; direction: Direction; weeks: number | null; unit: string },
): Pace {
  if (criterion === null || weeks === null || weeks <= 0 || recentLevel === null)
    return { key: "none", neededPerWeek: null, words: null, tellsGain: false };
  const neededPerWeek = (criterion - recentLevel) / weeks;
  if (nInPhase < fewestForTrend || phaseDays < fewestDays || slope === null)
    return {
      key: "too-early",
      neededPerWeek,
      words: tooEarlyWords(neededPerWeek, direction, unit),
      tellsGain: false,
    };
  const sign = direction === "increase" ? 1 : -1;
  const ends = [slope.low ?? slope.perWeek, slope.high ?? slope.perWeek].map((end) => sign * end);
  const [low, high] = [Math.min(...ends), Math.max(...ends)];
  const needed = sign * neededPerWeek;
  const key = low >= needed ? "enough" : high < needed ? "not-enough" : "unclear";
  const said = hasDirection(slope)
    ? words(key, { gain: sign * slope.perWeek, low, high, needed, direction, unit })
    : `${needed <= 0 ? "The last points are at the criterion already" : `The goal needs ${slopeSize(needed, unit) ?? number(needed)} a week from here`}. ${verdicts[key]}`;
  return { key, neededPerWeek, words: said, tellsGain: hasDirection(slope) };
}

function tooEarlyWords(neededPerWeek: number, direction: Direction, unit: string): string {
  const needed = direction === "increase" ? neededPerWeek : -neededPerWeek;
  return needed <= 0
    ? "The last points are at the criterion already. It is too early to tell the pace."
    : `The goal needs ${slopeSize(needed, unit) ?? number(needed)} a week from here. It is too early to tell the pace.`;
}

const verdicts = {
  enough: "The pace is enough.",
  "not-enough": "The pace is not enough.",
  unclear: "It is not clear yet whether the pace is enough.",
};

function words(
  key: keyof typeof verdicts,
  {
    gain,
    low,
    high,
    needed,
    direction,
    unit,
  }: { gain: number; low: number; high: number; needed: number; direction: Direction; unit: string },
): string {
  const size = slopeSize(Math.abs(gain), unit) ?? `${number(Math.abs(gain))} ${slopeUnit(unit)}`.trimEnd();
  const [better, worse] = direction === "increase" ? ["Gaining", "Losing"] : ["Coming down", "Going up"];
  const rate = `${gain > 0 ? better : worse} about ${size} a week`;
  // Towards the criterion is written without a sign, away from it with a minus.
  const turned = gain >= 0 ? [low, high] : [-high, -low];
  const interval = ` (${turned.map((end) => slopeNumber(end, unit)).join(" to ")})`;
  const rest =
    needed <= 0
      ? "the last points are at the criterion already"
      : `the goal needs ${slopeNumber(needed, unit)}`;
  return `${rate}${interval}; ${rest}. ${verdicts[key]}`;
}
