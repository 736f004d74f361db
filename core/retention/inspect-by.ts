import { dateOfDay, dayNumber } from "../dates/day-number.ts";

/** So many days after a school received a request to inspect a record it must have let the parents see it: 34 CFR 99.10(b), 34 CFR 300.613(a). */
const daysToInspect = 45;

/**
 * The last day on which parents are let see a record that they asked to inspect. 34 CFR 300.613(a) asks for it without needless delay, and
 * before any meeting about an IEP as well.
 *
 * @param receivedOn the day the school received the request, `YYYY-MM-DD`
 */
export const inspectBy = (receivedOn: string): string => dateOfDay(dayNumber(receivedOn) + daysToInspect);

/** Days from one date to another: negative where the second one is over. */
export const daysUntil = (today: string, date: string): number => dayNumber(date) - dayNumber(today);
