import type { Direction } from "../measures/direction-schema.ts";
import type { MeasureKind } from "../measures/measure.ts";
import { digitsForWords, numberPattern, readNumber } from "./numbers.ts";
import { type MoreRead, readMore } from "./more.ts";
import { readGoal, type ReadGoal } from "./read-goal.ts";
import type { SupportLevel } from "./support.ts";
import { titleFrom } from "./title.ts";
import { type Span, workingText } from "./working-text.ts";

/** One field of a set-up as the wording proposes it, with the words it came from. */
export interface Proposed<T> {
  value: T;
  words: string | null;
}

/** A set-up as far as the wording says it, in the units of its measure. What it does not say is not here, and is asked. */
export interface Proposal {
  /** Where in the wording something was read, in order. */
  spans: Span[];
  title: string;
  kind?: Proposed<MeasureKind>;
  threshold?: Proposed<{ value: number; direction: Direction }>;
  planned?: Proposed<number>;
  window?: Proposed<{ k: number; n: number; unit: PoolingUnit }>;
  /** What one point is, where the wording says over what its number is added up: "3 times per day", "300 minutes each month". */
  pooling?: Proposed<PoolingUnit>;
  joined?: Proposed<{ figure: string; value: number; direction: Direction }>;
  withinSeconds?: Proposed<number>;
  intervalSeconds?: Proposed<number>;
  per?: Proposed<"minute" | "hour">;
  counted?: Proposed<string>;
  target?: Proposed<{ value: number; unit: string }>;
  support?: Proposed<{ level: SupportLevel; atMost: number | null }>;
  due?: Proposed<string>;
  /** Parts that the wording lists after a colon, in brackets or by numbers: "(a) faces the cook, (b) …". */
  parts?: Proposed<string[]>;
  /** How an interval is scored. */
  method?: Proposed<"partial" | "whole" | "momentary">;
  baseline?: Proposed<number>;
  settings?: Proposed<number>;
  people?: Proposed<number>;
  /** The highest level of a rubric. */
  highest?: Proposed<number>;
  /** Mean, median or longest, where the wording says which. */
  report?: Proposed<"mean" | "median" | "longest" | "total">;
  /** What no number can show. */
  confirm?: string[];
  /** The due date is the end of the IEP year, which the wording does not date. */
  atIepEnd?: true;
}

export type PoolingUnit = "session" | "day" | "week" | "month";

const secondsIn: Record<string, number> = { seconds: 1, minutes: 60, hours: 3600 };

/**
 * What a set-up would be, as far as the wording says it: 75% of eight problems is a threshold of 75 and eight opportunities (6 of 8), 90 words a
 * minute with 95% accuracy is a threshold of 90 and an accuracy joined to it.
 */
export function propose(wording: string): Proposal {
  const read = readGoal(wording);
  return { ...fromReading(read, wording), title: titleFrom(wording) };
}

/** What was read, with what every piece below asks of it. */
interface Material {
  wording: string;
  kind: MeasureKind;
  reading: ReadGoal["reading"];
  more: MoreRead;
  /** The words in which a field was said; null where they are not known. */
  said: (field: keyof ReadGoal["reading"]) => string | null;
  /** The percentage asked for, as such or as so many of so many. */
  share: { value: number | null; words: string | null };
}
type Part = Partial<Omit<Proposal, "spans" | "title">>;

/** The words of a match in the working text, as the wording has them: both are of the same length. */
const wordsOf = (wording: string, found: RegExpExecArray) =>
  wording.slice(found.index, found.index + found[0].length);

/** How many opportunities one probe has: "6 of 8", "75% of eight problems", "given ten subtraction problems". */
function planned({ wording, kind, reading: { percent, opportunities }, said }: Material): Part {
  if (opportunities) {
    const whole = percent === null || Number.isInteger((percent * opportunities.n) / 100);
    return whole && ["trials", "supports", "latency", "intervals"].includes(kind)
      ? { planned: { value: opportunities.n, words: said("opportunities") } }
      : {};
  }
  const eachOf = new RegExp(
    `\\b(?:of (?:the )?|given (?:a (?:set|list) of )?)(?<n>${numberPattern}) (?:[a-z0-9_-]+ ){0,3}(?:problems|trials|questions|words|items|opportunities)\\b`,
  );
  const many = eachOf.exec(digitsForWords(workingText(wording)));
  return percent !== null && many?.groups?.["n"] && ["trials", "supports"].includes(kind)
    ? { planned: { value: readNumber(many.groups["n"]), words: wordsOf(wording, many) } }
    : {};
}

