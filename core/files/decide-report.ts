import { type Criterion, windowUnits } from "../criteria/criterion.ts";
import { dayNumber } from "../dates/day-number.ts";
import { decideFrom } from "../progress/decide.ts";
import { progress } from "../progress/progress.ts";
import type { Series, SeriesToDecide } from "./read-series.ts";

/** The criterion as a goal has it, from what a file says of it. */
const criterionOf = (
  { criterion, direction, window }: Series["constants"],
  per: string | null,
): Criterion | null =>
  criterion === null
    ? null
    : {
        ...{ value: criterion, direction, window, purposes: ["probe"] },
        windowUnit: windowUnits.find((unit) => unit === per) ?? "session",
      };

/**
 * Everything that `figures decide` prints of a series. Weeks to the due date are calendar weeks where the file does not give school weeks, and
 * a last point is old after 14 days where it does not say.
 */
export function decideReport({ name, observations, constants, lastRowOn, decide: asked }: SeriesToDecide) {
  const figures = progress(observations, constants);
  const { due } = constants;
  const measuredOn = lastRowOn ?? figures.to;
  const today = asked.today ?? measuredOn;
  const weeks =
    asked.weeks ?? (due === null || today === null ? null : (dayNumber(due) - dayNumber(today)) / 7);
  const { standing, trend, pace, advice, sentences } = decideFrom(figures.decided, {
    ...{ criterion: criterionOf(constants, asked.per), metOn: asked.met, dueOn: due, taughtOn: asked.taught },
    ...{ today: today ?? "", unit: asked.unit ?? "percent", weeks, measuredOn },
    ...{ since: asked.since, joined: asked.joined, isTotal: constants.isTotal ?? false },
    isStale:
      asked.stale ?? (measuredOn !== null && today !== null && dayNumber(today) - dayNumber(measuredOn) > 14),
  });
  return {
    series: name,
    standing: { key: standing.key, words: standing.word },
    trend: {
      key: trend.key,
      ...{ perWeek: trend.perWeek, lowPerWeek: trend.low, highPerWeek: trend.high, words: trend.words },
    },
    pace: { key: pace.key, neededPerWeek: pace.neededPerWeek, words: pace.words },
    advice: { key: advice.key, words: advice.words },
    sentences,
  };
}
