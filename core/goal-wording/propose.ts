import type { Direction } from "../measures/direction-schema.ts";
import type { MeasureKind } from "../measures/measure.ts";
import { digitsForWords, numberPattern, readNumber } from "./numbers.ts";
import { readGoal, type ReadGoal } from "./read-goal.ts";
import type { SupportLevel } from "./support.ts";
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
  /** Parts that the wording lists after a colon: "(a) faces the cook, (b) …". */
  parts?: Proposed<string[]>;
}

export type PoolingUnit = "session" | "day" | "week" | "month";

const secondsIn: Record<string, number> = { seconds: 1, minutes: 60, hours: 3600 };

/** A short name for the goal: what the student will do, in a few of its words. */
export function titleFrom(wording: string): string {
  const after = /\bwill\s+(?:be able to\s+|independently\s+)?(.+)$/is.exec(wording)?.[1] ?? wording;
  const clause =
    after.split(/[,.;:(\n]|\s(?:with|within|in|on|for|by|given|when|to at least|no more than|at)\s/i)[0] ??
    after;
  const words = clause.trim().split(/\s+/).slice(0, 8).join(" ").slice(0, 80);
  return words.charAt(0).toUpperCase() + words.slice(1);
}

/** The parts that a wording lists; `count` of them where it says how many. */
function listed(wording: string, count: number | null): string[] {
  const lettered = [
    ...wording.matchAll(/\(?\b([a-h1-9])\)\s*([^,;()]+?)(?=\s*[,;.]|\s+(?:and\s+)?\(?[a-h1-9]\)|$)/gi),
  ];
  if (lettered.length >= 2) return lettered.map((found) => (found[2] ?? "").replace(/\s+and$/i, "").trim());
  const afterColon = /:\s*([^.:]+)/.exec(wording)?.[1] ?? "";
  const items = afterColon
    .split(/[,;]/)
    .map((item) => item.replace(/^\s*and\s+/i, "").trim())
    .filter(
      (item) =>
        item.length > 0 &&
        item.length <= 60 &&
        !/\d|\b(?:on|in|across|by)\b.*\b(?:day|session|week|trial)/i.test(item),
    );
  // "red, blue and green" are three where three are said; "rinse and dry" may be one.
  const [last = ""] = items.slice(-1);
  const both = last.split(/ and /);
  const all = items.length + 1 === count && both.length === 2 ? [...items.slice(0, -1), ...both] : items;
  return all.length >= 2 ? all : [];
}

/**
 * What a set-up would be, as far as the wording says it: 75% of eight problems is a threshold of 75 and eight
 * opportunities (6 of 8), 90 words a minute with 95% accuracy is a threshold of 90 and an accuracy joined to it.
 */
export function propose(wording: string): Proposal {
  const read = readGoal(wording);
  return { ...fromReading(read, wording), title: titleFrom(wording) };
}

const perPeriod =
  /\b(?:per|each|every|a|in a|in one|in the) (?:(?:school|calendar) )?(day|week|month)\b|\b(daily|weekly|monthly)\b/;
const unitOfAdverb: Record<string, PoolingUnit> = { daily: "day", weekly: "week", monthly: "month" };

/** Over what a number of events, a time or an amount is added up: said with the number, else after it. */
function pooling({ wording, kind, reading: { count }, said }: Material): Part {
  const period = /^times per (day|week|month)$/.exec(count?.unit ?? "")?.[1] as PoolingUnit | undefined;
  if (period) return { pooling: { value: period, words: said("count") } };
  if (!count || !["running-total", "count", "duration"].includes(kind)) return {};
  const found = perPeriod.exec(workingText(wording));
  const unit = (found?.[1] as PoolingUnit | undefined) ?? unitOfAdverb[found?.[2] ?? ""];
  return found && unit ? { pooling: { value: unit, words: wordsOf(wording, found) } } : {};
}

/** What was read, with what every piece below asks of it. */
interface Material {
  wording: string;
  kind: MeasureKind;
  reading: ReadGoal["reading"];
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
  rubric: ({ value, words }, { wording }) => {
    const highest = /(\d+)[- ]point|\bof (\d+)/.exec(
      digitsForWords(workingText(wording)).replaceAll("_", ""),
    );
    const max = Number(highest?.[1] ?? highest?.[2] ?? 0);
    if (max < value || max <= 0) return {};
    return { threshold: { value: { value: (100 * value) / max, direction: "increase" }, words } };
  },
  count: ({ value, unit, direction, words }) => {
    const period = /^times per (\w+)$/.exec(unit)?.[1];
    return {
      threshold: { value: { value, direction }, words },
      ...(period === "minute" || period === "hour" ? { per: { value: period, words } } : {}),
      ...(unit.startsWith("times") ? {} : { counted: { value: unit, words } }),
    };
  },
};

/** The percentage as the threshold; of intervals it may be one to stay below. */
function fromShare({ wording, kind, share }: Material): Part {
  if (share.value === null) return {};
  const less =
    /\b(?:less|fewer|no more) than [^.;]{0,6}%|\breduce|\bdecrease/.test(workingText(wording)) &&
    kind === "intervals";
  const direction = less ? "decrease" : "increase";
  return { threshold: { value: { value: share.value, direction }, words: share.words } };
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

function parts({ wording, kind, reading: { opportunities } }: Material): Part {
  if (!["skills", "steps", "checklist"].includes(kind)) return {};
  const found = listed(wording, opportunities?.n ?? null);
  return found.length > 0 ? { parts: { value: found, words: found.join(", ") } } : {};
}

function fromReading({ reading, words, windowUnit }: ReadGoal, wording: string): Omit<Proposal, "title"> {
  const { measure: kind, percent, opportunities, window, support, due } = reading;
  const said: Material["said"] = (field) => {
    const span = words[field];
    return span ? wording.slice(...span).trim() : null;
  };
  const spans = Object.values(words).sort((a, b) => a[0] - b[0]);
  if (kind === null) return { spans };
  const share = {
    value: percent ?? (opportunities ? (100 * opportunities.k) / opportunities.n : null),
    words: percent === null ? said("opportunities") : said("percent"),
  };
  const material: Material = { wording, kind, reading, said, share };
  return {
    spans,
    kind: { value: kind, words: said("measure") },
    ...(due ? { due: { value: due, words: said("due") } } : {}),
    ...(support ? { support: { value: support, words: said("support") } } : {}),
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
  };
}