interface Bound {
  value: number;
  unit: string;
  direction: Direction;
  words: string | null;
}

/** A number with its unit, as each kind of measure takes it; a kind that is not here takes none. */
const fromCount: Partial<Record<MeasureKind, (bound: Bound, material: Material) => Part>> = {
  fluency: ({ value, unit, direction, words }, { reading: { percent }, said }) => ({
    threshold: { value: { value, direction }, words },
    counted: { value: unit.split(" ")[0] ?? "words", words },
    ...(percent === null
      ? {}
      : {
          joined: {
            value: { figure: "accuracy", value: percent, direction: "increase" },
            words: said("percent"),
          },
        }),
  }),
  latency: ({ value, unit, words }, { share }) => {
    const seconds = secondsIn[unit];
    if (!seconds) return {};
    return {
      withinSeconds: { value: value * seconds, words },
      ...(share.value === null
        ? {}
        : { threshold: { value: { value: share.value, direction: "increase" }, words: share.words } }),
    };
  },
  duration: ({ value, unit, direction, words }) => {
    const seconds = secondsIn[unit];
    return seconds ? { threshold: { value: { value: value * seconds, direction }, words } } : {};
  },
  "running-total": ({ value, unit, words }) => ({
    target: { value: { value, unit }, words },
    threshold: { value: { value, direction: "increase" }, words },
  }),
  rubric: ({ value, words }, { more: { levels } }) =>
    levels && levels.max >= value
      ? {
          threshold: { value: { value: (100 * value) / levels.max, direction: "increase" }, words },
          highest: { value: levels.max, words },
        }
      : {},
  count: ({ value, unit, direction, words }) => {
    const period = /^times per (\w+)$/.exec(unit)?.[1];
    return {
      threshold: { value: { value, direction }, words },
      ...(period === "minute" || period === "hour" ? { per: { value: period, words } } : {}),
      ...(unit.startsWith("times") ? {} : { counted: { value: unit, words } }),
    };
  },
};

/** The percentage as the threshold, with the direction that the wording says. */
function fromShare({ share, more }: Material): Part {
  if (share.value === null) return {};
  return {
    threshold: { value: { value: share.value, direction: more.direction ?? "increase" }, words: share.words },
  };
}

/** What has to be reached: the number with its unit where one is said, else the percentage. */
function threshold(material: Material): Part {
  const { kind, reading, said } = material;
  const { count } = reading;
  if (!count) return fromShare(material);
  const atMost = "atMost" in count;
  const bound: Bound = {
    value: atMost ? count.atMost : count.atLeast,
    unit: count.unit,
    direction: atMost ? "decrease" : "increase",
    words: said("count"),
  };
  return fromCount[kind]?.(bound, material) ?? {};
}

function intervalLength({ wording, kind }: Material): Part {
  const interval = new RegExp(`(?<n>${numberPattern})[- ](?<unit>second|minute)s?[- ]interval`).exec(
    digitsForWords(workingText(wording)),
  );
  if (kind !== "intervals" || !interval?.groups) return {};
  const value = readNumber(interval.groups["n"] ?? "") * (interval.groups["unit"] === "minute" ? 60 : 1);
  return { intervalSeconds: { value, words: wordsOf(wording, interval) } };
}

function parts({ more: { items, steps } }: Material): Part {
  const found = items ?? steps;
  return found ? { parts: { value: found, words: found.join(", ") } } : {};
}

