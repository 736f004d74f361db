import { dateOfDay, dayNumber, isDate } from "../dates/day-number.ts";
import type { ReportingSpan } from "../schedule/reporting-spans.ts";
import type { LengthBand } from "./lengths.ts";
import {
  type BinSize,
  binSizes,
  type Counted,
  dailyCounts,
  type Lengths,
  lengthsOf,
  type PatternIncident,
  type Patterns,
  patternsOf,
  strengthsOf,
} from "./patterns.ts";
import { type RateChange, rateChange } from "./rate.ts";
import type { Watched } from "./finding-candidates.ts";

/** A plan that was begun on a day: a phase line on everything that is counted by time. */
export interface PatternPlan {
  planId: string;
  name: string;
  beginsOn: string;
  /** The last day of the plan; null while it goes on. */
  endsOn: string | null;
}

/** Everything that patterns can be chosen from: what was recorded and watched of one student, oldest first. */
export interface PatternMaterial {
  incidents: readonly PatternIncident[];
  /** Observed school days, and those of them on which nobody wrote anything. */
  days: readonly string[];
  silentDays: readonly string[];
  /** Periods that nobody watched: `YYYY-MM-DD name`. */
  notWatched: readonly string[];
  periods: Watched["periods"];
  bands: readonly LengthBand[];
  plans: readonly PatternPlan[];
  /** Reporting periods that can be chosen as a span, the newest first. */
  reporting?: readonly ReportingSpan[];
  /** The first day of which anything is here. */
  earliest: string;
  /** The first day of the school year. */
  yearFrom: string;
  today: string;
}

/** Which incidents, and what they are compared with. */
export interface PatternChoice {
  /** As it was chosen: a number of days, "all", "own" dates, or empty for the school year. */
  span: string;
  from: string;
  to: string;
  /** Incidents with at least one of these; empty for every one. */
  behaviors: string[];
  settings: string[];
  bins: BinSize;
  /** Nothing, the span before, or around the day on which a plan began. */
  compare: "none" | "before" | PatternPlan;
}

export const namedSpans = [
  ["", "This school year"],
  ["28", "Last 4 weeks"],
  ["56", "Last 8 weeks"],
  ["all", "Two school years"],
  ["own", "Other dates"],
] as const;

const back = (date: string, days: number) => dateOfDay(dayNumber(date) - days);

/** What an address says, as `URLSearchParams` gives it. */
interface Address {
  get: (name: string) => string | null;
  getAll: (name: string) => string[];
}

/** Reads the choices from the address; values that do not fit are ignored. */
export function readChoice(search: Address, material: PatternMaterial): PatternChoice {
  const { incidents, plans, reporting = [], earliest, yearFrom, today } = material;
  const asked = search.get("span") ?? "";
  const period = reporting.find(({ key }) => key === asked);
  const span = period || namedSpans.some(([key]) => key === asked) ? asked : "";
  const own = (name: string, otherwise: string) => {
    const date = search.get(name) ?? "";
    return isDate(date) ? date : otherwise;
  };
  const ends: [from: string, to: string] = period
    ? [period.from, period.to]
    : span === "own"
      ? [own("from", yearFrom), own("to", today)]
      : [span === "" ? yearFrom : span === "all" ? earliest : back(today, Number(span) - 1), today];
  const [from, to] = ends[0] <= ends[1] ? ends : [ends[1], ends[0]];
  const known = (name: string, there: (one: PatternIncident) => readonly string[]) => {
    const all = new Set(incidents.flatMap(there));
    return [...new Set(search.getAll(name))].filter((one) => all.has(one));
  };
  const compared = search.get("compare");
  const within = plans.filter(({ beginsOn }) => from < beginsOn && beginsOn <= to);
  return {
    ...{ span, from, to },
    behaviors: known("behavior", ({ behaviors }) => behaviors),
    settings: known("setting", ({ setting }) => (setting === null ? [] : [setting])),
    bins: binSizes.find((size) => size === search.get("by")) ?? "week",
    // A plan that began within the span is what one wants to know of first.
    compare:
      compared === "none" || compared === "before"
        ? compared
        : (within.find(({ planId }) => planId === compared) ?? within.at(-1) ?? "none"),
  };
}

/** One of two spans that are compared. */
export interface ComparedSpan {
  from: string;
  to: string;
  n: number;
  incidentIds: string[];
  lengths: Lengths;
  strengths: Counted[];
}

export interface SpanComparison {
  before: ComparedSpan;
  after: ComparedSpan;
  /** Null where a span has no observed day. */
  rates: RateChange | null;
}

/** The incidents of the behaviors and settings that were chosen, on the days of the span. */
export const chosenIncidents = (
  { incidents }: Pick<PatternMaterial, "incidents">,
  { behaviors, settings }: Pick<PatternChoice, "behaviors" | "settings">,
): PatternIncident[] =>
  incidents.filter(
    (one) =>
      (behaviors.length === 0 || one.behaviors.some((name) => behaviors.includes(name))) &&
      (settings.length === 0 || (one.setting !== null && settings.includes(one.setting))),
  );

/** The patterns of what was chosen, and how it was before. */
export function choosePatterns(
  material: PatternMaterial,
  choice: PatternChoice,
): { patterns: Patterns; comparison: SpanComparison | null } {
  const { periods, bands } = material;
  const { from, to, bins, compare } = choice;
  const wanted = chosenIncidents(material, choice);
  const inSpan = (first: string, last: string) => ({
    incidents: wanted.filter(({ on }) => first <= on && on <= last),
    days: material.days.filter((day) => first <= day && day <= last),
  });
  const compareSpans = (
    [beforeFrom, beforeTo]: readonly [string, string],
    [afterFrom, afterTo]: readonly [string, string],
  ): SpanComparison => {
    const side = (first: string, last: string) => {
      const { incidents, days } = inSpan(first, last);
      return {
        counts: dailyCounts(incidents, days),
        figures: {
          ...{ from: first, to: last, n: incidents.length },
          incidentIds: incidents.map(({ incidentId }) => incidentId),
          lengths: lengthsOf(incidents, bands),
          strengths: strengthsOf(incidents),
        },
      };
    };
    const [before, after] = [side(beforeFrom, beforeTo), side(afterFrom, afterTo)];
    return {
      before: before.figures,
      after: after.figures,
      rates: rateChange(before.counts, after.counts),
    };
  };
  const length = dayNumber(to) - dayNumber(from) + 1;
  const comparison =
    compare === "none"
      ? null
      : compare === "before"
        ? compareSpans([back(from, length), back(from, 1)], [from, to])
        : compareSpans([from, back(compare.beginsOn, 1)], [compare.beginsOn, to]);
  const { incidents, days } = inSpan(from, to);
  const plan = typeof compare === "string" ? null : compare;
  return {
    comparison,
    patterns: patternsOf({
      ...{ incidents, days, from, to, periods, bands, bins },
      silent: material.silentDays.filter((day) => from <= day && day <= to).length,
      notWatched: new Set(material.notWatched),
      ...(plan &&
        comparison?.rates && {
          change: {
            name: `“${plan.name}” began`,
            rates: comparison.rates,
            incidentIds: incidents
              .filter(({ on }) => on >= plan.beginsOn)
              .map(({ incidentId }) => incidentId),
          },
        }),
    }),
  };
}
