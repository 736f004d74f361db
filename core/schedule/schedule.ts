import * as z from "zod/mini";
import { listed } from "../words/lists.ts";
import { weekdayName } from "../dates/week.ts";
import { countWord } from "../words/numbers.ts";

/** How often a goal should be measured: so many times a week, or on given weekdays (Monday = 1 … Sunday = 7). */
export const scheduleSchema = z.union([
  z.object({ perWeek: z.int().check(z.gte(1), z.lte(20)) }),
  z.object({ weekdays: z.array(z.int().check(z.gte(1), z.lte(7))).check(z.minLength(1), z.maxLength(7)) }),
]);
export type Schedule = z.infer<typeof scheduleSchema>;

/** "twice a week", "on Mondays and Wednesdays" */
export function scheduleWords(schedule: Schedule): string {
  if ("weekdays" in schedule)
    return `on ${listed([...schedule.weekdays].sort().map((day) => `${weekdayName(day)}s`))}`;
  const { perWeek } = schedule;
  if (perWeek <= 2) return perWeek === 1 ? "once a week" : "twice a week";
  return `${countWord(perWeek)} times a week`;
}
