import { kindNames } from "#core/measures/kind-names.ts";
import type { Decision } from "#core/model/decision.ts";
import type { GoalDue } from "#server/db/due.ts";
import { figuresOf } from "#core/progress/figures-of.ts";
import type { NotMeasured } from "#core/model/entry.ts";
import type { Goal } from "#core/model/goal.ts";
import type { SummarisedGoal } from "#core/progress/goal-figures.ts";
import type { Entry } from "#core/model/entry.ts";
import type { ObservedTwice, SecondRating } from "#server/db/second-observations.ts";
import { compareObservers } from "#core/agreement/compare-observers.ts";
import { countedPurposes } from "#core/criteria/criterion.ts";
import { criterionWords } from "#core/criteria/criterion-words.ts";
import { propose } from "#core/goal-wording/propose.ts";
import { detailsOf } from "#core/measures/details-of.ts";
import { unitOf } from "#core/measures/measure.ts";
import { rubricRatings, type ScoredRubric } from "#core/agreement/rubric-ratings.ts";
import { partHistory, partSentence, partWords } from "#core/measures/part-history.ts";
import { goalFullFigures, judgeGoal, askOf } from "#core/progress/goal-figures.ts";
import { goalSeries } from "#core/progress/points.ts";
import { runningWords } from "#core/progress/running-words.ts";
import { goalFileName, headWords } from "#core/chart/legend.ts";
import type { Student } from "#core/model/student.ts";
import { recordedWords } from "#core/report/entry-line.ts";
import { latestFigure } from "#core/report/goal-sentences.ts";
import type { SchoolCalendar } from "#core/schedule/calendar.ts";
import { dueWords } from "#core/schedule/due-data.ts";
import { scheduleWords } from "#core/schedule/schedule.ts";
import { dateWithYear, shortDate, shortDateWithYear } from "#core/words/dates.ts";
import { en } from "#core/words/en.ts";
import { entriesEn } from "#core/words/en/entries.ts";
import { ratersTable } from "#core/report/compose-jots.ts";
import { goalChart } from "#core/report/goal-chart.ts";
import { taughtOn } from "#core/progress/taught-on.ts";
import { goalSays } from "./goal-says.server.ts";

/** What comparing begins with: the last phase against the one before it, where there are two; else the goal against another. */
function stretches({ goalId }: Goal, phases: readonly { phase: string }[]): Record<string, string> {
  const [before, last] = phases.filter(({ phase }) => phase !== "").slice(-2);
  return before && last
    ? { a: goalId, b: goalId, "a-span": before.phase, "b-span": last.phase }
    : { a: goalId };
}

