import { number } from "../amounts.ts";
import { dateWithYear, monthDay, shortDateWithYear } from "../dates.ts";
import { capitalise, countsWithPercent, inDigits, percent, plural } from "../numbers.ts";
import { listed } from "../lists.ts";

/** How often two adults who rated the same day chose the same level. */
export interface AgreementArgs {
  days: number;
  compared: number;
  same: number;
  near: number;
}

const share = (numerator: number, denominator: number) => (100 * numerator) / denominator;

/** What a report says of jots and of several raters; English. Names of categories, levels and captions are arguments. */
export const jotsEn = {
  section: () => "Jots",
  noCategory: () => "Without a category",
  /** "Work habits: with a reminder." */
  line: (category: string | null, level: string | null, own: boolean) =>
    `${category ?? "Jot"}${own ? ", rated by the student" : ""}${level ? `: ${level}` : ""}.`,
  picture: (caption: string) => `Picture: ${caption}`,
  pictures: (n: number) => `${inDigits(n)} ${plural(n, "picture")}`,
  /** Of a picture that is not here yet. */
  onTheWay: (caption: string) => `Picture: ${caption} (still on the device that took it)`,
  /** "On their own 3, with a reminder 5." */
  counts: (levels: readonly { label: string; n: number }[]) =>
    `${capitalise(listed(levels.map(({ label, n }) => `${label} (${inDigits(n)})`)))}.`,
  written: (n: number) => `${inDigits(n)} ${plural(n, "jot")} in this span.`,
  latest: () => "Latest",
  levels: (category: string) => `${category}: levels over time`,
  /** A drawing in words. */
  drawn: (category: string, points: readonly { on: string; level: string }[]) =>
    `${category}: ${points.map(({ on, level }) => `${dateWithYear(on)}, ${level}`).join("; ")}.`,
  tick: (on: string) => monthDay(on),
  legend: (own: boolean) =>
    `Dot: an adult’s rating${own ? "; open diamond: the student’s own" : ""}. The line steps through the mean of each day’s ratings by adults.`,
  raters: () => "Raters",
  ownRating: () => "The student’s own rating",
  rater: (place: number) => `Rater ${inDigits(place)}`,
  /** @param mean a place among levels, or a percentage */
  raterMean: (n: number, mean: number, scale: "levels" | "percent") =>
    `${inDigits(n)} ${plural(n, "day")}, mean ${scale === "percent" ? percent(mean) : number(mean)}`,
  day: (on: string) => shortDateWithYear(on),
  agreement: ({ days, compared, same, near }: AgreementArgs) =>
    `On ${inDigits(days)} ${plural(days, "day")} rated by more than one adult: the same level in ${countsWithPercent({ value: share(same, compared), numerator: same, denominator: compared }, plural(compared, "comparison"))}, at most one level apart in ${countsWithPercent({ value: share(near, compared), numerator: near, denominator: compared }, plural(compared, "comparison"))}.`,
  noAgreement: () => "No day was rated by more than one adult, so agreement is not known.",
  adultsMean: (mean: number, scale: "levels" | "percent", of: number) =>
    scale === "percent"
      ? `Mean of the adults: ${percent(mean)}.`
      : `Mean of the adults: ${number(mean)} on levels 1 to ${inDigits(of)}.`,
};

/** What a report says of jots, in one language. */
export type JotWords = typeof jotsEn;
