import { axisTitle } from "../chart/axis-title.ts";
import { mostlyPoints, type ProgressChart } from "../chart/chart.ts";
import { timeTicks } from "../chart/time-axis.ts";
import { legendOf } from "../chart/legend.ts";
import { smallChart } from "../chart/small-chart.ts";
import { chartDescription } from "../chart/progress-chart.ts";
import { criterionWords } from "../criteria/criterion-words.ts";
import { detailsOf } from "../measures/details-of.ts";
import { unitOf } from "../measures/measure.ts";
import { rubricRatings, type ScoredRubric } from "../agreement/rubric-ratings.ts";
import { partHistory, partSentence } from "../measures/part-history.ts";
import type { Measure } from "../measures/measure-schema.ts";
import type { Decision } from "../model/decision.ts";
import type { MeetingNote } from "../model/meeting.ts";
import { meetingLists } from "./compose-meeting.ts";
import type { Entry, NotMeasured } from "../model/entry.ts";
import type { GoalSetup } from "../model/goal.ts";
import { carriedBy } from "../progress/carried-by.ts";
import { changesOf } from "../progress/changes.ts";
import type { Decided } from "../progress/decide.ts";
import { figuresOf } from "../progress/figures-of.ts";
import type { FullFigures } from "../progress/full-figures.ts";
import { goalFullFigures, judgeGoal, type SummarisedGoal } from "../progress/goal-figures.ts";
import { independenceSentence } from "../progress/independence.ts";
import { observersOf } from "../progress/observers-of.ts";
import { type EntryFigure, goalSeries, type GoalSeries } from "../progress/points.ts";
import { baselinePhase } from "../progress/progress.ts";
import type { StandingKey } from "../progress/standing.ts";
import { runningWords } from "../progress/running-words.ts";
import { taughtOn } from "../progress/taught-on.ts";
import type { SchoolCalendar } from "../schedule/calendar.ts";
import type { Catalogue } from "../words/en.ts";
import type { ChartWords } from "../words/en/chart.ts";
import { capitalise } from "../words/numbers.ts";
import type { AudienceSettings, FieldName } from "./audience.ts";
import type { GoalBlock, ReportChart, ReportFact, ReportFigure, ReportList, ReportSpan } from "./document.ts";
import { ratersTable } from "./compose-jots.ts";
import { staffWords } from "./staff-words.ts";
import { goalChart } from "./goal-chart.ts";
import { type ProgressStatement, statementIn } from "./progress-statement.ts";

/** What the part of a report about goals is made from. */
export interface GoalsMaterial {
  /** Every goal of the student in their order. */
  goals: readonly SummarisedGoal[];
  /** The entries of a goal in the order observed. */
  entriesOf: (goalId: string) => readonly Entry[];
  /** Earlier names of a goal's parts → the names they have now. */
  renamedOf: (goalId: string) => ReadonlyMap<string, string>;
  /** Of all goals, the newest first, none that was removed. */
  decisions: readonly Decision[];
  notMeasured: readonly NotMeasured[];
  /** What the student is called. */
  calledName: string;
  /** Rubrics that were scored beside the entries, by a second person or the student. */
  ratings: readonly (ScoredRubric & { goalId: string })[];
  /** What was written in meetings of the span, the latest first. */
  meetingNotes: readonly MeetingNote[];
  /** Those that were marked ready, the latest period first. */
  statements: readonly ProgressStatement[];
  /** `YYYY-MM-DD` */
  absences: readonly string[];
  calendar: SchoolCalendar;
}

/** A goal with what its numbers say at the end of a span. */
export interface JudgedGoal {
  goal: SummarisedGoal;
  entries: readonly Entry[];
  series: GoalSeries;
  figures: FullFigures;
  decided: Decided;
  decisions: readonly Decision[];
}

/**
 * Does a goal belong to a report of this span? It had begun by its end, and it was open in it or measured since its first day. One that
 * was met, ended or due before counts as closed.
 */
export function isOfSpan(
  { startOn, setUpOn, ended, setup, summary }: SummarisedGoal,
  { from, to }: ReportSpan,
): boolean {
  const begun = startOn ?? setUpOn;
  if (begun !== null && begun > to) return false;
  if (from === null) return true;
  const closed = [ended?.on, setup.metOn, setup.dueOn].some((on) => typeof on === "string" && on < from);
  return !closed || (summary?.lastOn ?? "") >= from;
}

/** The set-up as it was on a day, as far as it tells: what was confirmed or begun later is left out. */
export const setupOn = (setup: GoalSetup, day: string): GoalSetup => ({
  ...setup,
  metOn: setup.metOn !== null && setup.metOn <= day ? setup.metOn : null,
  phases: setup.phases.filter(({ startsOn }) => startsOn <= day),
});

