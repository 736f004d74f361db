import type { Criterion } from "../criteria/criterion.ts";
import type { PhaseComparison } from "../phases/compare-phases.ts";
import { fixed, inDigits } from "../words/numbers.ts";
import { listed } from "../words/lists.ts";
import { aimAt } from "./aim-line.ts";
import type { FullFigures } from "./full-figures.ts";
import type { Observation } from "./progress.ts";

/** A number as the panel shows it and where `figures progress --json` has it. */
export interface ShownNumber {
  label: string;
  /** As many digits as the panel shows; a text where there is no number, and why. */
  shown: string;
  /** Its place in the series of the command's output: `theilSen.slopePerWeek`. */
  field: string;
}

/** One method: its formula, its source, and the numbers of this goal put in. */
export interface Explained {
  /** Where it stands on its page: `trend`, `compare-0`. */
  id: string;
  name: string;
  formula: string;
  source: string;
  put: string;
  numbers: ShownNumber[];
}

const shownDigits = 3;
const digits = (value: number | null): string => (value === null ? "none" : fixed(value, shownDigits));
const listOf = (values: readonly number[]) => values.map(inDigits).join(", ");

function trend(
  { theilSen, slopePerWeek, nInPhase }: FullFigures,
  current: readonly Observation[],
): Explained[] {
  if (!theilSen) return [];
  const pairs = current.reduce(
    (sum, { date }, at) => sum + current.slice(at + 1).filter((other) => other.date !== date).length,
    0,
  );
  return [
    {
      id: "trend",
      name: "Trend (Theil–Sen)",
      formula:
        "The median of the slopes of all pairs of points on different dates, times 7. One bad day does not swing it. 95% interval after Sen, eq. 2.6; points of one student follow each other and are alike, so this and every interval here is narrower than it should be.",
      source: "Theil (1950); Sen (1968), Journal of the American Statistical Association 63:1379",
      put: `${nInPhase} points of the current phase make ${pairs} slopes: ${listOf(current.map(({ value }) => value))}.`,
      numbers: [
        { label: "slope a week", shown: digits(slopePerWeek), field: "theilSen.slopePerWeek" },
        { label: "a day, lower end", shown: digits(theilSen.low), field: "theilSen.lowPerDay" },
        { label: "a day, upper end", shown: digits(theilSen.high), field: "theilSen.highPerDay" },
      ],
    },
  ];
}

function rank({ kendall, autocorrelation, nInPhase }: FullFigures): Explained[] {
  if (!kendall) return [];
  return [
    {
      id: "rank",
      name: "Is there a trend at all (Kendall)",
      formula:
        "S = pairs that rise less pairs that fall; tau-b corrects for ties; p from z = (|S| − 1)/σ. Lag-1 autocorrelation says how much each point is like the one before it.",
      source: "Kendall (1975); Mann (1945). Autocorrelation: Box & Jenkins (1970), from memory",
      put: `${nInPhase} points, S = ${kendall.s}.`,
      numbers: [
        { label: "tau-b", shown: digits(kendall.tauB), field: "kendall.tauB" },
        { label: "p", shown: digits(kendall.p), field: "kendall.p" },
        { label: "lag-1 autocorrelation", shown: digits(autocorrelation), field: "autocorrelation" },
      ],
    },
  ];
}

function aim({ aim: line, fourPoint }: FullFigures, current: readonly Observation[]): Explained[] {
  if (!line) return [];
  const last = current.slice(-4).map(({ date, value }) => ({ value, aim: aimAt(line, date) }));
  return [
    {
      id: "aim",
      name: "Aim line, and on which side the last points are",
      formula:
        "From the last baseline date at the median baseline value to the due date at the criterion. Ahead or behind: all of the last four points of the phase, or seven of the last eight, strictly on one side, each against the line on its own date, on at least three days.",
      source: "Training of the National Center on Intensive Intervention, from memory",
      put: `${last.map(({ value, aim: at }) => `${listOf([value])} against ${listOf([at])}`).join("; ")}: ${fourPoint ?? "none"}.`,
      numbers: [
        { label: "from", shown: digits(line.fromValue), field: "aim.fromValue" },
        { label: "to", shown: digits(line.toValue), field: "aim.toValue" },
        { label: "a week", shown: digits(line.slopePerWeek), field: "aim.slopePerWeek" },
      ],
    },
  ];
}

function levels({ phases }: FullFigures, nameOf: (phase: string) => string): Explained[] {
  if (phases.length === 0) return [];
  return [
    {
      id: "levels",
      name: "Level of each phase",
      formula:
        "Median, mean of sessions, and standard deviation with n − 1. Changes are reported in medians.",
      source: "any textbook",
      put: phases
        .map(
          ({ phase, n, min, max }) => `${nameOf(phase)}: ${n} points, ${listOf([min])} to ${listOf([max])}`,
        )
        .join("; "),
      numbers: phases.flatMap(({ phase, median, mean, sd }, at) => [
        { label: `${nameOf(phase)}, median`, shown: digits(median), field: `phases.${at}.median` },
        { label: `${nameOf(phase)}, mean`, shown: digits(mean), field: `phases.${at}.mean` },
        { label: `${nameOf(phase)}, sd`, shown: digits(sd), field: `phases.${at}.sd` },
      ]),
    },
  ];
}

const compared: readonly (readonly [keyof PhaseComparison, string])[] = [
  ["nap", "NAP"],
  ["napLow", "NAP, lower end"],
  ["napHigh", "NAP, upper end"],
  ["tau", "Tau"],
  ["tauU", "Tau-U"],
  ["pnd", "PND, percent"],
  ["pem", "PEM, percent"],
  ["mannWhitneyP", "Mann–Whitney p"],
  ["logRatio", "log response ratio"],
  ["logRatioSe", "its standard error"],
  ["percentChange", "percent change of the mean"],
];

