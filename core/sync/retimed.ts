import { dateOfDay, dayNumber, isDate } from "../dates/day-number.ts";
import type { Queued } from "./queued.ts";

const day = 86_400_000;

/** A date, or a local time of one, so many whole days later. */
const daysLater = (local: string, days: number): string =>
  isDate(local.slice(0, 10)) ? dateOfDay(dayNumber(local.slice(0, 10)) + days) + local.slice(10) : local;

/**
 * What a device with a wrong clock recorded, put to when its person says it was: all of it by the same time, so that what was an hour
 * apart still is. Days that were said by themselves move by whole days.
 *
 * @param lastAt when the last of it was observed, milliseconds since 1970, by a clock that is right
 */
export function retimed<Item extends Queued>(items: readonly Item[], lastAt: number): Item[] {
  const shift = lastAt - Math.max(...items.map(({ observedAt }) => Date.parse(observedAt)));
  const days = Math.round(shift / day);
  const moved = (moment: string) => new Date(Date.parse(moment) + shift).toISOString();
  return items.map((item) => ({
    ...item,
    observedAt: moved(item.observedAt),
    ...("startedAt" in item ? { startedAt: moved(item.startedAt) } : {}),
    ...("on" in item ? { on: daysLater(item.on, days) } : {}),
    ...("seenFrom" in item
      ? { seenFrom: daysLater(item.seenFrom, days), seenTo: daysLater(item.seenTo, days) }
      : {}),
    ...("began" in item
      ? {
          began:
            item.began.as === "time"
              ? { ...item.began, local: daysLater(item.began.local, days) }
              : "on" in item.began
                ? { ...item.began, on: daysLater(item.began.on, days) }
                : item.began,
        }
      : {}),
    clockAhead: 0,
    timeSaid: true,
  }));
}
