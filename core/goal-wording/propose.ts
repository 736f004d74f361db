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
  window?: Proposed<{ k: number; n: number; unit: "session" | "day" | "week" }>;
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
 * What a set-up would be, as far as the wording says it: 75 % of eight problems is a threshold of 75 and eight
 * opportunities (6 of 8), 90 words a minute with 95 % accuracy is a threshold of 90 and an accuracy joined to it.
 */
export function propose(wording: string): Proposal {
  const read = readGoal(wording);
  return { ...fromReading(read, wording), title: titleFrom(wording) };
}

function fromReading({ reading, words, windowUnit }: ReadGoal, wording: string): Omit<Proposal, "title"> {
  const { measure: kind, percent, count, opportunities, window, support, due } = reading;
  const said = (field: keyof typeof reading) => {
    const span = words[field];
    return span ? wording.slice(...span).trim() : null;
  };
  const spans = Object.values(words).sort((a, b) => a[0] - b[0]);
  if (kind === null) return { spans };
  const proposal: Omit<Proposal, "title"> = { spans, kind: { value: kind, words: said("measure") } };
  if (due) proposal.due = { value: due, words: said("due") };
  if (support) proposal.support = { value: support, words: said("support") };
  if (window)
    proposal.window = {
      value: { k: window.k, n: window.n, unit: windowUnit ?? "session" },
      words: said("window"),
    };
  const share = percent ?? (opportunities ? (100 * opportunities.k) / opportunities.n : null);
  const shareWords = percent === null ? said("opportunities") : said("percent");
  if (opportunities && ["trials", "supports", "latency", "intervals"].includes(kind)) {
    proposal.planned = { value: opportunities.n, words: said("opportunities") };
    if (percent !== null && !Number.isInteger((percent * opportunities.n) / 100)) delete proposal.planned;
  }
  // "75 % of eight problems", "given ten subtraction problems".
  const eachOf = new RegExp(
    `\\b(?:of (?:the )?|given (?:a (?:set|list) of )?)(?<n>${numberPattern}) (?:[a-z0-9_-]+ ){0,3}(?:problems|trials|questions|words|items|opportunities)\\b`,
  );
  const many = eachOf.exec(digitsForWords(workingText(wording)));
  if (percent !== null && many?.groups?.["n"] && !opportunities && ["trials", "supports"].includes(kind))
    proposal.planned = {
      value: readNumber(many.groups["n"]),
      words: wording.slice(many.index, many.index + many[0].length),
    };
  const bound = count && ("atLeast" in count ? count.atLeast : count.atMost);
  const direction: Direction = count && "atMost" in count ? "decrease" : "increase";
  if (count && bound !== null) {
    const countWords = said("count");
    const seconds = secondsIn[count.unit];
    if (kind === "fluency") {
      proposal.threshold = { value: { value: bound, direction }, words: countWords };
      proposal.counted = { value: count.unit.split(" ")[0] ?? "words", words: countWords };
      if (percent !== null)
        proposal.joined = {
          value: { figure: "accuracy", value: percent, direction: "increase" },
          words: said("percent"),
        };
    } else if (kind === "latency" && seconds) {
      proposal.withinSeconds = { value: bound * seconds, words: countWords };
      if (share !== null)
        proposal.threshold = { value: { value: share, direction: "increase" }, words: shareWords };
    } else if (kind === "duration" && seconds) {
      proposal.threshold = { value: { value: bound * seconds, direction }, words: countWords };
    } else if (kind === "running-total") {
      proposal.target = { value: { value: bound, unit: count.unit }, words: countWords };
      proposal.threshold = { value: { value: bound, direction: "increase" }, words: countWords };
    } else if (kind === "rubric") {
      const highest = /(\d+)[- ]point|\bof (\d+)/.exec(
        digitsForWords(workingText(wording)).replaceAll("_", ""),
      );
      const max = Number(highest?.[1] ?? highest?.[2] ?? 0);
      if (max >= bound && max > 0)
        proposal.threshold = {
          value: { value: (100 * bound) / max, direction: "increase" },
          words: countWords,
        };
    } else if (kind === "count") {
      const period = /^times per (\w+)$/.exec(count.unit)?.[1];
      proposal.threshold = { value: { value: bound, direction }, words: countWords };
      if (period === "minute" || period === "hour") proposal.per = { value: period, words: countWords };
      if (!count.unit.startsWith("times")) proposal.counted = { value: count.unit, words: countWords };
    }
  } else if (share !== null) {
    const less =
      /\b(?:less|fewer|no more) than [^.;]{0,6}%|\breduce|\bdecrease/.test(workingText(wording)) &&
      kind === "intervals";
    proposal.threshold = {
      value: { value: share, direction: less ? "decrease" : "increase" },
      words: shareWords,
    };
  }
  const interval = new RegExp(`(?<n>${numberPattern})[- ](?<unit>second|minute)s?[- ]interval`).exec(
    digitsForWords(workingText(wording)),
  );
  if (kind === "intervals" && interval?.groups)
    proposal.intervalSeconds = {
      value: readNumber(interval.groups["n"] ?? "") * (interval.groups["unit"] === "minute" ? 60 : 1),
      words: wording.slice(interval.index, interval.index + interval[0].length),
    };
  const parts = ["skills", "steps", "checklist"].includes(kind)
    ? listed(wording, opportunities?.n ?? null)
    : [];
  if (parts.length > 0) proposal.parts = { value: parts, words: parts.join(", ") };
  return proposal;
}
