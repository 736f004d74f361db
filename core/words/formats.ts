import { dayNumber } from "../dates/day-number.ts";

/** How a locale writes numbers, dates, times and lists. The one place that asks `Intl`. */
export interface Formats {
  /** A whole or decimal number with its thousands grouped: 1240 → "1,240". */
  number(value: number): string;
  /** With so many places after the point, ungrouped, as in a table of figures: 0.5 → "0.50". */
  fixed(value: number, places: number): string;
  /** Of 0 to 100, whole: 66.67 → "67%". */
  percent(value: number): string;
  /** `YYYY-MM-DD` in one of the ways that are in use. */
  date(date: string, style: DateStyle): string;
  /** `HH:MM` → "1:20 PM" */
  time(time: string): string;
  list(words: readonly string[], last: "and" | "or"): string;
  /** Is this the form of one? */
  isOne(count: number): boolean;
}

const dateStyles = {
  /** "Nov 26" */
  day: { month: "short", day: "numeric" },
  /** "Thu, Nov 26" */
  short: { weekday: "short", month: "short", day: "numeric" },
  /** "Thursday, November 26" */
  long: { weekday: "long", month: "long", day: "numeric" },
  /** "Nov 26, 2026" */
  year: { month: "short", day: "numeric", year: "numeric" },
  /** "Thu, Nov 26, 2026" */
  shortYear: { weekday: "short", month: "short", day: "numeric", year: "numeric" },
  /** "Thursday, November 26, 2026" */
  whole: { weekday: "long", month: "long", day: "numeric", year: "numeric" },
  /** "November 26, 2026" */
  full: { month: "long", day: "numeric", year: "numeric" },
  /** "Nov", "November" */
  month: { month: "short" },
  /** "Jan 2027" */
  monthYear: { month: "short", year: "numeric" },
  wholeMonth: { month: "long" },
  /** "Thu", "Thursday" */
  weekday: { weekday: "short" },
  wholeWeekday: { weekday: "long" },
} as const satisfies Record<string, Intl.DateTimeFormatOptions>;
export type DateStyle = keyof typeof dateStyles;

const noBreak = "\u00a0";
const dayMs = 86_400_000;
/** So many written dates are remembered: ten years in five ways. */
const mostDates = 20_000;

function formatsFor(locale: string): Formats {
  // Made when first asked for: each costs a browser about a millisecond.
  const dates = new Map<DateStyle, Intl.DateTimeFormat>();
  const dateFormat = (style: DateStyle) => {
    const known = dates.get(style);
    if (known) return known;
    const made = new Intl.DateTimeFormat(locale, { ...dateStyles[style], timeZone: "UTC" });
    dates.set(style, made);
    return made;
  };
  const once = <T>(make: () => T) => {
    let made: T | undefined;
    return () => (made ??= make());
  };
  const places = new Map<number, Intl.NumberFormat>();
  const placesFormat = (many: number) => {
    const known = places.get(many);
    if (known) return known;
    const made = new Intl.NumberFormat(locale, {
      ...{ minimumFractionDigits: many, maximumFractionDigits: many, useGrouping: false },
    });
    places.set(many, made);
    return made;
  };
  // A report of some years says the same days thousands of times: formatting took a tenth of its time (measured).
  const written = new Map<string, string>();
  const writtenDate = (date: string, style: DateStyle) => {
    const key = style + date;
    const known = written.get(key);
    if (known !== undefined) return known;
    if (written.size >= mostDates) written.clear();
    const text = dateFormat(style).format(dayNumber(date) * dayMs);
    written.set(key, text);
    return text;
  };
  const numbers = once(() => new Intl.NumberFormat(locale, { maximumFractionDigits: 2 }));
  const percents = once(() => new Intl.NumberFormat(locale, { style: "percent", maximumFractionDigits: 0 }));
  const times = once(() => new Intl.DateTimeFormat(locale, { timeStyle: "short", timeZone: "UTC" }));
  const and = once(() => new Intl.ListFormat(locale, { type: "conjunction" }));
  const or = once(() => new Intl.ListFormat(locale, { type: "disjunction" }));
  const plurals = once(() => new Intl.PluralRules(locale));
  return {
    number: (value) => numbers().format(value),
    fixed: (value, many) => placesFormat(many).format(value),
    // Rounded first: halves away from zero, as everywhere here.
    percent: (value) => percents().format(Math.round(value) / 100),
    date: writtenDate,
    // Some versions of the library's data put a narrow space before PM, others a plain one.
    time: (time) =>
      times()
        .format(Date.parse(`1970-01-01T${time}:00Z`))
        .replace(/\s/gu, noBreak),
    list: (words, last) => (last === "and" ? and() : or()).format(words),
    isOne: (count) => plurals().select(count) === "one",
  };
}

const known = new Map<string, Formats>();

/** The formats of a locale, made once. */
export function formatsOf(locale: string): Formats {
  const found = known.get(locale) ?? formatsFor(locale);
  known.set(locale, found);
  return found;
}

/** The locale of the interface, that of the school: set by each page in a browser, read from each request on the server. */
export const writing = { locale: "en-US" };

/** The formats of the interface. */
export const interfaceFormats = (): Formats => formatsOf(writing.locale);
