import type { Decision } from "../model/decision.ts";
import type { NotMeasured } from "../model/entry.ts";
import type { Goal } from "../model/goal.ts";
import type { SummarisedGoal } from "../progress/goal-figures.ts";
import type { Entry } from "../model/entry.ts";
import type { ChartMark, OtherLine, ProgressChart } from "../chart/chart.ts";
import { chartDescription, type ChartMore, progressChart } from "../chart/progress-chart.ts";
import { type ShareStack, shareStack } from "../chart/share-stack.ts";
import { groupBy } from "../lists/group-by.ts";
import { unitOf } from "../measures/measure.ts";
import { dayNumber } from "../dates/day-number.ts";
import type { GoalPoint, GoalSeries } from "../progress/points.ts";
import type { Progress } from "../progress/progress.ts";
import { decisionLine } from "./decision-line.ts";
import { notMeasuredLine } from "./entry-line.ts";
import { reportingSpans } from "../schedule/reporting-spans.ts";
import { schoolBreaks } from "../schedule/breaks.ts";
import type { SchoolCalendar } from "../schedule/calendar.ts";
import { figure } from "../words/amounts.ts";
import { shortDate } from "../words/dates.ts";
import { chartTextEn, type ChartTextWords } from "../words/en/chart-text.ts";

/** What stands at the foot of a goal's chart, and between its points. */
export interface Beside {
  calendar: SchoolCalendar;
  today: string;
  /** `YYYY-MM-DD` */
  absences: readonly string[];
  /** Of this goal. */
  notMeasured: readonly NotMeasured[];
  /** Of this goal, none that was removed. */
  decisions: readonly Decision[];
}

const longest = 160;
const shortened = (text: string) => (text.length > longest ? `${text.slice(0, longest)} …` : text);

function marksOf(goal: Goal, entries: readonly Entry[], beside: Beside): ChartMark[] {
  return [
    ...beside.absences.map((date) => ({
      ...{ day: dayNumber(date), kind: "absent" as const, page: null },
      label: `${shortDate(date)}: absent`,
    })),
    ...beside.notMeasured.map(({ noteId, on, reason, note }) => {
      const said = notMeasuredLine(goal.title, reason, note);
      return {
        ...{ day: dayNumber(on), kind: "not measured" as const, page: `not-measured/${noteId}` },
        label: shortened(`${shortDate(on)}: ${said.sentence} ${said.note ?? ""}`),
      };
    }),
    ...entries.flatMap(({ entryId, on, note }) =>
      note
        ? [
            {
              ...{ day: dayNumber(on), kind: "note" as const, page: `entries/${entryId}` },
              label: shortened(`${shortDate(on)}: ${note}`),
            },
          ]
        : [],
    ),
    ...beside.decisions.map(({ decisionId, on, ...decision }) => {
      const said = decisionLine(goal.title, decision);
      return {
        ...{ day: dayNumber(on), kind: "decision" as const, page: `decisions/${decisionId}` },
        label: shortened(`${shortDate(on)}: ${said.sentence} ${said.note ?? ""}`),
      };
    }),
  ];
}

/** What a goal's chart is made from. */
interface GoalChartAsk {
  series: GoalSeries;
  figures: Progress;
  entries: readonly Entry[];
  goals: readonly SummarisedGoal[];
  beside: Beside;
  scale: NonNullable<ChartMore["scale"]>;
  /** What a rater is called, by their name and their place. */
  raterName?: (name: string, place: number) => string;
  words?: ChartTextWords;
}

/** Places of points, a run for each phase. */
const byPhase = <Place>(points: readonly GoalPoint[], placesOf: (point: GoalPoint) => Place[]): Place[][] =>
  [...groupBy(points, ({ phase }) => phase).values()]
    .map((ofPhase) => ofPhase.flatMap(placesOf))
    .filter((run) => run.length > 0);

/** Errors beside what was correct, and each rater's own line: readings of the same work that are never one number. */
function othersOf(
  { measure }: Goal,
  points: readonly GoalPoint[],
  entries: readonly Entry[],
  { raterName, words }: Required<Pick<GoalChartAsk, "raterName" | "words">>,
): OtherLine[] {
  const place = ({ date, entry }: GoalPoint, value: number, what: string) => ({
    ...{ day: dayNumber(date), value, page: `entries/${entry.entryId}` },
    label: `${shortDate(date)}: ${what} ${figure(value, unitOf(measure))}`,
  });
  if (measure.kind === "fluency") {
    const errors = byPhase(points, (point) => {
      const value = point.entry.detail?.["errorsPerMinute"];
      return typeof value === "number" ? [place(point, value, words.errors())] : [];
    });
    return errors.length > 0 ? [{ label: words.errors(), runs: errors }] : [];
  }
  if (measure.kind !== "rubric") return [];
  const raterOf = new Map(
    entries.flatMap(({ entryId, entry, observer }) =>
      entry.kind === "rubric" ? [[entryId, entry.rater ?? observer] as const] : [],
    ),
  );
  const raters = [...groupBy(points, ({ entry }) => raterOf.get(entry.entryId) ?? "")];
  return raters.length < 2
    ? []
    : raters.map(([name, own], at) => {
        const rater = raterName(name, at);
        return { label: rater, runs: byPhase(own, (point) => [place(point, point.value, rater)]) };
      });
}

/** A chart is made as high as a like one of the same student, unless that would press it flat. */
const mostStretch = 3;

function alikeValues(goal: Goal, goals: readonly SummarisedGoal[], points: readonly GoalPoint[]): number[] {
  const unit = unitOf(goal.measure);
  const own = Math.max(...points.map(({ value }) => value), goal.setup.criterion?.value ?? 0);
  return goals
    .filter((other) => other.goalId !== goal.goalId && unitOf(other.measure) === unit)
    .flatMap(({ setup, summary }) => [
      ...(setup.criterion ? [setup.criterion.value] : []),
      ...(summary?.recent.map(({ value }) => value) ?? []),
    ])
    .filter((value) => value <= mostStretch * own);
}

/** The chart of a goal with everything that stands in it. */
export function goalChart(
  goal: Goal,
  {
    series,
    figures,
    entries,
    goals,
    beside,
    scale,
    raterName = (name) => name,
    words = chartTextEn,
  }: GoalChartAsk,
): { chart: ProgressChart | null; shares: ShareStack | null; description: string } {
  const { measure, setup } = goal;
  const { points } = series;
  const helps = new Map(
    entries.flatMap(({ entryId, circumstances: { support } }) => (support ? [[entryId, support]] : [])),
  );
  const chart = progressChart(setup, series, figures, {
    scale,
    breaks: schoolBreaks(beside.calendar),
    marks: marksOf(goal, entries, beside),
    others: othersOf(goal, points, entries, { raterName, words }),
    helpOf: (entryId) => helps.get(entryId) ?? null,
    alike: alikeValues(goal, goals, points),
    periods: reportingSpans(beside.calendar, beside.today),
  });
  return {
    chart,
    shares: measure.kind === "supports" ? shareStack(measure, points) : null,
    description: chart ? chartDescription(series, chart, words) : "",
  };
}
