import { minuteOf } from "../dates/school-time.ts";
import { mergeOf } from "../measures/merge-entries.ts";
import type { Entry } from "../model/entry.ts";
import type { Goal } from "../model/goal.ts";
import { type EntryFigure, plannedOf } from "./points.ts";

/** What the goal's figures are made of: the entries whose measure compares with today's. */
export function figuresOf(
  { figuresFromVersion }: Pick<Goal, "figuresFromVersion">,
  entries: readonly Entry[],
): EntryFigure[] {
  return entries
    .filter(({ measureVersion }) => measureVersion >= figuresFromVersion)
    .map(({ entryId, on, time, sittingId, measure, entry, score, purpose, setting, observerId }) => ({
      entryId,
      date: on,
      minute: minuteOf(on, time),
      sittingId,
      observed: mergeOf(measure) ? entry : null,
      planned: plannedOf(measure),
      value: score.value,
      numerator: score.numerator,
      denominator: score.denominator,
      purpose,
      setting,
      personId: observerId,
      detail: score.detail,
    }));
}