/** Everything the page of one goal shows, computed. */
export function openGoal(
  goal: Goal,
  entries: readonly Entry[],
  more: {
    student: Student;
    goals: readonly SummarisedGoal[];
    renamed: ReadonlyMap<string, string>;
    calendar: SchoolCalendar;
    decisions: readonly Decision[];
    absences: readonly string[];
    notMeasured: readonly NotMeasured[];
    scale: "linear" | "log";
    measuredBy: string | null;
    due: GoalDue["due"] | null;
    today: string;
    twice: readonly ObservedTwice[];
    ratings: readonly SecondRating[];
  },
) {
  const { setup } = goal;
  const counted = countedPurposes(setup.criterion);
  const series = goalSeries(setup, figuresOf(goal, entries), more.today);
  const { points } = series;
  const figures = goalFullFigures(setup, series);
  const head = (student: string) =>
    headWords({ ...{ student, goal: `${goal.number} ${goal.title}` }, on: dateWithYear(more.today) });
  const last = entries.find((entry) => entry.entryId === points.at(-1)?.entry.entryId);
  const isOneEntry = points.at(-1)?.entries.length === 1;
  const decisions = more.decisions.filter((one) => one.goalId === goal.goalId && one.removed === null);
  const { chart, shares, description } = goalChart(goal, {
    ...{ series, figures, entries, goals: more.goals, scale: more.scale },
    beside: {
      ...{ calendar: more.calendar, today: more.today, absences: more.absences, decisions },
      notMeasured: more.notMeasured.filter(({ goalId }) => goalId === goal.goalId),
    },
  });
  const phaseNames = new Map(
    setup.phases.map((one) => [one.isBaseline ? "baseline" : one.phaseId, one.name]),
  );
  const judged = {
    ...{
      lastOn: series.all.at(-1)?.date ?? null,
      today: more.today,
      calendar: more.calendar,
      absences: more.absences,
    },
    taughtOn: taughtOn(decisions),
  };
  const decided = judgeGoal(figures.decided, setup, judged);
  const pointOf = new Map(
    series.all.flatMap((point) => point.entries.map(({ entryId }) => [entryId, point] as const)),
  );
  return {
    goalId: goal.goalId,
    number: goal.number,
    title: goal.title,
    wording: goal.wording,
    criterion: setup.criterion && criterionWords(setup.criterion, goal.measure),
    due: setup.dueOn && dateWithYear(setup.dueOn),
    standing: decided.standing,
    revision: goal.revision,
    confirm: setup.criterion?.confirm ?? [],
    says: goalSays(goal, {
      ...{ series, figures, entries, decided, asked: askOf(setup, judged) },
      fileName: goalFileName(more.student, goal.number),
      ...{ calendar: more.calendar, today: more.today, twice: more.twice },
      decisions,
    }),
    latest: latestFigure(
      points,
      isOneEntry ? (last?.score.interval95 ?? null) : null,
      unitOf(goal.measure),
      isOneEntry && last?.measure.kind === "outcomes" ? recordedWords(last) : null,
    ),
    ...{ chart, shares, description },
    heads: { initials: head(more.student.initials), full: head(more.student.name) },
    running: runningWords(setup, series, { today: more.today, calendar: more.calendar }),
    // A count per time that multiplies lies straight on an axis of equal factors.
    mayBeLog: unitOf(goal.measure).startsWith("per ") && points.every(({ value }) => value > 0),
    scale: chart?.axis.scale ?? "linear",
    strategy: goal.strategy,
    facts: [
      kindNames[goal.measure.kind].name,
      goal.schedule && `measured ${scheduleWords(goal.schedule)}`,
      more.due && dueWords(more.due),
      more.measuredBy && `usually by ${more.measuredBy}`,
      goal.annualReviewOn && `annual review ${dateWithYear(goal.annualReviewOn)}`,
    ].filter((fact) => typeof fact === "string"),
    ended:
      goal.ended &&
      `Ended (${goal.ended.how}) on ${dateWithYear(goal.ended.on)}. ${goal.ended.reason}`.trim(),
    kin: kinOf(goal, more.goals),
    compared: new URLSearchParams(stretches(goal, figures.phases)).toString(),
    spans: propose(goal.wording).spans,
    parts: partsOf(goal, entries, more.renamed),
    raters: ratersOf(goal, entries, more.ratings),
    agreement: more.twice.map(({ observationId, on, observer, measure, first, second }) => ({
      observationId,
      date: shortDateWithYear(on),
      who: first ? `${first.author} and ${observer}` : observer,
      said: first
        ? (compareObservers(measure, first, second)?.said ?? "recorded in different ways")
        : "not compared yet: nothing of the first observer belongs to it",
    })),
    rows: [...entries].reverse().map((entry) => ({
      entryId: entry.entryId,
      date: shortDateWithYear(entry.on),
      time: entry.time,
      figure: recordedWords(entry),
      older: entry.measureVersion < goal.figuresFromVersion,
      purpose: counted.includes(entry.purpose) ? null : entry.purpose,
      setting: entry.setting,
      phase: phaseNames.get(pointOf.get(entry.entryId)?.phase ?? "") ?? "",
      author: entry.author,
      note: entry.note,
    })),
  };
}

/** The goals of the years before and after that are the same goal, gone on. */
function kinOf({ goalId, continues }: Goal, goals: readonly SummarisedGoal[]) {
  return goals.flatMap((other) => {
    const said =
      other.goalId === continues ? "Goes on from" : other.continues === goalId ? "Goes on as" : null;
    const from = other.startOn ? `, begun ${dateWithYear(other.startOn)}` : "";
    return said === null
      ? []
      : [{ goalId: other.goalId, said, title: `${other.number} ${other.title}${from}` }];
  });
}

/** Who scored by the rubric, a column for each, and the student's own scorings with their pages. */
function ratersOf(
  goal: Goal,
  entries: readonly Entry[],
  ratings: readonly (ScoredRubric & { goalId: string; observationId: string })[],
) {
  const beside = ratings.filter(({ goalId }) => goalId === goal.goalId);
  const counted = entries.filter(({ measureVersion }) => measureVersion >= goal.figuresFromVersion);
  const table = ratersTable(rubricRatings([...counted, ...beside]), { staff: "names", scale: "percent" }, en);
  const own = beside.flatMap((rating) =>
    rating.own
      ? {
          observationId: rating.observationId,
          said: `${shortDateWithYear(rating.on)}, ${entriesEn.rubric(rating.score, undefined)}`,
        }
      : [],
  );
  return table || own.length > 0 ? { table, own } : null;
}

/** What each sub-skill, item, step, level, criterion or outcome showed over time. */
function partsOf(goal: Goal, entries: readonly Entry[], renamed: ReadonlyMap<string, string>) {
  const called = detailsOf(goal.measure).partsCalled;
  if (called === null) return null;
  const sources = entries
    .filter(({ measureVersion }) => measureVersion >= goal.figuresFromVersion)
    .map(({ entryId, on, measure, entry }) => ({ entryId, date: on, measure, entry }));
  const histories = partHistory(goal.measure, sources, renamed);
  return {
    called,
    sentence: partSentence(goal.measure, histories),
    rows: histories.map(({ part, credited, of, marks }) => ({
      part,
      words: partWords(goal.measure, { credited, of }),
      latest: marks.at(-1)?.said ?? null,
      marks: marks.slice(-shownMarks).map(({ date, said, credited, of }) => ({
        share: credited / of,
        said: `${shortDate(date)}: ${said}`,
      })),
    })),
  };
}

const shownMarks = 24;

export type OpenGoal = ReturnType<typeof openGoal>;