/** What the numbers of a goal say on the last day of a span: entries, decisions and phases of later days are left out. */
export function judgeForReport(
  goal: SummarisedGoal,
  { to }: ReportSpan,
  {
    entriesOf,
    decisions,
    absences,
    calendar,
  }: Pick<GoalsMaterial, "entriesOf" | "decisions" | "absences" | "calendar">,
  words: Catalogue,
): JudgedGoal {
  const entries = entriesOf(goal.goalId).filter(({ on }) => on <= to);
  const setup = setupOn(goal.setup, to);
  const asked = { ...goal, setup };
  const series = goalSeries(setup, figuresOf(goal, entries), to);
  const figures = goalFullFigures(setup, series);
  const own = decisions.filter(({ goalId, on }) => goalId === goal.goalId && on <= to);
  const decided = judgeGoal(
    figures.decided,
    setup,
    { lastOn: series.all.at(-1)?.date ?? null, today: to, calendar, absences, taughtOn: taughtOn(own) },
    words,
  );
  return { goal: asked, entries, series, figures, decided, decisions: own };
}

/** Figures that are read first. Of a baseline that was not measured it says for which day it was entered. */
function figuresFor(
  { goal, figures, series }: JudgedGoal,
  isPlain: boolean,
  words: Catalogue,
): ReportFigure[] {
  const says = words.report;
  const [before, now] = isPlain
    ? [words.family.atFirst(), words.family.now()]
    : [says.labels.baseline, says.labels.now];
  const unit = unitOf(goal.measure);
  const { enteredBaseline } = goal.setup;
  const measured = figures.phases.find(({ phase }) => phase === baselinePhase);
  const last = series.points.at(-1);
  return [
    ...(measured
      ? [
          {
            label: before,
            value: says.value(measured.median, unit),
            about: isPlain ? words.family.measurements(measured.n) : says.medianOf(measured.n),
          },
        ]
      : enteredBaseline
        ? [
            {
              label: says.labels.baseline,
              value: says.value(enteredBaseline.value, unit),
              about: says.enteredFor(enteredBaseline.date),
            },
          ]
        : []),
    ...(last
      ? [
          {
            label: now,
            value: says.value(last.value, unit),
            about: says.countedOn(countedOf(last.entry), last.date),
          },
        ]
      : []),
  ];
}

const countedOf = ({ numerator, denominator }: EntryFigure) =>
  numerator === null || denominator === null ? null : { numerator, denominator };

/** Where a goal belongs on the first lines of a report. */
const glanceOf: Record<StandingKey, "well" | "decide" | "going"> = {
  ...{
    met: "well",
    ahead: "well",
    reached: "decide",
    lost: "decide",
    behind: "decide",
    "past-due": "decide",
  },
  ...{ on: "going", "new-phase": "going", "too-few": "going", "no-line": "going" },
};

/** What the first lines of a report say of a goal, and in which column. */
export function glanceAt(
  judged: JudgedGoal,
  { plain: isPlain }: AudienceSettings,
  words: Catalogue,
): { column: "well" | "decide" | "going"; id: string; text: string } {
  const { goal, decided, series } = judged;
  const says = words.report;
  const { standing, pace } = decided;
  const figures = figuresFor(judged, isPlain, words).map(({ value }) => value);
  const isMeasured = series.all.length > 0;
  return {
    id: goal.goalId,
    // Old data are a decision too: to measure it again, or not.
    column: !isMeasured || standing.stale ? "decide" : glanceOf[standing.key],
    text: isPlain
      ? words.family.glance(
          goal.title,
          isMeasured ? figures : [],
          !isMeasured
            ? words.family.notMeasured()
            : standing.stale
              ? words.family.stale()
              : words.family.briefly(standing.key),
        )
      : isMeasured
        ? says.glanceGoal(
            goal.title,
            figures,
            standing.word,
            pace.key === "none" || pace.key === "too-early" ? null : says.pace[pace.key],
            standing.stale,
          )
        : says.glanceNotMeasured(goal.title),
  };
}

/** What a goal means, in a plain sentence: what is worked on, and how far. Null where it has no criterion. */
function meaningOf({ goal }: JudgedGoal, name: string, words: Catalogue): string | null {
  const { criterion, dueOn } = goal.setup;
  return (
    criterion &&
    words.family.meaning(name, goal.title, criterionWords(criterion, goal.measure, words.criterion), dueOn)
  );
}

/** How a goal goes, in plain sentences. */
function plainStanding({ series, decided }: JudgedGoal, name: string, { family }: Catalogue): string[] {
  if (series.all.length === 0) return [family.notMeasured()];
  const { standing, pace } = decided;
  return [
    family.standing(standing.key, name),
    ...(standing.stale ? [family.stale()] : []),
    ...(pace.key === "enough" || pace.key === "not-enough"
      ? [family.pace(pace.key === "enough", (standing.key === "behind") === (pace.key === "enough"))]
      : []),
  ];
}

