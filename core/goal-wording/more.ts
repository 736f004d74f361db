import type { Direction } from "../measures/direction-schema.ts";
import type { MeasureKind } from "../measures/measure-schema.ts";
import { digitsForWords, numberPattern as n, readNumber } from "./numbers.ts";
import type { GoalReading } from "./read-goal.ts";
import { workingText } from "./working-text.ts";

/** What a wording says beyond the seven fields of its reading; each only where it says it. */
export interface MoreRead {
  direction?: Direction;
  /** Where the goal starts, in the unit of its criterion. */
  baseline?: number;
  /** The members of a checklist, or the sub-skills of a grid. */
  items?: string[];
  steps?: string[];
  /** How an interval is scored. */
  method?: "partial" | "whole" | "momentary";
  /** Over what a number is added up. */
  unit?: "session" | "day" | "week" | "month";
  /** A second percentage, joined to a rate. */
  accuracy?: number;
  /** In how many settings, with how many people. */
  settings?: number;
  people?: number;
  /** Of a rubric. */
  levels?: { max: number; atLeast: number };
  /** A cue or material given before the response: no level of help. */
  condition?: string;
}

const number = (text: string | undefined) => readNumber(text ?? "");

const down =
  /\b(?:reduc|decreas|lower(?!-?case)|lessen|limit|diminish|minimi[sz]|cut down|drop|declin|extinguish|eliminat|refrain|abstain|not exceed|no longer)[a-z]*\b/;
const atMost = new RegExp(
  `\\b(?:less than|fewer than|no more than|not more than|at most|at or below|at or under|below|under|up to|a maximum of|maximum of|(?:will |does |to )?not exceed(?:ing)?|no greater than|drop(?:s|ping)? to|down to|reduc(?:e|es|ed|ing)(?: [^.;]{1,60}?)? to|decreas(?:e|es|ed|ing)(?: [^.;]{1,60}?)? to) (?:an average of |about )?${n} ?(?:%|percent|of\\b|out of|/|times|or fewer|or less|[a-z])`,
);
const orLess = new RegExp(`${n} ?(?:%|percent)?(?: [a-z]+){0,2} or (?:less|fewer|below|under)\\b`);
const none =
  /\b(?:zero|0|no) (?:[a-z-]+ ){0,2}(?:elopements?|outbursts?|incidents?|instances?|aggressions?|tantrums?|episodes?|call-?outs?|referrals?|occurrences?)\b/;
const upwards = /\b(?:increas|improv|grow|gain)[a-z]*\b/;

const atLeast =
  /\b(?:at least|no (?:less|fewer|lower) than|a minimum of|minimum of|or (?:more|higher|better|greater|above)|(?<!\bno )(?<!\bnot )more than)\b/;
const saysMore = (text: string) => upwards.test(text) || atLeast.test(text);

/** Does the wording want less? Only where it says so; a time limit and allowed help or errors do not. */
function direction(
  text: string,
  { measure, count, percent, opportunities }: GoalReading,
): Direction | undefined {
  if (measure === null) return undefined;
  // A time limit in so many of so many is a share to be reached.
  if (measure === "latency")
    return percent === null && opportunities === null && count ? "decrease" : undefined;
  if (count && "atMost" in count) return "decrease";
  // What is said of help or errors is not said of the goal.
  const own = text.replace(
    new RegExp(
      `(?:(?:no more than|at most|fewer than|less than|up to|a maximum of) )?${n}(?: or (?:fewer|less))? (?:[a-z/-]+ ){0,4}(?:prompt|cue|reminder|redirect|error|mistake|miscue|step|minute|second|model|assist|support)[a-z]*`,
      "g",
    ),
    " ",
  );
  if (count) return saysMore(own) ? "increase" : undefined;
  if (percent !== null) {
    const share = new RegExp(`(?:${n}) ?(?:%|percent)`).exec(own);
    const before = share ? own.slice(Math.max(0, share.index - 90), share.index + share[0].length + 16) : "";
    if (atMost.test(before) || orLess.test(before) || (down.test(own) && !upwards.test(own)))
      return "decrease";
    return saysMore(own) ? "increase" : undefined;
  }
  if (none.test(own) || atMost.test(own) || orLess.test(own)) return "decrease";
  if (down.test(own) && !upwards.test(own)) return "decrease";
  return saysMore(own) ? "increase" : undefined;
}

