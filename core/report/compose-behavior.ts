import type { PatternMaterial } from "../incidents/choose.ts";
import { countLabels, type Counts } from "../incidents/counts.ts";
import { type Bin, dailyCounts, timeBins } from "../incidents/patterns.ts";
import { incidentRate, rateChange, type RateChange } from "../incidents/rate.ts";
import { changeWords, rateWords } from "../incidents/rate-words.ts";
import { dateOfDay, dayNumber } from "../dates/day-number.ts";
import type { Plan } from "../model/plan.ts";
import type { SchoolCalendar } from "../schedule/calendar.ts";
import type { Catalogue } from "../words/en.ts";
import { capitalise } from "../words/numbers.ts";
import type { PlanBlock, ReportBlock, ReportSpan, WeeksBlock } from "./document.ts";
import type { AudienceSettings } from "./audience.ts";
import { staffWords } from "./staff-words.ts";
import { type ReportRecord, reportLines } from "./report-lines.ts";

/** What the part of a report about behavior is made from. */
export interface BehaviorMaterial {
  /** Incidents and observed days, as the patterns are counted from. */
  patterns: Pick<PatternMaterial, "incidents" | "days" | "silentDays"> &
    // Where a file is made of them.
    Partial<Pick<PatternMaterial, "notWatched" | "periods">>;
  /** Those in place, removed ones left out. */
  plans: readonly Plan[];
  /** Sentences of the patterns that were added to the report, newest first. */
  findings: ReportRecord["patterns"];
  calendar: SchoolCalendar;
}

const isIn = ({ from, to }: ReportSpan, on: string) => (from === null || from <= on) && on <= to;

const findingsIn = ({ findings }: BehaviorMaterial, span: ReportSpan) =>
  findings.filter(({ on }) => isIn(span, on));

/** The plans that were in place on a day of the span. */
const plansIn = ({ plans }: BehaviorMaterial, { from, to }: ReportSpan) =>
  plans.filter(
    ({ beginsOn, endsOn }) => beginsOn <= to && (endsOn === null || from === null || from <= endsOn),
  );

/** Does anything in this span belong into a section on behavior? A student without an incident and a plan has none. */
export const hasBehavior = (material: BehaviorMaterial, span: ReportSpan): boolean =>
  material.patterns.incidents.some(({ on }) => isIn(span, on)) ||
  plansIn(material, span).length > 0 ||
  findingsIn(material, span).length > 0;

/** The days of these materials in a span, and the incidents on them. */
function within({ patterns }: BehaviorMaterial, from: string, to: string) {
  const isIn = (on: string) => from <= on && on <= to;
  return {
    incidents: patterns.incidents.filter(({ on }) => isIn(on)),
    days: patterns.days.filter(isIn),
    silent: patterns.silentDays.filter(isIn).length,
  };
}

/** Where a span begins: open at its beginning, with the first incident. */
const beginOf = ({ patterns }: BehaviorMaterial, { from, to }: ReportSpan): string =>
  from ?? patterns.incidents[0]?.on ?? to;

const dayBefore = (on: string) => dateOfDay(dayNumber(on) - 1);

function compare(
  material: BehaviorMaterial,
  before: [string, string],
  after: [string, string],
): RateChange | null {
  const [first, second] = [within(material, ...before), within(material, ...after)];
  return rateChange(dailyCounts(first.incidents, first.days), dailyCounts(second.incidents, second.days));
}

/** The reporting period of the last day and the one before it, compared; null where there was none. */
function periodsOf(material: BehaviorMaterial, to: string) {
  const periods = [...material.calendar.reportingPeriods].sort((a, b) => (a.fromOn < b.fromOn ? -1 : 1));
  const at = periods.findIndex(({ fromOn, toOn }) => fromOn <= to && to <= toOn);
  const [before, now] = [periods[at - 1], periods[at]];
  const rates = before && now && compare(material, [before.fromOn, before.toOn], [now.fromOn, to]);
  return rates ? { before, now, rates } : null;
}

function sincePeriod(material: BehaviorMaterial, to: string, words: Catalogue): string | null {
  const compared = periodsOf(material, to);
  if (!compared) return null;
  const { before, now, rates } = compared;
  const name = to < now.toOn ? words.report.soFar(now.name) : now.name;
  return words.report.sincePeriod(before.name, name, changeWords(rates, words.findings));
}

const mostNamed = 4;
const named = (counts: Counts) =>
  Object.entries(counts)
    .slice(0, mostNamed)
    .map(([label, n]) => ({ label, n }));