function factsOf({ goal: { setup, measure } }: JudgedGoal, words: Catalogue): ReportFact[] {
  const { labels, on } = words.report;
  const { criterion, dueOn } = setup;
  return [
    ...(criterion
      ? [{ label: labels.criterion, value: criterionWords(criterion, measure, words.criterion) }]
      : []),
    ...(dueOn ? [{ label: labels.due, value: on(dueOn) }] : []),
  ];
}

/**
 * What changed since baseline, phase line, last reporting period and breaks, as sentences.
 *
 * @param to the last day of the report, `YYYY-MM-DD`
 */
export function changesIn(
  { goal, figures, series }: JudgedGoal,
  to: string,
  calendar: SchoolCalendar,
  words: Catalogue,
) {
  const names = new Map(
    goal.setup.phases.map(({ phaseId, name, isBaseline }) =>
      isBaseline ? [baselinePhase, words.chartText.baseline()] : [phaseId, name],
    ),
  );
  return changesOf(
    {
      ...{ figures, points: series.points, calendar, today: to, unit: unitOf(goal.measure) },
      nameOf: (phase) => names.get(phase) ?? phase,
      enteredBaseline: goal.setup.enteredBaseline,
      direction: goal.setup.criterion?.direction ?? "increase",
    },
    words.changes,
  );
}

/** Several people who scored the same rubric, as a table; null where it was one. */
function ratersOf(
  { goal, entries }: JudgedGoal,
  { from, to }: ReportSpan,
  { ratings }: GoalsMaterial,
  settings: AudienceSettings,
  words: Catalogue,
) {
  const beside = ratings.filter(({ goalId }) => goalId === goal.goalId);
  const counted = entries.filter(({ measureVersion }) => measureVersion >= goal.figuresFromVersion);
  const isIn = (on: string) => (from === null || from <= on) && on <= to;
  const scored = [...counted, ...beside].filter(({ on }) => isIn(on));
  return ratersTable(
    rubricRatings(scored, words.entries),
    { staff: settings.staff, scale: "percent" },
    words,
  );
}

/** Which parts, people and settings the result of the current phase is made of. */
function madeOf(
  { goal, entries, series, figures }: JudgedGoal,
  renamed: ReadonlyMap<string, string>,
  { staff }: AudienceSettings,
  words: Catalogue,
): string[] {
  const { measure } = goal;
  const says = words.report;
  const current = series.points.filter(({ phase }) => phase === figures.currentPhase);
  const sources = entries
    .filter(({ measureVersion }) => measureVersion >= goal.figuresFromVersion)
    .map(({ entryId, on, measure: of, entry }) => ({ entryId, date: on, measure: of, entry }));
  const parts =
    detailsOf(measure).partsCalled === null
      ? null
      : partSentence(measure, partHistory(measure, sources, renamed));
  const nameOf = observersOf(entries);
  const shares =
    measure.kind === "running-total"
      ? []
      : carriedBy(
          current,
          unitOf(measure),
          (personId) => staffWords(nameOf(personId), staff, words),
          series.unit,
          words.changes,
        );
  return [
    parts && says.parts(parts.best, parts.bestWords, parts.least, parts.leastWords),
    independenceSentence(measure, current, words.changes),
    ...shares.flatMap(({ by, shares: all }) =>
      by === "weekday" || (by === "person" && staff === "none") ? [] : [says.carried(by, all)],
    ),
  ].filter((sentence) => sentence !== null);
}

/** The statements of the reporting periods in a span. One that was marked ready later, of a period that ended later, is left out. */
const statementsOf = (
  { goal }: JudgedGoal,
  { from, to }: ReportSpan,
  { statements, calledName }: GoalsMaterial,
  settings: AudienceSettings,
  words: Catalogue,
) =>
  statements
    .filter(
      ({ goalId, period: { fromOn, toOn }, ready }) =>
        goalId === goal.goalId &&
        fromOn <= to &&
        (from === null || from <= toOn) &&
        (toOn <= to || (ready !== null && ready.on <= to)),
    )
    .flatMap((statement) => statementIn(statement, { name: calledName, settings }, words) ?? []);

const listOf = (label: string, items: ReportList["items"]): ReportList[] =>
  items.length === 0 ? [] : [{ label, items }];
const plain = (sentences: readonly string[]): ReportList["items"] =>
  sentences.map((text) => ({ id: text, text, aside: null }));

/** A chart with its axes in words of a language. */
const inWords = (chart: ProgressChart, measure: Measure, per: GoalSeries["unit"], words: ChartWords) => ({
  ...chart,
  axisTitle: axisTitle(measure, per, words),
  ticks: timeTicks(chart.fromDay, chart.toDay, words.ticks),
});