/** "from 42 wcpm", "(baseline: 30%)", "current level of 3 a day"; so many of so many as a percentage. */
function baseline(text: string): number | undefined {
  const amount = `(?<n>${n})(?: ?(?:of|out of|/) ?(?<of>${n}))?`;
  const found =
    new RegExp(
      `\\bfrom (?:a |an |the )?(?:baseline |current (?:level|rate|average) |average |mean )*(?:of )?${amount}(?: ?%| percent)?[^.;]{0,60}?\\bto\\b`,
    ).exec(text) ??
    new RegExp(
      `\\b(?:baseline|present level|current(?:ly)?(?: level| rate| average| performance)?)(?: data| score| average)?(?: is| was| of|:| at| =|,)* ?(?:about |approximately |an average of )?${amount}`,
    ).exec(text);
  if (!found?.groups) return undefined;
  const of = number(found.groups["of"] ?? "");
  return of > 0 ? Math.round((100 * number(found.groups["n"])) / of) : number(found.groups["n"]);
}

const isItem = (item: string) =>
  item.length > 0 &&
  item.length <= 80 &&
  !/^(?:e\.?g|i\.?e|such as|see|baseline|current|with|in|on|by|at|given|as measured|according)\b/i.test(
    item,
  ) &&
  !/\d+ ?%|\b\d+ (?:of|out of) \d+|\b(?:sessions?|trials?|opportunities|days|weeks|probes)\b/i.test(item);

const trimmed = (item: string) =>
  item
    .replace(/^\s*(?:and|or|&)\s+/i, "")
    .replace(/^\s*\(?(?:\d{1,2}|[a-j])[).:]\s*/i, "")
    .replace(/[\s.,;]+$/, "")
    .trim();

/** Items that are numbered or lettered: "(1. rinse, 2. dry)", "(a) opens it, (b) pours", "1) … 2) …". */
function numbered(wording: string): string[] {
  const found = [
    ...wording.matchAll(
      /(?<![\w.])\(?(?:[a-j]|\d{1,2})[.)]\s*([^,;()\n]+?)(?=\s*[,;.)\n]*\s*(?:and\s+)?\(?(?:[a-j]|\d{1,2})[.)]\s|\s*[,;.)]|\s*$)/gi,
    ),
  ].map((one) => trimmed(one[1] ?? ""));
  return found.length >= 2 && found.every((item) => item.length > 0 && item.length <= 80) ? found : [];
}

/** Items after a colon or in brackets, parted by commas or semicolons. */
function listedItems(wording: string, wanted: number | null): string[] {
  const places = [
    ...[...wording.matchAll(/:\s*([^.:]+)/g)].map((found) => found[1] ?? ""),
    ...[...wording.matchAll(/\(([^()]+)\)/g)].map((found) => found[1] ?? ""),
    ...[...wording.matchAll(/\b(?:including|namely)\s+([^.:;()]+)/gi)].map((found) => found[1] ?? ""),
  ];
  for (const place of places) {
    const parts = place.split(place.includes(";") ? /;/ : /,/).map(trimmed);
    // The list ends where the sentence goes on: "…, says thank you, on four consecutive days".
    const end = parts.findIndex((part) => !isItem(part));
    const items = end === -1 ? parts : parts.slice(0, end);
    const [last = ""] = items.slice(-1);
    const both = last.split(/ and | & /).map(trimmed);
    const all = items.length + 1 === wanted && both.length === 2 ? [...items.slice(0, -1), ...both] : items;
    if (all.length >= 2 && (wanted === null || all.length <= wanted + 1)) return all;
    // "red and blue" in brackets.
    if (all.length === 1 && both.length === 2 && wanted === 2) return both;
  }
  return [];
}

/** The parts that a wording lists, in its own words and order; `wanted` of them where it says how many. */
export function listedParts(wording: string, wanted: number | null): string[] {
  const inOrder = numbered(wording);
  return inOrder.length > 0 ? inOrder : listedItems(wording, wanted);
}

const methods: readonly (readonly [MoreRead["method"] & string, RegExp])[] = [
  ["momentary", /\bmomentary\b|\bmts\b/],
  ["whole", /\bwhole[- ](?:\w+[- ])?intervals?\b/],
  ["partial", /\bpartial[- ](?:\w+[- ])?intervals?\b/],
];

const perPeriod =
  /\b(?:per|each|every|a|in a|in one|in the|a single) (?:(?:school|calendar|instructional) )?(session|class period|class|day|week|month)\b|\b(daily|weekly|monthly)\b|\b\d+ ?x ?\/ ?(day|wk|week|mo|month)\b|\/(day|wk|week|mo|month)\b/;
const unitOf: Record<string, NonNullable<MoreRead["unit"]>> = {
  ...{ daily: "day", weekly: "week", monthly: "month", wk: "week", mo: "month" },
  ...{
    session: "session",
    class: "session",
    "class period": "session",
    day: "day",
    week: "week",
    month: "month",
  },
};

