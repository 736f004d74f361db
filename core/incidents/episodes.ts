import { groupBy } from "../lists/group-by.ts";
import type { TimetableSlot } from "../schedule/timetable.ts";
import { minutesOf } from "./minutes-of.ts";

/** When an incident was: the day, and its time or period where that is known. */
export interface Placed {
  on: string;
  /** `HH:MM`; null where only the day or the period is known. */
  at: string | null;
  /** The period of the day by its name, where only that is known. */
  period?: string | null;
}

/** Incidents that begin less than so many minutes after the one before belong to one episode. */
const apart = 30;

/**
 * Puts the incidents of one student into episodes: those less than 30 minutes apart on a day, and those of one day that are known by the same
 * period only. Ten minutes of the same trouble written down five times are one piece of evidence.
 *
 * @param incidents in any order; one without a time or a period is an episode of its own
 * @param periods the timetable, for the beginning of a period
 * @returns episodes in the order of their days, each with its incidents in the order of their times
 *
 * Source: ours; without it the tests of `findingsOf` erred on 10 to 44% of pages of pure noise that came in bursts.
 */
export function episodesOf<One extends Placed>(
  incidents: readonly One[],
  periods: readonly Pick<TimetableSlot, "name" | "startsAt">[] = [],
): One[][] {
  const startOf = new Map(periods.map(({ name, startsAt }) => [name, startsAt]));
  const minute = ({ at, period }: One) => {
    const time = at ?? startOf.get(period ?? "");
    return time === undefined ? null : minutesOf(time);
  };
  return [...groupBy(incidents, ({ on }) => on)]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .flatMap(([, ofDay]) => {
      const timed = ofDay
        .flatMap((one) => {
          const at = minute(one);
          return at === null ? [] : [{ one, at }];
        })
        .sort((a, b) => a.at - b.at);
      const untimed = ofDay.filter((one) => minute(one) === null);
      const episodes: One[][] = [];
      let before = Number.NEGATIVE_INFINITY;
      for (const { one, at } of timed) {
        if (at - before < apart) episodes.at(-1)?.push(one);
        else episodes.push([one]);
        before = at;
      }
      // Periods that no timetable knows.
      const named = groupBy(
        untimed.filter(({ period }) => period),
        ({ period }) => period ?? "",
      );
      return [...episodes, ...named.values(), ...untimed.filter(({ period }) => !period).map((one) => [one])];
    });
}
