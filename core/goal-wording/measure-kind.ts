import type { MeasureKind } from "../measures/measure.ts";
import type { ReadCount } from "./count.ts";
import type { ReadOpportunities } from "./occasions.ts";
import type { ReadSupport } from "./support.ts";
import type { Span, WorkingText } from "./working-text.ts";

export interface ReadParts {
  percent: { span: Span } | null;
  count: ReadCount | null;
  opportunities: ReadOpportunities | null;
  /** Everything that is counted k of n. */
  nouns: readonly string[];
  window: { span: Span } | null;
  support: ReadSupport | null;
}

interface ReadKind {
  kind: MeasureKind;
  /** The words that say so, where it is words and not one of the parts. */
  span: Span | null;
}

const anyAttempt =
  /^(?:trials?|oppor?tunit|oportunit|opportunites|times|occasions?|attempts?|problems?|questions?|productions?|check-?ins?|transitions?|transactions?|incidents?|episodes?|steps?|skills?|tasks?|assignments?|activities|directions?|requests?|sentences?|items?|prompts?|passages?|stories|texts?|paragraphs?|trails?|opp|responses?|answers?|accura|correct)/;

function wordsOf(text: WorkingText, pattern: RegExp): Span | null {
  const found = pattern.exec(text);
  return found ? [found.index, found.index + found[0].length] : null;
}

/** The first kind of measure that fits what was read, in the order of docs/methods.md; null where nothing states a criterion. */
export function readKind(text: WorkingText, parts: ReadParts): ReadKind | null {
  const { percent, count, opportunities, nouns, window, support } = parts;
  if (!percent && !count && !opportunities && !window && !support) return null;
  const rubric = wordsOf(
    text,
    /\brubrics?\b|\b(?:\w+[- ])?point (?:[a-z]+ )?scale\b|\b(?:rating|likert) scale\b|\bscale of \w+(?: to |-)\w+|\bscoring guide\b/,
  );
  if (rubric || count?.how === "points") return { kind: "rubric", span: rubric };
  if (count?.how === "rate") return { kind: "fluency", span: null };
  const intervals = wordsOf(
    text,
    /\btime[- ]sampl(?:es?|ing)\b|\b(?:partial|whole|momentary)[- ]intervals?\b|\b(?:of|in|across|per)(?: the| all| each)?(?: [\w.-]+){0,4} intervals?\b|\bintervals? (?:observed|recording|data|scored)\b/,
  );
  if (intervals || (opportunities && /^intervals?$/.test(opportunities.noun)))
    return { kind: "intervals", span: intervals };
  if (count?.how === "within" || count?.how === "or less") {
    const completes = /\b(?:complet|finish)[a-z]*\b/.test(text);
    const begins =
      /\b(?:begin|start|initiat|respon|answer|transition|mov|compl(?:y|ies)|follow|return|react|repl|attend|orient|line up|look|enter|join|calm|de-?escalat)/.test(
        text,
      );
    const lasts = completes || count.how === "or less";
    return { kind: lasts && !begins ? "duration" : "latency", span: null };
  }
  if (count?.how === "total") return { kind: "running-total", span: null };
  const analysis = wordsOf(
    text,
    /\btask[- ]anal[a-z]+\b|(?:%|percent)(?: of)?(?: the| all)?(?: [a-z]+){0,2} steps\b|\b(?:all|each|every)(?: of)?(?: the)?(?: \w+)? (?:[a-z]+ )?steps\b|\b(?:complet|perform)(?:e|es|ing)?(?: [a-z]+){0,2} (?:steps|sequence)\b/,
  );
  if (analysis || nouns.some((noun) => /^steps?$/.test(noun))) return { kind: "steps", span: analysis };
  if (nouns.some((noun) => /^skills?$/.test(noun))) return { kind: "skills", span: null };
  if (count?.how === "time") return { kind: "duration", span: null };
  if (count) return { kind: "count", span: null };
  const names = wordsOf(
    text,
    /\b(?:identif(?:y|ies|ying)|nam(?:e|es|ing)|read(?:s|ing)?|recogni[sz](?:e|es|ing)|label(?:s|ing|l?ing)?|point(?:s|ing)? to|recit(?:e|es|ing))\b/,
  );
  // "names the months, 12 of 12": the set stands before its count.
  const member =
    opportunities &&
    (opportunities.noun === ""
      ? /, (?:at least )?$/.test(text.slice(0, opportunities.span[0]))
      : !anyAttempt.test(opportunities.noun));
  if (names && member) return { kind: "checklist", span: names };
  const accuracy = wordsOf(
    text,
    /\bac{1,2}ur[a-z]*\b|\baccr?ura[a-z]*\b|(?<!self[- ])\bcorrect(?:ly|ness)?\b/,
  );
  if (accuracy) return { kind: "trials", span: accuracy };
  if (support) return { kind: "supports", span: null };
  return { kind: "trials", span: null };
}
