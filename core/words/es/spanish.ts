import { lengthOfTime, shownValue } from "../amounts.ts";
import { type DateStyle, formatsOf } from "../formats.ts";
import { points } from "../numbers.ts";
import { dayNumber } from "../../dates/day-number.ts";

const formats = formatsOf("es-US");
const noBreak = "\u00a0";

const rates: Record<string, string> = { "per minute": "por minuto", "per hour": "por hora" };
const units: Record<string, readonly [singular: string, many: string]> = {
  count: ["vez", "veces"],
  points: ["punto", "puntos"],
  minutes: ["minuto", "minutos"],
};
const countWords = [
  "cero",
  "uno",
  "dos",
  "tres",
  "cuatro",
  "cinco",
  "seis",
  "siete",
  "ocho",
  "nueve",
  "diez",
];

/** What fluency is counted in, with its gender. */
const fluencyUnits = new Map([
  ["words", { many: "palabras", correct: "correctas" }],
  ["letters", { many: "letras", correct: "correctas" }],
  ["sounds", { many: "sonidos", correct: "correctos" }],
  ["digits", { many: "dígitos", correct: "correctos" }],
]);

const whole = (count: number) => formats.number(count);
const decimal = (value: number) => formats.number(shownValue(value, ""));
const oneOr = (count: number, singular: string, many: string) => (formats.isOne(count) ? singular : many);

/** What an amount is counted in; a unit that a teacher named stays as it is. */
const unit = (amount: number, name: string) => {
  const known = units[name];
  return known ? oneOr(shownValue(amount, ""), ...known) : (rates[name] ?? name);
};

function figure(value: number, of: string): string {
  if (of === "percent") return formats.percent(value);
  if (of === "seconds") return lengthOfTime(value);
  return `${decimal(value)} ${unit(value, of)}`.replaceAll(" ", noBreak);
}

function changeSize(change: number, of: string): string | null {
  if (of === "percent") {
    const size = points(change);
    return size === "0" ? null : `${size} ${size === "½" || size === "1" ? "punto" : "puntos"}`;
  }
  if (decimal(change) === "0") return null;
  return of === "count" || of in rates ? decimal(change) : figure(change, of);
}

function changeNumber(change: number, of: string): string {
  const size = of === "seconds" ? lengthOfTime(Math.abs(change)) : decimal(Math.abs(change));
  return change < 0 && size !== "0" ? `−${size}` : size;
}

function countWord(count: number, gender: "m" | "f"): string {
  if (count === 1) return gender === "m" ? "un" : "una";
  return countWords[count] ?? whole(count);
}

function countOf(count: number, one: string, many: string, gender: "m" | "f"): string {
  if (count === 0) return `${gender === "m" ? "ningún" : "ninguna"} ${one}`;
  return `${countWord(count, gender)} ${oneOr(count, one, many)}`;
}

function daysAgo(on: string, today: string): string {
  const days = dayNumber(today) - dayNumber(on);
  if (days === 0) return "hoy";
  if (days === 1) return "ayer";
  if (days === -1) return "mañana";
  return days > 0 ? `hace ${whole(days)} días` : `dentro de ${whole(-days)} días`;
}

/** "y", before the sound of an i "e"; "o", before that of an o "u": `Intl` knows it. */
const list = (words: readonly string[], last: "and" | "or" = "and") => formats.list(words, last);

/** How Spanish sentences write numbers, dates and lists: the formats of es-US and what `core/words` has for English. */
export const spanish = {
  /** A count in digits, and a number as rounded as it is shown. */
  whole,
  decimal,
  percent: (value: number) => formats.percent(value),
  date: (on: string, style: DateStyle) => formats.date(on, style),
  time: (time: string) => formats.time(time),
  list,
  /** The name of a weekday of ISO 8601; the first of January 2024 was a Monday. */
  weekday: (weekday: number) => formats.date(`2024-01-0${weekday}`, "wholeWeekday"),
  /** The form of one or that of many. */
  oneOr,
  unit,
  /** What fluency is counted in, and "correct" in its gender; a unit of another name stays as it is. */
  fluencyUnit: (counted: string) => fluencyUnits.get(counted) ?? { many: counted, correct: "correctas" },
  /** "70%", "4 veces", "2.4 por minuto", "4 min 10 s" */
  figure,
  /** "7 de 10" */
  outOf: (numerator: number, denominator: number) =>
    `${whole(numerator)}${noBreak}de${noBreak}${whole(denominator)}`,
  /** The size of a change without its direction: "5½ puntos", "4 s"; null where it rounds to nothing. */
  changeSize,
  /** A change as a bare number with a real minus; of seconds as a length of time. */
  changeNumber,
  /** A count before a noun: "un", "una", "dos"; in digits from eleven on. */
  countWord,
  /** A count with what is counted: "ninguna sesión", "una sesión", "dos sesiones". */
  countOf,
  /** "hoy", "ayer", "hace 5 días" */
  daysAgo,
  /** The text with its first letter large. */
  capital: (text: string) => text.charAt(0).toLocaleUpperCase("es") + text.slice(1),
};
