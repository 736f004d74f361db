import { dateOfDay, dayNumber, isDate } from "../dates/day-number.ts";
import { schoolYearOn, type SchoolCalendar } from "../schedule/calendar.ts";
import { reportingSpans } from "../schedule/reporting-spans.ts";
import { dateWithYear } from "../words/dates.ts";
import type { ReportSpan } from "./document.ts";

/** A span that a report can be made for, by its name. */
export interface NamedSpan extends ReportSpan {
  /** As it stands in an address; empty for the one that is chosen where nothing is. */
  key: string;
  words: string;
}

/** An edition that the next report can begin after. */
export interface LastEdition {
  number: number;
  /** Its last day. */
  to: string;
}

/** The key of dates that somebody chose. */
export const ownDates = "own";

/**
 * The spans that a report can be made for, the usual one first: the school year so far, since the last edition, its reporting periods,
 * earlier years, everything.
 *
 * @param today the school's own date; between two school years the last one is the usual span
 */
export function reportSpans(
  calendar: SchoolCalendar,
  today: string,
  lastEdition: LastEdition | null = null,
): NamedSpan[] {
  const begun = calendar.years
    .filter(({ fromOn }) => fromOn <= today)
    .sort((a, b) => (a.fromOn < b.fromOn ? 1 : -1));
  const [year, ...earlier] = begun;
  const current = schoolYearOn(calendar, today);
  return [
    year
      ? {
          ...{ key: "", from: year.fromOn, to: year.toOn < today ? year.toOn : today },
          words: current ? "This school year" : `School year ${year.name}`,
        }
      : { key: "", words: "The last 12 months", from: dateOfDay(dayNumber(today) - 364), to: today },
    ...(lastEdition && lastEdition.to < today
      ? [
          {
            ...{
              key: "edition",
              words: `Since edition ${lastEdition.number} (${dateWithYear(lastEdition.to)})`,
            },
            ...{ from: dateOfDay(dayNumber(lastEdition.to) + 1), to: today },
          },
        ]
      : []),
    ...reportingSpans(calendar, today),
    ...earlier.map(({ name, fromOn, toOn }) => ({
      ...{ key: `year-${fromOn}`, words: `School year ${name}`, from: fromOn, to: toOn },
    })),
    { key: "all", words: `Everything through ${dateWithYear(today)}`, from: null, to: today },
  ];
}

/**
 * Reads the span from an address; what does not fit is the usual one. Dates that somebody chose are put in order and end today.
 *
 * @param spans as `reportSpans` lists them
 */
export function readReportSpan(
  search: { get: (name: string) => string | null },
  spans: readonly NamedSpan[],
  today: string,
): NamedSpan {
  const asked = search.get("span") ?? "";
  const usual = spans[0] ?? { key: "", words: "", from: null, to: today };
  if (asked !== ownDates) return spans.find(({ key }) => key === asked) ?? usual;
  const own = (name: string, otherwise: string) => {
    const date = search.get(name) ?? "";
    return isDate(date) && date <= today ? date : otherwise;
  };
  const [a, b] = [own("from", usual.from ?? today), own("to", today)];
  return { key: ownDates, words: "Other dates", from: a < b ? a : b, to: a < b ? b : a };
}
