import { numberPattern as n, readNumber } from "./numbers.ts";
import { findAll, mask, type Span, type WorkingText } from "./working-text.ts";

export interface ReadOpportunities {
  k: number;
  n: number;
  /** What is counted: "trials", "letters". */
  noun: string;
  span: Span;
}

export interface ReadWindow {
  k: number;
  n: number;
  consecutive: boolean;
  /** What one occasion is. */
  unit: "session" | "day" | "week" | "month";
  span: Span;
}

/** Occasions on which data are taken. Anything else that is counted "k of n" is an attempt within one of them. */
const occasion =
  "(?:sessions?|days?|weekdays?|weeks?|months?|probes?|checks?|samples?|data collections?|collections?|observations?|periods?|lessons?|assessments?|tests?|quizzes|measurements?|evaluations?|administrations?|data points?|mornings?|afternoons?|classes|meetings?)";
const attempt =
  "(?:trials?|trails?|opp|opportunit(?:y|ies)|oppurtunit(?:y|ies)|oportunit(?:y|ies)|opportunites|times|occasions?|attempts?|problems?|questions?|words?|letters?|productions?|check-ins?|transitions?|transactions?|incidents?|episodes?|intervals?|steps?|skills?)";
/** Settings, partners and staff are neither. */
const place =
  /^(?:settings?|environments?|locations?|places?|contexts?|classrooms?|adults?|staff|people|persons?|peers?|partners?|teachers?|listeners?|materials?|activit(?:y|ies)|subjects?|therapists?|situations?|communicators?|communities|routines?|stations?|times of)$/;

const stopWords =
  "(?:in|on|at|with|for|from|to|by|across|over|during|when|while|given|and|or|as|per|within|without|using|that|which|of|measured|correctly|accurately|independently|independantly|each|is|are|will|the|a|an)";
const stop = new RegExp(`^${stopWords}$`);