function chartOf(
  judged: JudgedGoal,
  to: string,
  material: GoalsMaterial,
  { staff }: AudienceSettings,
  words: Catalogue,
): (ReportChart & { legend: string[] }) | null {
  const { series, figures, entries, decisions } = judged;
  const { setup } = judged.goal;
  const phases = setup.phases.map((phase) =>
    phase.isBaseline ? { ...phase, name: words.chartText.baseline() } : phase,
  );
  const goal = { ...judged.goal, setup: { ...setup, phases } };
  const { chart } = goalChart(goal, {
    ...{ series, figures, entries, goals: material.goals, scale: "linear", words: words.chartText },
    raterName: (name, at) => staffWords(name, staff, words) || words.jots.rater(at + 1),
    beside: {
      ...{ calendar: material.calendar, today: to, decisions },
      absences: material.absences.filter((on) => on <= to),
      notMeasured: material.notMeasured.filter(({ goalId, on }) => goalId === goal.goalId && on <= to),
    },
  });
  if (!chart || series.points.length === 0) return null;
  return {
    chart: smallChart(inWords(mostlyPoints(chart), goal.measure, series.unit, words.chart), words.chart),
    description: chartDescription(series, chart, words.chartText),
    legend: legendOf(chart, words.chart),
  };
}

/**
 * A goal in a report, as the numbers say it on the last day of the span; decisions are those of the span.
 *
 * @param settings how the audience reads it
 * @returns also what the marks of its chart stand for, which is said once for all goals
 */
export function goalBlock(
  judged: JudgedGoal,
  span: ReportSpan,
  material: GoalsMaterial,
  settings: AudienceSettings,
  words: Catalogue,
): { block: GoalBlock; legend: string[] } {
  const { from, to } = span;
  const has = (field: FieldName) => settings.fields.includes(field);
  const { goal, decided, series, decisions } = judged;
  const says = words.report;
  const { standing, rate } = decided;
  const running = runningWords(
    goal.setup,
    series,
    { today: to, calendar: material.calendar },
    words.progress,
  );
  const drawn = has("chart") ? chartOf(judged, to, material, settings, words) : null;
  const isPlain = settings.plain;
  const isMeasured = series.all.length > 0;
  const meaning = isPlain ? meaningOf(judged, material.calledName, words) : null;
  const statements = has("statements") ? statementsOf(judged, span, material, settings, words) : [];
  // In plain words both answer whether the goal will be reached: a family reads it once.
  const isAnswered = isPlain && statements.some(({ drafted }) => drafted !== "");
  const block: GoalBlock = {
    kind: "goal",
    ...{ goalId: goal.goalId, number: goal.number, title: goal.title, wording: goal.wording },
    ...{
      facts: isPlain && meaning ? [] : factsOf(judged, words),
      figures: has("figures") ? figuresFor(judged, isPlain, words) : [],
    },
    ...(isPlain ? { meaning } : {}),
    standing:
      !isMeasured || isPlain || !has("standing")
        ? null
        : {
            ...{ key: standing.key, word: standing.word },
            why: [standing.why, standing.stale].filter(Boolean).join(" "),
          },
    sentences:
      !has("standing") || isAnswered
        ? []
        : isPlain
          ? plainStanding(judged, material.calledName, words)
          : [running, !isMeasured || running ? "" : rate].filter((sentence): sentence is string =>
              Boolean(sentence),
            ),
    chart: drawn && { chart: drawn.chart, description: drawn.description },
    lists: [
      ...listOf(
        says.labels.changed,
        has("changes")
          ? plain(
              changesIn(judged, to, material.calendar, words).map((change) =>
                isPlain ? change.plain : change.words,
              ),
            )
          : [],
      ),
      ...listOf(
        says.labels.decided,
        (has("decisions") ? decisions : [])
          .filter(({ on }) => from === null || from <= on)
          .map(({ decisionId, kind, phaseName, reason, on, author }) => ({
            id: decisionId,
            text: [says.decided(kind, phaseName), has("notes") ? capitalise(reason.trim()) : ""]
              .filter(Boolean)
              .join(" "),
            aside: [says.on(on), staffWords(author, settings.staff, words)].filter(Boolean).join(" · "),
          })),
      ),
      ...meetingLists(material.meetingNotes, goal.goalId, settings, words),
      ...listOf(
        says.labels.carried,
        has("parts") ? plain(madeOf(judged, material.renamedOf(goal.goalId), settings, words)) : [],
      ),
    ],
    ...(has("statements") ? { statements } : {}),
    ...(goal.measure.kind === "rubric" && has("raters")
      ? { raters: ratersOf(judged, span, material, settings, words) }
      : {}),
  };
  return { block, legend: drawn?.legend ?? [] };
}