/** How often, against the last reporting period, and what was recorded most often. */
export function behaviorSentences(material: BehaviorMaterial, span: ReportSpan, words: Catalogue): string[] {
  const { to } = span;
  const says = words.report;
  const { incidents, days, silent } = within(material, beginOf(material, span), to);
  const rate = incidentRate(dailyCounts(incidents, days).map(({ count }) => count));
  if (!rate) return [says.noObservedDay()];
  if (incidents.length === 0) return [says.noIncidents(rate.days)];
  const often = says.incidentsIn(incidents.length, rate.days, rateWords(rate, words.findings));
  const change = sincePeriod(material, to, words);
  return [
    [often, silent > 0 ? says.silentDays(silent) : ""].filter(Boolean).join(" "),
    ...(change ? [change] : []),
    says.mostOften(named(countLabels(incidents, "behavior")), named(countLabels(incidents, "antecedent"))),
  ];
}

/** The behavior in a phrase for the first lines: how often, and how often in the reporting period before. */
export function behaviorGlance(material: BehaviorMaterial, span: ReportSpan, words: Catalogue): string[] {
  const { incidents, days } = within(material, beginOf(material, span), span.to);
  const rates = periodsOf(material, span.to)?.rates;
  return [
    words.report.incidentsBriefly(incidents.length, days.length),
    ...(rates ? [words.report.weeklyBefore(perWeek(rates.before.perDay), perWeek(rates.after.perDay))] : []),
  ];
}

const schoolWeek = 5;
const perWeek = (perDay: number) => schoolWeek * perDay;

/** Weeks without those at either end of which nothing is known: vacation before and after. */
function inUse(weeks: readonly Bin[]): Bin[] {
  const isKnown = ({ days, incidentIds }: Bin) => days > 0 || incidentIds.length > 0;
  return weeks.slice(weeks.findIndex(isKnown), weeks.findLastIndex(isKnown) + 1);
}

function weeksBlock(material: BehaviorMaterial, span: ReportSpan, words: Catalogue): WeeksBlock | null {
  const begin = beginOf(material, span);
  const { to } = span;
  const { incidents, days } = within(material, begin, to);
  if (incidents.length === 0) return null;
  return {
    kind: "weeks",
    title: words.report.weeks(),
    weeks: inUse(timeBins(incidents, days, { from: begin, to }, "week")).map((week) => ({
      ...{ from: week.from, n: week.incidentIds.length, days: week.days },
      label: words.report.week(week.from, week.incidentIds.length, week.days),
      tick: words.report.weekTick(week.from),
    })),
    plans: material.plans
      .filter(({ beginsOn }) => begin < beginsOn && beginsOn <= to)
      .map(({ beginsOn, name }) => ({ on: beginsOn, name })),
  };
}

/** A plan with how often it was before and since, as far as the span goes. */
function planBlock(plan: Plan, material: BehaviorMaterial, span: ReportSpan, words: Catalogue): PlanBlock {
  const says = words.report;
  const { beginsOn, endsOn, thinking, trying } = plan;
  const start = beginOf(material, span);
  const { to } = span;
  const rates =
    start < beginsOn && beginsOn <= to
      ? compare(material, [start, dayBefore(beginsOn)], [beginsOn, endsOn && endsOn < to ? endsOn : to])
      : null;
  return {
    kind: "plan",
    ...{ planId: plan.planId, name: plan.name, days: says.planDays(beginsOn, endsOn) },
    facts: [
      { label: says.labels.thinking, value: thinking },
      { label: says.labels.trying, value: trying },
    ].filter(({ value }) => value.trim() !== ""),
    changed: rates && changeWords(rates, words.findings),
  };
}

/** The section on behavior: rate and change, the weeks, what was added from the patterns, and the plans. */
export function behaviorBlocks(
  material: BehaviorMaterial,
  span: ReportSpan,
  {
    plain,
    staff,
    when,
    readsFindings,
  }: Pick<AudienceSettings, "plain" | "staff" | "when"> & {
    readsFindings: boolean;
  },
  words: Catalogue,
): ReportBlock[] {
  const says = words.report;
  const weeks = weeksBlock(material, span, words);
  const findings = readsFindings ? findingsIn(material, span) : [];
  const nothing = { entries: [], notMeasured: [], incidents: [], decisions: [], jots: [] };
  const lines = reportLines(
    [],
    { ...nothing, patterns: findings },
    findings.map(({ noteId }) => noteId),
    words,
  ).map((line) => {
    const author = staffWords(line.author, staff, words);
    return { ...line, author, by: words.report.by(null, when === "times" ? line.time : "", author) };
  });
  return [
    ...(plain
      ? behaviorGlance(material, span, words).slice(0, 1)
      : behaviorSentences(material, span, words)
    ).map((text): ReportBlock => ({ kind: "sentence", text })),
    ...(weeks ? [weeks] : []),
    ...(lines.length > 0
      ? [
          { kind: "heading" as const, id: "findings", text: capitalise(says.labels.findings) },
          ...lines.map((line) => ({ kind: "line" as const, line })),
        ]
      : []),
    ...plansIn(material, span)
      .map((plan) => planBlock(plan, material, span, words))
      .map((block) => (plain ? { ...block, changed: null } : block)),
  ];
}
