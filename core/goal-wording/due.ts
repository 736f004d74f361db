import { casual } from "chrono-node/en";
import { dateOfDay, dayNumber, isDate } from "../dates/day-number.ts";
import { mask, type Span, type WorkingText } from "./working-text.ts";

interface FoundDate {
  date: string;
  span: Span;
}

const pad = (value: number) => String(value).padStart(2, "0");

function lastDayOf(year: number, month: number): string {
  const next = month === 12 ? `${year + 1}-01-01` : `${year}-${pad(month + 1)}-01`;
  return dateOfDay(dayNumber(next) - 1);
}

/** Numeric dates: year first, or month first unless the first number is over 12; a two-digit year is 20xx. */
function numericDates(text: WorkingText): FoundDate[] {
  const pattern =
    /(?<![\d/.-])(?:(\d{4})[-/.](\d{1,2})[-/.](\d{1,2})|(\d{1,2})([-/.])(\d{1,2})\5(\d{4}|\d{2}))(?![\d/-])/g;
  return [...text.matchAll(pattern)].flatMap((found) => {
    const [first, second] = [Number(found[4]), Number(found[6])];
    const dayFirst = first > 12;
    const [year, month, day] = found[1]
      ? [Number(found[1]), Number(found[2]), Number(found[3])]
      : [
          Number(found[7]) + (found[7]?.length === 2 ? 2000 : 0),
          dayFirst ? second : first,
          dayFirst ? first : second,
        ];
    const date = `${year}-${pad(month)}-${pad(day)}`;
    return isDate(date) ? [{ date, span: [found.index, found.index + found[0].length] as Span }] : [];
  });
}

/** "11/2027": a month with a year is its last day. */
function numericMonths(text: WorkingText): FoundDate[] {
  return [...text.matchAll(/(?<![\d/.-])(\d{1,2})\/(20\d\d)(?![\d/-])/g)].flatMap((found) => {
    const [month, year] = [Number(found[1]), Number(found[2])];
    if (month < 1 || month > 12) return [];
    return [{ date: lastDayOf(year, month), span: [found.index, found.index + found[0].length] as Span }];
  });
}

/** Dates in words; a month with a year is its last day. A year has to be there: nothing is guessed from today. */
function wordDates(text: WorkingText): FoundDate[] {
  // "June of 2027" and "June, 2027" are months with a year to everyone but the parser.
  const plain = text.replace(/(?<=[a-z.])( of|,) (?=20\d\d\b)/g, (between) => " ".repeat(between.length));
  const noClock = new Date(2000, 0, 1, 12);
  return casual.parse(plain, noClock).flatMap(({ index, text: said, start }) => {
    const named = /\b(?:jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec)/.test(said);
    if (!named || !start.isCertain("year") || !start.isCertain("month")) return [];
    const [year, month, day] = [start.get("year") ?? 0, start.get("month") ?? 0, start.get("day") ?? 0];
    const date = start.isCertain("day") ? `${year}-${pad(month)}-${pad(day)}` : lastDayOf(year, month);
    return isDate(date) ? [{ date, span: [index, index + said.length] as Span }] : [];
  });
}

const notDue =
  /(?:\bbaseline\b(?:(?!\b(?:by|to)\b)[^.;]){0,30}|\bsince|\bas of|\bbeginning(?: on| in)?|\bstarting(?: on| in)?|\bfrom|\bdated|\bstarts?(?: on)?|\bcurrently[^.;]{0,30}|\bmeasured (?:on|in)|\bin (?:fall|winter|spring))[\s,(]*(?:the )?$/;

/**
 * The due date: the latest date of the wording that is not said to be of the baseline or the start, so that of several
 * benchmarks the final one counts.
 *
 * @returns the date with its place, and the text with every date out of the way
 */
export function readDue(text: WorkingText): { due: FoundDate | null; rest: WorkingText } {
  const numeric = [...numericDates(text), ...numericMonths(text)];
  let rest = numeric.reduce((masked, { span }) => mask(masked, span), text);
  const inWords = wordDates(rest);
  rest = inWords.reduce((masked, { span }) => mask(masked, span), rest);
  const candidates = [...numeric, ...inWords].filter(({ span }) => !notDue.test(text.slice(0, span[0])));
  const due = candidates.reduce<FoundDate | null>(
    (latest, one) => (latest === null || one.date > latest.date ? one : latest),
    null,
  );
  return { due, rest };
}
