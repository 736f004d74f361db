import { interfaceFormats } from "./formats.ts";
import { counts, inDigits, percent, plural, points } from "./numbers.ts";

const noBreak = "\u00a0";

/** A number as shown: whole from ten on or where it is whole, else to one decimal. 2.44 → "2.4", 31.7 → "32". */
export function number(value: number): string {
  const rounded = Math.abs(value) >= 10 ? Math.round(value) : Math.round(value * 10) / 10;
  return interfaceFormats().number(rounded === 0 ? 0 : rounded);
}

/** A length of time: 45 → "45 s", 250 → "4 min 10 s", 3900 → "1 h 5 min". */
export function lengthOfTime(seconds: number): string {
  if (seconds < 10 && !Number.isInteger(seconds)) return `${number(seconds)}${noBreak}s`;
  const whole = Math.round(seconds);
  const [hours, minutes, rest] = [Math.floor(whole / 3600), Math.floor((whole % 3600) / 60), whole % 60];
  const parts =
    hours > 0
      ? [`${hours} h`, minutes > 0 ? `${minutes} min` : ""]
      : [minutes > 0 ? `${minutes} min` : "", rest > 0 || minutes === 0 ? `${rest} s` : ""];
  return parts.filter(Boolean).join(" ").replaceAll(" ", noBreak);
}

/** A figure in the unit of its measure: "70%", "4 times", "2.4 a minute", "4 min 10 s", "25 minutes". */
export function figure(value: number, unit: string): string {
  if (unit === "percent") return percent(value);
  if (unit === "seconds") return lengthOfTime(value);
  const said =
    unit === "count" ? plural(value, "time") : unit.replace(/^per hour/, "an hour").replace(/^per /, "a ");
  return `${number(value)} ${said}`.replaceAll(" ", noBreak);
}

/** A value as rounded as it is shown, so that a difference of two shown values is what a reader computes. */
export function shownValue(value: number, unit: string): number {
  const isFine =
    unit === "seconds" ? value < 10 && !Number.isInteger(value) : unit !== "percent" && Math.abs(value) < 10;
  return isFine ? Math.round(10 * value) / 10 : Math.round(value);
}

/** The same for a place where the unit is already plain: "70", "4 min 10 s". */
export function plainFigure(value: number, unit: string): string {
  return unit === "seconds"
    ? lengthOfTime(value)
    : unit === "percent"
      ? inDigits(Math.round(value))
      : number(value);
}

/** The size of a change, without its direction: "5½ points", "4 s", "25 minutes", of a count or rate "1.2"; null where it rounds to nothing. */
export function slopeSize(change: number, unit: string): string | null {
  if (unit === "percent") {
    const size = points(change);
    return size === "0" ? null : `${size} ${size === "½" || size === "1" ? "point" : "points"}`;
  }
  if (number(change) === "0") return null;
  return unit === "count" || unit.startsWith("per ") ? number(change) : figure(change, unit);
}

/** A change a week as a bare number, with a real minus: 2.71 → "2.7", −0.4 → "−0.4"; of seconds as a length of time. */
export function slopeNumber(change: number, unit: string): string {
  const size = unit === "seconds" ? lengthOfTime(Math.abs(change)) : number(Math.abs(change));
  return change < 0 && size !== "0" ? `−${size}` : size;
}

/** What a change is counted in: "points", of a length of time or a count nothing. */
export const slopeUnit = (unit: string): string => (unit === "percent" ? "points" : "");

/** A score as shown in a list: "70 % (7 of 10)", "4 min 10 s"; a figure the entry does not yield is not scored. */
export function scoreWords({
  value,
  unit,
  numerator,
  denominator,
}: {
  value: number | null;
  unit: string;
  numerator: number | null;
  denominator: number | null;
}): string {
  if (value === null) return "not scored";
  const said = figure(value, unit);
  return numerator === null || denominator === null ? said : `${said} (${counts(numerator, denominator)})`;
}
