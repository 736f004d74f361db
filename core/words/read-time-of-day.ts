import { timeOfDay } from "./dates.ts";

/** When school may be: of two readings of "1:20" the one in it is meant. */
const schoolHours = ["06:30", "18:00"] as const;

/** A time of day as it was typed: one time, or two that it may mean, each `HH:MM`. */
export type ReadTime = { time: string } | { either: [morning: string, evening: string] };

const two = (part: number) => String(part).padStart(2, "0");

/**
 * Reads a time of day as people type it: "1:20 PM", "1:20pm", "1 p.m.", "13:20", "0910", "9.10 am", "1:20".
 *
 * Without AM or PM an hour from 13 on, "00" and an hour with a leading zero are as on a 24-hour clock; of any other the reading in
 * school hours is meant, and where both or neither are in them the two are given back.
 *
 * @returns null where the text is no time of day
 *
 * @example readTimeOfDay("1:20") // { time: "13:20" }
 */
export function readTimeOfDay(
  typed: string,
  [from, to]: readonly [from: string, to: string] = schoolHours,
): ReadTime | null {
  const text = typed.trim().toLowerCase();
  const found = /^(\d{1,2})(?:[:.h]?([0-5]\d))?\s?(?:([ap])\.?\s?m\.?)?$/.exec(text);
  if (!found) return null;
  const [, digits = "", minutes, half] = found;
  const hour = Number(digits);
  // A bare number is a time only with AM or PM.
  if (minutes === undefined && half === undefined) return null;
  const at = (hours: number) => `${two(hours)}:${minutes ?? "00"}`;
  if (half !== undefined)
    return hour < 1 || hour > 12 ? null : { time: at((hour % 12) + (half === "p" ? 12 : 0)) };
  if (hour > 23) return null;
  if (hour > 12 || digits.startsWith("0")) return { time: at(hour) };
  const [morning, evening] = [at(hour % 12), at((hour % 12) + 12)];
  const within = [morning, evening].filter((one) => from <= one && one <= to);
  return within.length === 1 && within[0] ? { time: within[0] } : { either: [morning, evening] };
}

/** The one time that a text is, `HH:MM`; empty where it is none or may be two. */
export function timeIn(typed: string): string {
  const read = readTimeOfDay(typed);
  return read && "time" in read ? read.time : "";
}

/** What to say of a text that is not one time of day; null where it is one, or nothing is typed. */
export function timeProblem(typed: string): string | null {
  if (typed.trim() === "") return null;
  const read = readTimeOfDay(typed);
  if (read && "time" in read) return null;
  const [one, other] = read?.either.map(timeOfDay) ?? [];
  return one ? `Write ${one} or ${other}.` : `Write a time, such as ${timeOfDay("13:20")}.`;
}
