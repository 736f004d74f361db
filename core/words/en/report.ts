import { figure } from "../amounts.ts";
import { dateWithYear, monthDay, shortDateWithYear, timeOfDay, wholeDate } from "../dates.ts";
import { fixedDecimals } from "../fixed-decimals.ts";
import { listed } from "../lists.ts";
import { capitalise, counts, inDigits, plural } from "../numbers.ts";
import { countOf } from "./count-of.ts";

const decisions = {
  "keep going": "decided to keep going",
  raise: "decided to raise the criterion",
  "change instruction": "decided to change the instruction",
  "new phase": "decided to begin a new phase",
  "more data": "decided to take more data first",
  "taught as planned": "taught as planned",
};

/** A label with how often it was recorded. */
export interface LabelCountArgs {
  label: string;
  n: number;
}

const labelCounts = (labels: readonly LabelCountArgs[]) =>
  listed(labels.map(({ label, n }) => `${label} (${inDigits(n)})`));

/** What a report says around its entries; English. Names, titles and notes are arguments. */
export const reportEn = {
  running: () => "Running report",
  glance: () => "At a glance",
  goals: () => "Goals",
  goal: () => "Goal",
  behavior: () => "Behavior",
  /** The heading of the log. */
  log: (order: "time" | "goal", hasIncidents: boolean) =>
    `${hasIncidents ? "Entries and incidents" : "Entries"} by ${order === "time" ? "day" : "goal"}`,
  incidents: () => "Incidents",
  /** What was written in meetings. */
  meeting: { agreed: "Agreed in meetings", question: "Questions from meetings" },
  /** What parents added to the record. `about`: the goal or the incidents it is about; null where it is about the whole record. */
  parents: {
    title: "Statement of the parents",
    incidents: "incidents",
    by: (whom: string, on: string, about: string | null) =>
      `${whom}, ${dateWithYear(on)}${about === null ? "" : `, about: ${about}`}`,
  },
  /** What was assessed with a rubric on one day. */
  assessment: {
    called: () => "Assessment",
    columns: { criterion: "Criterion", level: "Reached", meaning: "What that means" },
    level: (level: number, max: number) => `${inDigits(level)} of ${inDigits(max)}`,
    about: (on: string, points: number, most: number) =>
      `${shortDateWithYear(on)}, ${inDigits(points)} of ${inDigits(most)} ${plural(most, "point")}`,
    by: (author: string) => `Assessed by ${author}`,
  },
  noGoals: () => "No goal was open in this span.",
  noEntries: () => "No entries yet. Each entry appears here when it is saved.",
  day: (on: string) => shortDateWithYear(on),
  labels: {
    grade: "Grade",
    school: "School",
    iep: "IEP",
    team: "Support team",
    covers: "Covers",
    prepared: "Prepared",
    criterion: "Criterion",
    due: "Due",
    baseline: "Baseline",
    now: "Latest",
    well: "Going well",
    decide: "Needs a decision",
    going: "On the way",
    changed: "What changed",
    decided: "Decisions",
    carried: "What the result is made of",
    findings: "To check",
    plans: "Plans",
    thinking: "What may be happening",
    trying: "What is tried",
  },
  /** @param from null where it is open */
  span: (from: string | null, to: string) =>
    from === null ? `through ${dateWithYear(to)}` : `${dateWithYear(from)} to ${dateWithYear(to)}`,
  /** One of the support team: "Ines Okafor, speech-language pathologist". */
  member: (name: string, position: string) => (position ? `${name}, ${position}` : name),
  on: (on: string) => dateWithYear(on),
  pace: {
    enough: "Enough",
    "not-enough": "Not enough",
    unclear: "Not clear yet",
  },
  /** Which parts of a measure carry the result, and which hold it back. */
  parts: (best: string, bestWords: string, least: string, leastWords: string) =>
    `Highest: ${best}, ${bestWords}. Lowest: ${least}, ${leastWords}.`,
  /** "By person: I. Okafor 62% (31 of 50) and T. Brandvold 48% (24 of 50)." */
  carried: (by: "person" | "setting", shares: readonly { name: string; words: string }[]) =>
    `By ${by}: ${listed(shares.map(({ name, words }) => `${name} ${words}`))}.`,
  /** "12 incidents on 55 observed school days: 0.22 a day …" */
  incidentsIn: (n: number, days: number, rate: string) =>
    `${capitalise(countOf(n, "incident"))} in ${inDigits(days)} observed school ${plural(days, "day")}: ${rate}.`,
  incidentsBriefly: (n: number, days: number) =>
    `${capitalise(countOf(n, "incident"))} in ${inDigits(days)} observed school ${plural(days, "day")}.`,
  /** Rates in five school days, in this reporting period and the one before. */
  weeklyBefore: (before: number, now: number) =>
    `${fixedDecimals(now, 1)} a week this reporting period, ${fixedDecimals(before, 1)} in the one before.`,
  noIncidents: (days: number) =>
    `No incident was recorded in ${inDigits(days)} observed school ${plural(days, "day")}.`,
  noObservedDay: () => "No school day was observed in this span.",
  /** Days of these without any record, which count as 0. */
  silentDays: (n: number) =>
    `${inDigits(n)} of these days ${plural(n, "has", "have")} no record and ${plural(n, "counts", "count")} as 0.`,
  /** @param changed both rates and how they differ, in whole sentences, as the findings say it */
  sincePeriod: (before: string, after: string, changed: string) =>
    `${before} compared with ${after}. ${changed}`,
  soFar: (period: string) => `${period} so far`,
  mostOften: (behaviors: readonly LabelCountArgs[], antecedents: readonly LabelCountArgs[]) =>
    [
      `Recorded most often: ${labelCounts(behaviors)}.`,
      ...(antecedents.length > 0 ? [`Just before: ${labelCounts(antecedents)}.`] : []),
    ].join(" "),
  weeks: () => "Incidents by week",
  weekTick: (from: string) => monthDay(from),
  /**
   * When a line was recorded and by whom: "10:40 AM · N. Halloran".
   *
   * @param on the day, where the line does not stand under it; else null
   */
  by: (on: string | null, time: string, author: string) =>
    [on && shortDateWithYear(on), timeOfDay(time), author].filter(Boolean).join(" · "),
  /** One week of that drawing. */
  week: (from: string, n: number, days: number) =>
    `Week of ${dateWithYear(from)}: ${countOf(n, "incident")} in ${inDigits(days)} observed ${plural(days, "day")}`,
  planDays: (from: string, to: string | null) =>
    to === null ? `since ${dateWithYear(from)}` : `${dateWithYear(from)} to ${dateWithYear(to)}`,
  value: (value: number, unit: string) => figure(value, unit),
  /** "7 of 10, Nov 24, 2026" */
  countedOn: (counted: { numerator: number; denominator: number } | null, on: string) =>
    [counted ? counts(counted.numerator, counted.denominator) : null, dateWithYear(on)]
      .filter(Boolean)
      .join(", "),
  legend: (parts: readonly string[]) => `In the charts: ${parts.join("; ")}.`,
  medianOf: (n: number) => (n === 1 ? "one point" : `median of ${inDigits(n)} points`),
  enteredFor: (on: string) => `entered for ${dateWithYear(on)}`,
  /**
   * A goal on the first lines: "Two-digit subtraction: 25% → 70%. Ahead of the line. Pace: enough."
   *
   * @param figures the baseline and the latest, or one of them
   * @param stale that it was last measured long ago; null where it is not so
   */
  glanceGoal: (
    title: string,
    figures: readonly string[],
    standing: string,
    pace: string | null,
    stale: string | null,
  ) =>
    [
      `${[`${title}:`, figures.join("\u00a0→\u00a0")].filter(Boolean).join(" ")}${figures.length > 0 ? "." : ""}`,
      `${standing}.`,
      ...(stale ? [stale] : pace ? [`Pace: ${pace.toLowerCase()}.`] : []),
    ].join(" "),
  glanceNotMeasured: (title: string) => `${title}: not measured yet.`,
  /** "7 of 10, Tuesday, November 24" */
  aboutLast: (counted: { numerator: number; denominator: number } | null, entry: string | null, on: string) =>
    [counted ? counts(counted.numerator, counted.denominator) : entry, wholeDate(on)]
      .filter(Boolean)
      .join(", "),
  interval: (low: number, high: number) => `95% interval ${low}–${high}`,
  decision: (goal: string, kind: keyof typeof decisions, phase: string | null) =>
    `${goal}: ${decisions[kind]}${phase ? `; “${phase}” begins` : ""}.`,
  /** The same within the goal's own section: "Decided to begin a new phase; “touch math” begins." */
  decided: (kind: keyof typeof decisions, phase: string | null) =>
    `${capitalise(decisions[kind])}${phase ? `; “${phase}” begins` : ""}.`,
  toCheck: (finding: string, strength: "strong" | "weak") =>
    `To check${strength === "weak" ? " (weak, may be chance)" : ""}: ${capitalise(finding)}.`,
  countedFrom: (from: string, to: string) =>
    `Counted among the incidents recorded from ${dateWithYear(from)} to ${dateWithYear(to)}; not a cause.`,
};

/** What a report says around its entries, in one language. */
export type ReportWords = typeof reportEn;
