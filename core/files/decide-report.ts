import type { Criterion } from "../criteria/criterion.ts";
import { dayNumber } from "../dates/day-number.ts";
import { decideFrom } from "../progress/decide.ts";
import { progress } from "../progress/progress.ts";
import type { Series, SeriesToDecide } from "./read-series.ts";

/** The criterion as a goal has it, from what a file says of it. */
const criterionOf = ({ criterion, direction, window }: Series["constants"]): Criterion | null =>
  criterion === null
    ? null
    : { value: criterion, direction, window, windowUnit: "session", purposes: ["probe"] };

/**
 * Everything that `figures decide` prints of a series. Weeks to the due date are calendar weeks where the file does not give school weeks, and
 * a last point is old after 14 days where it does not say.
 */
export function decideReport({ name, observations, constants, decide: asked }: SeriesToDecide) {
  const figures = progress(observations, constants);
  const { due } = constants;
  const today = asked.today ?? figures.to;
  const weeks =
    asked.weeks ?? (due === null || today === null ? null : (dayNumber(due) - dayNumber(today)) / 7);
  const { standing, trend, pace, advice, sentences } = decideFrom(figures.decided, {
    ...{ criterion: criterionOf(constants), metOn: asked.met, dueOn: due, taughtOn: asked.taught },
    ...{ today: today ?? "", unit: asked.unit ?? "percent", weeks, measuredOn: figures.to },
    isStale:
      asked.stale ?? (figures.to !== null && today !== null && dayNumber(today) - dayNumber(figures.to) > 14),
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