function comparisons(figures: FullFigures, nameOf: (phase: string) => string): Explained[] {
  return figures.comparisons.map((one, at) => {
    const { better, equal, worse } = one.pairs;
    return {
      id: `compare-${at}`,
      name: `“${nameOf(one.before)}” against “${nameOf(one.after)}”`,
      formula:
        "NAP = (better + ½ equal) / all pairs of a point before and one after; Tau = 2·NAP − 1; Tau-U takes the trend before from it. PND: points after beyond the best before; PEM: beyond the median before. Log ratio: ln(mean after / mean before), corrected for small samples. A before–after comparison never says why.",
      source:
        "Parker & Vannest (2009), Behavior Therapy 40:357; interval Newcombe (2006), method 5, from memory; Parker et al. (2011), Behavior Therapy 42:284; Scruggs et al. (1987); Ma (2006); Mann & Whitney (1947); Pustejovsky (2018), from memory",
      put: `${better} pairs better, ${equal} equal, ${worse} worse.`,
      numbers: compared.map(([field, label]) => {
        const value = one[field];
        return {
          label,
          shown: digits(typeof value === "number" ? value : null),
          field: `comparisons.${at}.${field}`,
        };
      }),
    };
  });
}

function outlook({ projection, ols, nInPhase }: FullFigures): Explained[] {
  if (!ols) return [];
  const line = [
    { label: "slope a week", shown: digits(7 * ols.slope), field: "ols.slopePerWeek" },
    { label: "r²", shown: digits(ols.r2), field: "ols.r2" },
    { label: "residual sd", shown: digits(ols.residualSd), field: "ols.residualSd" },
  ];
  return [
    {
      id: "outlook",
      name: "Least squares and outlook",
      formula:
        "The least-squares line of the phase; one new observation on the due date: mean ± t(n − 2) · residual sd · √(1 + 1/n + (x₀ − x̄)²/Σ(x − x̄)²). Shown above only from six points on three dates, where the line stays within the measure’s range, and not further ahead than the phase reaches back; the interval is cut at the ends of the measure.",
      source: "any regression textbook",
      put: `${nInPhase} points of the current phase${projection ? `, due ${projection.at}` : ""}.`,
      numbers: projection
        ? [
            ...line,
            { label: "on the due date", shown: digits(projection.mean), field: "projection.mean" },
            { label: "80%, lower end", shown: digits(projection.low80), field: "projection.low80" },
            { label: "80%, upper end", shown: digits(projection.high80), field: "projection.high80" },
            {
              label: "chance of the criterion",
              shown: digits(projection.probability),
              field: "projection.probability",
            },
          ]
        : line,
    },
  ];
}

function multiplier({ weeklyMultiplier }: FullFigures, unit: string): Explained[] {
  if (weeklyMultiplier === null || !unit.startsWith("per ")) return [];
  return [
    {
      id: "multiplier",
      name: "Weekly multiplier",
      formula:
        "10^(7 · slope of log₁₀ of the value per day), by least squares over the phase: ×1.25 is a quarter more each week.",
      source: "Pennypacker, Gutierrez & Lindsley (2003), from memory",
      put: "Every value is above 0.",
      numbers: [{ label: "times a week", shown: digits(weeklyMultiplier), field: "weeklyMultiplier" }],
    },
  ];
}

/** What the command, which knows a threshold and a window, does not know of a criterion. */
function beyondTheFile(criterion: Criterion): string[] {
  const { windowUnit, minimumOpportunities, joined, settings, people } = criterion;
  return [
    windowUnit === "session" ? "" : `points are pooled by ${windowUnit} first`,
    minimumOpportunities ? `points with fewer than ${minimumOpportunities} opportunities are left out` : "",
    joined?.length ? "another figure is joined to it" : "",
    settings || people ? "it is wanted in several settings or with several people" : "",
  ].filter(Boolean);
}

function mastery({ mastery: found }: FullFigures, criterion: Criterion | null): Explained[] {
  if (!found || !criterion) return [];
  const { k, n } = criterion.window;
  const beyond = beyondTheFile(criterion);
  return [
    {
      id: "mastery",
      name: "Criterion",
      formula: `Reached on the first date on which ${k} of the last ${n} outside the baseline meet the threshold; what falls outside the window later is lost again.`,
      source: "criterion and window as IEP goals state them, common practice",
      put:
        beyond.length > 0
          ? `The command knows threshold and window only, and here ${listed(beyond)}: the standing above is what counts.`
          : `${found.inWindow} of the last ${n} meet it now, ${k} are needed.`,
      numbers:
        beyond.length > 0
          ? []
          : [
              { label: "meet it now", shown: String(found.inWindow), field: "mastery.inWindow" },
              { label: "reached on", shown: found.on ?? "none", field: "mastery.on" },
            ],
    },
  ];
}

/**
 * How each figure of a goal is computed, with its own numbers.
 *
 * @param figures as the command computes them from the goal's file
 * @param points as they stand in that file
 */
export function howComputed(
  figures: FullFigures,
  points: readonly Observation[],
  nameOf: (phase: string) => string,
  { unit, criterion }: { unit: string; criterion: Criterion | null },
): Explained[] {
  const current = points.filter(({ phase }) => phase === figures.currentPhase);
  return [
    ...trend(figures, current),
    ...mastery(figures, criterion),
    ...aim(figures, current),
    ...rank(figures),
    ...levels(figures, nameOf),
    ...comparisons(figures, nameOf),
    ...outlook(figures),
    ...multiplier(figures, unit),
  ];
}
