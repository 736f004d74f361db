import { interfaceFormats } from "./formats.ts";

const words = ["none", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"];

/** A count in a sentence: in words up to ten, in digits after. */
export function countWord(count: number): string {
  return words[count] ?? inDigits(count);
}

/** A count in digits: "7", "1,240". */
export const inDigits = (count: number): string => interfaceFormats().number(count);

/** The text with its first letter large. */
export function capitalise(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** The word for so many: `plural(2, "goal")` is "goals". */
export function plural(count: number, one: string, many = `${one}s`): string {
  return interfaceFormats().isOne(count) ? one : many;
}

/** "0.50": with so many places after the point. */
export const fixed = (value: number, places: number): string => interfaceFormats().fixed(value, places);

/** A percentage as shown, whole: 66.67 → "67%". */
export const percent = (value: number): string => interfaceFormats().percent(value);

/** Counts with the percentage they make: "7 of 10 correct (70%)". */
export function countsWithPercent(
  {
    value,
    numerator,
    denominator,
  }: { value: number | null; numerator: number | null; denominator: number | null },
  what: string,
): string {
  if (value === null) return "not scored";
  if (numerator === null || denominator === null) return percent(value);
  return `${counts(numerator, denominator)} ${what} (${percent(value)})`;
}

/** "7 of 10", with spaces that do not break. */
export function counts(numerator: number, denominator: number): string {
  return `${interfaceFormats().number(numerator)} of ${interfaceFormats().number(denominator)}`.replaceAll(
    " ",
    "\u00a0",
  );
}

/** A slope in points a week, to the half point while it is small: 5.4 → "5½", 0.2 → "0". */
export function points(value: number): string {
  const halves = Math.round(Math.abs(value) * 2);
  if (halves > 40) return inDigits(Math.round(Math.abs(value)));
  const whole = Math.floor(halves / 2);
  if (halves % 2 === 0) return String(whole);
  return whole === 0 ? "½" : `${whole}½`;
}