/** The words from here to the next that starts something new; the last of them is what is counted. */
function nounAfter(text: WorkingText, from: number): { words: string[]; end: number } {
  const pattern = /[ ]*([a-z][a-z'/-]*)/y;
  pattern.lastIndex = from;
  const words: string[] = [];
  let end = from;
  for (let found = pattern.exec(text); found && words.length < 5; found = pattern.exec(text)) {
    const word = found[1] ?? "";
    if (stop.test(word)) break;
    words.push(word);
    end = pattern.lastIndex;
    // "3 of 4 morning jobs": a singular before what is counted.
    const describes = !/s$/.test(word) && /^ [a-z-]+s\b/.test(text.slice(end));
    if (new RegExp(`^(?:${occasion}|${attempt})$`).test(word) && !describes) break;
  }
  return { words, end };
}

const unitOf = (noun: string): ReadWindow["unit"] =>
  /^(?:day|weekday|morning|afternoon)/.test(noun)
    ? "day"
    : /^week/.test(noun)
      ? "week"
      : /^month/.test(noun)
        ? "month"
        : "session";

const isOccasion = (noun: string) => new RegExp(`^${occasion}$`).test(noun);

const partNames = ["halves", "third", "fourth", "quarter", "fifth", "sixth", "eighth", "tenth"];
/** "fourths" → 4 */
const partsOf = (name = "") =>
  [2, 3, 4, 4, 5, 6, 8, 10][partNames.findIndex((one) => name.startsWith(one))] ?? 0;

interface Ratio {
  k: number;
  n: number;
  noun: string;
  words: string[];
  span: Span;
}

/** "4 of 5 trials", "4/5", "four out of the five …", "all 8 steps". */
function ratios(text: WorkingText): Ratio[] {
  const kOfN = new RegExp(
    `(?<k>${n}|(?<![\\d/.])\\d+(?= ?/ ?\\d))(?: ?/ ?| (?:out )?of (?:the |every |a |his |her |their |possible )?(?:last |total (?:of )?|possible )?)(?<n>${n}|\\d+(?![\\d/]))`,
  );
  // "8 community signs (stop, exit) out of 10": what is counted stands between.
  const between = new RegExp(
    `(?<k>${n}) (?<counted>(?:(?!${stopWords} )[a-z-]+ ){1,4})(?:\\([^)]*\\) )?(?:correctly )?out of (?:a (?:possible |total of )?)?(?<n>${n}|\\d+(?![\\d/]))`,
  );
  // "three-fourths of opportunities".
  const fraction = new RegExp(
    `(?<k>${n})[- ](?<parts>halves|thirds?|fourths?|quarters?|fifths?|sixths?|eighths?|tenths?) of (?:the |all |his |her |their )?`,
  );
  const all = new RegExp(`\\b(?:all|each)(?: of)?(?: the)? (?<n>${n})(?= [a-z])`);
  const inParts: ReturnType<typeof findAll> = findAll(text, fraction).map((found) => ({
    ...found,
    groups: { ...found.groups, n: String(partsOf(found.groups["parts"])) },
  }));
  return [
    ...inParts,
    ...findAll(text, all),
    ...[...findAll(text, kOfN), ...findAll(text, between)].sort((a, b) => a.span[0] - b.span[0]),
  ].flatMap(({ groups, span }) => {
    const size = readNumber(groups["n"] ?? "");
    const k = groups["k"] === undefined ? size : readNumber(groups["k"]);
    const counted = groups["counted"]?.trim().split(" ");
    const { words, end } = counted ? { words: counted, end: span[1] } : nounAfter(text, span[1]);
    const noun = words.at(-1) ?? "";
    // "12 of 16 points", "a score of 3 out of 4" are a level of a rubric, "10 of 15 minutes" is a time.
    const onRubric = /^ on (?:a|an|the|his|her|each|our)[^.;,]{0,40}(?:rubric|scale)/.test(
      text.slice(span[1]),
    );
    if (
      onRubric ||
      /^(?:points?|seconds?|minutes?|hours?)$/.test(noun) ||
      (noun === "" && /\bscor(?:e|es|ing)[a-z ]*$/.test(text.slice(0, span[0])))
    )
      return [];
    if (k > size || size === 0 || !Number.isInteger(k) || !Number.isInteger(size)) return [];
    if (groups["k"] === undefined && (noun === "" || place.test(noun) || !/s$|people/.test(noun))) return [];
    return [{ k, n: size, noun, words, span: [span[0], end] as Span }];
  });
}

const consecutiveWord =
  "(?:consecutive(?:ly)?|consectutive|consecutve|consequtive|successive|straight|back-to-back)";

/** "three consecutive sessions", "across 3 sessions", "over 2 weeks", "4 sessions in a row". */
function plainWindows(text: WorkingText): ReadWindow[] {
  const pattern = new RegExp(
    `(?<lead>\\b(?:in|on|across|over|for|during|at|from|through|throughout)(?: at least| a minimum of| any| the| a total of)? |)(?<n>${n}) (?<words>(?:(?!${stopWords} )[a-z-]+ ){0,4}?)(?<noun>${occasion})\\b(?! (?:per|a|each|every) )(?<after> in a row| consecutively| straight| running)?`,
  );
  return findAll(text, pattern).flatMap(({ groups, span }) => {
    const { lead = "", words = "", noun = "", after = "" } = groups;
    const size = readNumber(groups["n"] ?? "");
    const consecutive = new RegExp(consecutiveWord).test(words) || after !== "";
    const lengthOfPlan =
      /^(?:week|month)/.test(noun) && !consecutive && /^(?:in|at|from|during|through)? ?$/.test(lead);
    if ((lead === "" && !consecutive) || lengthOfPlan || size === 0 || !Number.isInteger(size)) return [];
    if (/^of /.test(text.slice(span[0] - 3, span[0]))) return [];
    return [{ k: size, n: size, consecutive, unit: unitOf(noun), span }];
  });
}

/** "across three trials", "on 3 consecutive attempts": attempts in a row within one occasion. */
function plainAttempts(text: WorkingText): ReadOpportunities[] {
  const pattern = new RegExp(
    `\\b(?:in|on|across|over|for)(?: at least)? (?<n>${n}) (?:(?:consecutive|successive|different|given|structured|consecutively) )*(?<noun>trials?|opportunities|attempts?|occasions?)\\b`,
  );
  return findAll(text, pattern).map(({ groups, span }) => {
    const size = readNumber(groups["n"] ?? "");
    return { k: size, n: size, noun: groups["noun"] ?? "", span };
  });
}

/**
 * Opportunities (k of n attempts within one session) and window (k of n occasions of data collection). Settings, partners
 * and staff are neither, nor is the number of weeks a plan lasts.
 */
export function readOccasions(text: WorkingText): {
  opportunities: ReadOpportunities | null;
  window: ReadWindow | null;
  /** What else is counted k of n: "5 of 6 steps in 4 of 5 trials". */
  nouns: string[];
  rest: WorkingText;
} {
  const found = ratios(text);
  const consecutive = ({ k, n: size, words, span }: Ratio) =>
    k === size &&
    (words.some((word) => new RegExp(`^${consecutiveWord}$`).test(word)) ||
      /^ (?:in a row|consecutively|straight)/.test(text.slice(span[1])));
  const windows: ReadWindow[] = found
    .filter(({ noun }) => isOccasion(noun))
    .map((ratio) => ({
      k: ratio.k,
      n: ratio.n,
      consecutive: consecutive(ratio),
      unit: unitOf(ratio.noun),
      span: ratio.span,
    }));
  let rest = found.reduce((masked, { span }) => mask(masked, span), text);
  const plain = plainWindows(rest);
  rest = plain.reduce((masked, { span }) => mask(masked, span), rest);
  const attempts: ReadOpportunities[] = found.filter(({ noun }) => !isOccasion(noun) && !place.test(noun));
  const more = attempts.length === 0 ? plainAttempts(rest) : [];
  rest = more.reduce((masked, { span }) => mask(masked, span), rest);
  const opportunities = [...attempts, ...more].at(-1) ?? null;
  return {
    opportunities: opportunities && {
      k: opportunities.k,
      n: opportunities.n,
      noun: opportunities.noun,
      span: opportunities.span,
    },
    window: windows.at(-1) ?? plain.at(-1) ?? null,
    nouns: attempts.map(({ noun }) => noun),
    rest,
  };
}