/** Over what events, times or amounts are added up. */
function pooledTo(text: string, { count, measure }: GoalReading): MoreRead["unit"] {
  const period = /^times per (\w+)$/.exec(count?.unit ?? "")?.[1];
  if (period) return unitOf[period];
  if (!count || !measure || !["running-total", "count", "duration"].includes(measure)) return undefined;
  // "weekly probes" are when it is measured.
  const found = perPeriod.exec(
    text.replace(
      /\b(?:daily|weekly|monthly) (?:probes?|checks?|data|samples?|assessments?|quizzes|tests?|reports?|schedule|routine)\b/g,
      " ",
    ),
  );
  return found ? unitOf[found[1] ?? found[2] ?? found[3] ?? found[4] ?? ""] : undefined;
}

const placesCounted = new RegExp(
  `(?<n>${n}) (?:(?:different|separate|distinct|school|natural|other|or more|various|novel) )*(?<what>settings?|environments?|locations?|places|classrooms|contexts|people|persons|adults|staff(?: members?)?|peers|partners|teachers|listeners|communication partners)\\b`,
  "g",
);
const isPlace = /setting|environment|location|place|classroom|context/;

function breadth(text: string): Pick<MoreRead, "settings" | "people"> {
  const found: Pick<MoreRead, "settings" | "people"> = {};
  for (const { groups } of text.matchAll(placesCounted)) {
    const many = number(groups?.["n"]);
    if (many < 2 || many > 20) continue;
    if (isPlace.test(groups?.["what"] ?? "")) found.settings ??= many;
    else found.people ??= many;
  }
  return found;
}

/** "level 3 of 4", "at least a 3 on a 4-point rubric", "3 or higher in all criteria": each criterion. */
function levels(text: string, { measure, count }: GoalReading): MoreRead["levels"] {
  if (measure !== "rubric") return undefined;
  const scale =
    new RegExp(`(?<n>${n})[- ]?(?:point|level|pt)s?[- ](?:[a-z]+ ){0,3}(?:rubric|scale|guide)`).exec(text) ??
    new RegExp(`\\bscale of ${n} ?(?:-|to) ?(?<n>${n})`).exec(text) ??
    new RegExp(`\\b(?:level |a )?${n} ?(?:/|out of|of) ?(?:a possible )?(?<n>${n})`).exec(text);
  const max = number(scale?.groups?.["n"]);
  const level =
    new RegExp(`\\blevel (?<n>${n})`).exec(text) ??
    new RegExp(`(?<n>${n}) or (?:higher|above|better|more)`).exec(text);
  const atLeast = count && "atLeast" in count ? count.atLeast : number(level?.groups?.["n"]);
  return max >= 2 && atLeast >= 1 && atLeast <= max ? { max, atLeast } : undefined;
}

/** What is given before the response: "given a visual schedule", "when shown a picture cue". */
function condition(wording: string): string | undefined {
  const found =
    /(?:^|[,.;]\s*|\b(?:IEP|plan|year|\d{4}),?\s+)((?:[Gg]iven|[Ww]hen (?:given|shown|presented with|provided with)|[Pp]rovided with|[Ww]ith the use of|[Uu]sing)\s+[^,;.]{3,120})(?=[,;])/.exec(
      wording,
    );
  const words = found?.[1]?.trim();
  return words &&
    !/\d+\s*%|\b(?:no more than|fewer than|less than|at most|up to|minimal|moderate|maximal) /i.test(words)
    ? words
    : undefined;
}

/** The percentage beside a rate, in digits or words. */
const accuracy = ({ measure, percent }: GoalReading) =>
  measure === "fluency" && percent !== null ? percent : undefined;

const listKinds: Partial<Record<MeasureKind, "items" | "steps">> = {
  ...{ checklist: "items", skills: "items", steps: "steps" },
};

/**
 * What a wording says beyond the seven fields: direction, baseline, items or steps, how intervals are scored, over what is added up, the accuracy
 * joined to a rate, settings and people, the levels of a rubric, and what is given before the response. Nothing is guessed: a key is there only
 * where the wording says it.
 *
 * Source: conventions as for `readGoal`, after how IEP goals are commonly written (common practice).
 */
export function readMore(wording: string, reading: GoalReading): MoreRead {
  const text = digitsForWords(workingText(wording)).replaceAll("_", " ").replace(/ {2,}/g, " ");
  const { measure, opportunities } = reading;
  const parts = measure === null ? [] : listedParts(wording, opportunities?.n ?? null);
  const listed = measure === null ? undefined : listKinds[measure];
  const found: { [Key in keyof MoreRead]: MoreRead[Key] | undefined } = {
    direction: direction(text, reading),
    baseline: measure === null ? undefined : baseline(text),
    ...(listed && parts.length > 0 ? { [listed]: parts } : {}),
    method: measure === "intervals" ? methods.find(([, pattern]) => pattern.test(text))?.[0] : undefined,
    unit: pooledTo(text, reading),
    accuracy: accuracy(reading),
    ...(measure === null ? {} : breadth(text)),
    levels: levels(text, reading),
    condition: measure === null ? undefined : condition(wording),
  };
  return Object.fromEntries(Object.entries(found).filter(([, value]) => value !== undefined));
}