const reports: readonly (readonly [NonNullable<Proposal["report"]>["value"], RegExp])[] = [
  ["median", /\bmedian\b/],
  ["mean", /\bmean\b|\bon average\b|\baverages?\b|\bper (?:episode|incident|occurrence|bout)\b/],
  [
    "longest",
    /\bat (?:a|one) time\b|\bcontinuous(?:ly)?\b|\bconsecutive (?:minutes|seconds)\b|\buninterrupted\b|\bsustained?\b/,
  ],
  ["total", /\btotal\b|\bcumulative\b|\bin all\b|\baltogether\b/],
];

/** What the wording says beside the numbers: how it is scored or reported, where it starts, in how many places, what a person confirms. */
function further({ wording, kind, more }: Material): Part {
  const text = workingText(wording);
  const report = ["duration", "latency"].includes(kind)
    ? reports.find(([, pattern]) => pattern.test(text))
    : undefined;
  const isEach =
    more.levels &&
    /\b(?:in|on|for) (?:all|each|every)\b[^.;]{0,30}\b(?:criteri|categor|area|domain|trait|row)/.test(text);
  const confirm = [...(isEach ? [`each criterion at ${more.levels?.atLeast} or higher`] : [])];
  const said = <Value>(value: Value | undefined): Proposed<Value> | undefined =>
    value === undefined ? undefined : { value, words: null };
  const found = {
    method: said(more.method),
    baseline: said(more.baseline),
    settings: said(more.settings),
    people: said(more.people),
    report: report && { value: report[0], words: report[1].exec(text)?.[0] ?? null },
    confirm: confirm.length > 0 ? confirm : undefined,
    atIepEnd: iepEnd.test(text) || undefined,
  };
  return Object.fromEntries(Object.entries(found).filter(([, value]) => value !== undefined));
}

const iepEnd =
  /\b(?:end of|by|within|during|over|conclusion of)(?: the| this| one| his| her| their)? (?:current )?(?:iep (?:year|period|cycle|date|term|ends?)|annual (?:review|iep)|iep annual)|\bby (?:the )?annual review|\b(?:end|expiration) of (?:the |this |his |her |their )?iep\b|\bwithin (?:a|one|1) (?:calendar )?year\b/;

/** Does the help of a reading stand in the condition alone? */
const isCondition = ({ more: { condition }, said }: Material): boolean =>
  Boolean(condition && said("support") && condition.includes(said("support") ?? ""));

/** Over what a number of events, a time or an amount is added up. */
function pooling({ more: { unit }, said }: Material): Part {
  return unit ? { pooling: { value: unit, words: said("count") } } : {};
}

function fromReading({ reading, words, windowUnit }: ReadGoal, wording: string): Omit<Proposal, "title"> {
  const { measure: kind, percent, opportunities, window, support, due } = reading;
  const said: Material["said"] = (field) => {
    const span = words[field];
    return span ? wording.slice(...span).trim() : null;
  };
  const spans = Object.values(words).sort((a, b) => a[0] - b[0]);
  if (kind === null) return { spans };
  // "fewer than 2 of 10" is at most 1 of 10.
  const isFewer =
    opportunities !== null &&
    words.opportunities !== undefined &&
    /\b(?:fewer|less) than $/.test(workingText(wording).slice(0, words.opportunities[0]));
  const share = {
    value:
      percent ?? (opportunities ? (100 * (opportunities.k - (isFewer ? 1 : 0))) / opportunities.n : null),
    words: percent === null ? said("opportunities") : said("percent"),
  };
  const material: Material = { wording, kind, reading, more: readMore(wording, reading), said, share };
  return {
    spans,
    kind: { value: kind, words: said("measure") },
    ...(due ? { due: { value: due, words: said("due") } } : {}),
    // What is given before the response is a condition, and no prompt that is credited.
    ...(support && !isCondition(material) ? { support: { value: support, words: said("support") } } : {}),
    ...(window
      ? {
          window: {
            value: { k: window.k, n: window.n, unit: windowUnit ?? "session" },
            words: said("window"),
          },
        }
      : {}),
    ...pooling(material),
    ...planned(material),
    ...threshold(material),
    ...intervalLength(material),
    ...parts(material),
    ...further(material),
  };
}
