import { observersOf } from "#core/progress/observers-of.ts";
import type { Decision } from "#core/model/decision.ts";
import type { Goal } from "#core/model/goal.ts";
import type { Student } from "#core/model/student.ts";
import type { Entry } from "#core/model/entry.ts";
import type { ObservedTwice } from "#server/db/second-observations.ts";
import { compareObservers } from "#core/agreement/compare-observers.ts";
import { unitOf } from "#core/measures/measure.ts";
import { carriedBy } from "#core/progress/carried-by.ts";
import { cautionsOf } from "#core/progress/cautions.ts";
import { changesOf } from "#core/progress/changes.ts";
import type { FullFigures } from "#core/progress/full-figures.ts";
import type { GoalSeries } from "#core/progress/points.ts";
import { howComputed } from "#core/progress/how-computed.ts";
import { independenceSentence } from "#core/progress/independence.ts";
import { outlookOf } from "#core/progress/outlook.ts";
import { baselinePhase } from "#core/progress/progress.ts";
import type { Decided, SeriesAsk } from "#core/progress/decide.ts";
import { seriesFile } from "#core/progress/series-file.ts";
import { decisionLine } from "#core/report/decision-line.ts";
import type { SchoolCalendar } from "#core/schedule/calendar.ts";
import { dateWithYear } from "#core/words/dates.ts";

/** How a student is named in a file: by initials, or in full where the address asks for it. */
export const nameInFiles = (
  { initials, name }: Pick<Student, "initials" | "name">,
  request: Request,
): string => (new URL(request.url).searchParams.get("name") === "full" ? name : initials);

/** What the numbers of a goal say, in sentences, and how each is computed. */
export function goalSays(
  goal: Goal,
  {
    series,
    fileName,
    figures,
    entries,
    decided,
    asked,
    calendar,
    today,
    decisions,
    twice,
  }: {
    series: GoalSeries;
    /** What its files are called. */
    fileName: string;
    figures: FullFigures;
    entries: readonly Entry[];
    decided: Decided;
    asked: SeriesAsk;
    calendar: SchoolCalendar;
    today: string;
    /** Of this goal, the newest first, none that was removed. */
    decisions: readonly Decision[];
    twice: readonly ObservedTwice[];
  },
) {
  const { setup } = goal;
  const { points } = series;
  const unit = unitOf(goal.measure);
  const isTotal = goal.measure.kind === "running-total";
  const names = new Map(
    setup.phases.map(({ phaseId, name, isBaseline }) => [isBaseline ? baselinePhase : phaseId, name]),
  );
  const nameOf = (phase: string) => names.get(phase) ?? (phase || "before the first phase");
  const personName = observersOf(entries);
  const inPhase = series.all.filter(({ phase }) => phase === figures.currentPhase);
  const current = points.filter(({ phase }) => phase === figures.currentPhase);
  const file = seriesFile(setup, series, fileName, personName, asked);
  const inFile = (phase: string) => phase || "before the first phase";
  return {
    advice: decided.advice,
    // A total that starts again has no trend across its start.
    rate: isTotal ? null : decided.rate,
    changes: changesOf({
      ...{ figures, points, nameOf, unit, calendar, today },
      enteredBaseline: setup.enteredBaseline,
      direction: setup.criterion?.direction ?? "increase",
    }).map(({ since, words }) => ({
      words,
      how:
        (since === "baseline" || since === "phase") && file.figures.comparisons.length > 0
          ? `compare-${file.figures.comparisons.length - 1}`
          : "levels",
    })),
    // A total that goes on is not one session.
    outlook: isTotal
      ? null
      : outlookOf(figures, { criterion: setup.criterion, dueOn: setup.dueOn, unit, today }),
    independence: independenceSentence(goal.measure, current),
    unit,
    cautions: cautionsOf({
      ...{ figures, points, nameOf, personName },
      blank: { n: inPhase.filter(({ value }) => value === null).length, of: inPhase.length },
      agreements: twice.flatMap(({ measure, first, second }) =>
        first ? (compareObservers(measure, first, second)?.value ?? []) : [],
      ),
    }),
    carried: isTotal ? [] : carriedBy(current, unit, personName, series.unit),
    how: howComputed(file.figures, file.observations, inFile, { unit, criterion: setup.criterion }),
    file: fileName,
    decisions: decisions.map(({ decisionId, on, author, ...decision }) => ({
      ...{ decisionId, author },
      when: dateWithYear(on),
      said: decisionLine(goal.title, decision),
    })),
  };
}

export type GoalSays = ReturnType<typeof goalSays>;
