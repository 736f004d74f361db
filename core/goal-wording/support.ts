import { numberPattern as n, readNumber } from "./numbers.ts";
import { findAll, mask, maskAll, type Span, type WorkingText } from "./working-text.ts";

/** From least to most help; the amounts stand beside them, and `any` is help of no kind named. */
export const supportKinds = [
  "independent",
  "gestural",
  "verbal",
  "visual",
  "model",
  "partial-physical",
  "full-physical",
] as const;
export type SupportLevel = (typeof supportKinds)[number] | "minimal" | "moderate" | "maximal" | "any";

export interface ReadSupport {
  level: SupportLevel;
  atMost: number | null;
  span: Span;
}

const help =
  "(?:prompt(?:s|ing|ed)?|promting|promts?|cue(?:s|d|ing)?|reminders?|re-?directions?|redirects?|assistance|assist|assists|supports?|help|guidance|models?|modell?ing)";

const kindPatterns: [SupportLevel, RegExp][] = [
  ["full-physical", /\bhand[- ]over[- ]hand\b|\bhoh\b|\bfull(?:y)?[- ]physical|\bfull assist/],
  ["partial-physical", /\bphysical/],
  ["model", /\bmodel/],
  ["visual", /\bvisual|\bpicture|\bpictorial|\bwritten\b/],
  ["verbal", /\b(?:verbal(?:ly)?|spoken|oral)\b/],
  ["gestural", /\bgestur|\bpointing|\bpoint\b/],
];
const amountPatterns: [SupportLevel, RegExp][] = [
  ["minimal", /\bmin(?:imal|imum|\.)?(?= |$)(?! of)/],
  ["moderate", /\bmod(?:erate|\.)?(?= |$)/],
  ["maximal", /\bmax(?:imal|imum|\.)?(?= |$)(?! of)/],
];

/** Words that may stand between a number or preposition and the kind of help. */
const between =
  "(?:(?:additional|adult|teacher|staff|peer|para|paraprofessional|clinician|therapist|slp|parent|caregiver|verbal(?:ly)?|spoken|oral|gestur(?:al|e)|visual|written|picture|pictorial|physical|partial|full|fully|tactile|environmental|direct|indirect|contact[- ]guard|stand-?by|hands-on|specific|general|minimal|minimum|min\\.?|moderate|mod\\.?|maximal|maximum|max\\.?|total|hand[- ]over[- ]hand|hoh|pointing|model|modell?ed|modell?ing|faded|fading|single|brief|simple|nonverbal|non-verbal|step|sentence|text|auditory|sensory|light|occasional|educator|instructor|repeated|consistent|light|external|an|a|of|or|and|to|no|any|other|further)[ /,&-]+)";

/** Help that is not help: what a person asks for, plans and roles named after support, cues that are read in faces. */
function withoutOtherHelp(text: WorkingText): WorkingText {
  let rest = maskAll(
    text,
    /\b(?:calls?(?:ed|ing)? for|ask(?:s|ed|ing)?(?: [a-z]+){0,4}? for|request(?:s|ed|ing)?(?: for)?|seek(?:s|ing)?|raise[sd]? (?:his|her|their) hand for|offer(?:s|ed|ing)?|accept(?:s|ed|ing)?|need(?:s|ed|ing)?(?: for)?) (?:[a-z]+ ){0,2}(?:help|assistance|support|prompts?|reminders?|models?)\b/,
  );
  rest = maskAll(
    rest,
    /\b(?:behavior(?:al)?|learning|life|text|textual|emotional|academic) supports?\b(?= (?:plan|program|class|room|team|staff))|\bsupports?(?= (?:plan|staff|teacher|class|room|team|person|program|group|services?|detail|evidence|idea|answer|opinion|claim|reason))|\bsupport(?:s|ed|ing)? (?:his|her|their|the|an?|it|each|with (?:text|evidence|details|reasons))\b|\bto support\b|\bsupporting\b/,
  );
  rest = maskAll(
    rest,
    /\b(?:social|context|contextual|nonverbal|non-verbal|facial|body language|emotional|situational|phonetic|text) cues?\b|\bhelp (?:card|sign|button|others|a |an |the |peers?|his|her|their|with)\b|\bto help\b|\b(?:role|area|number|bar|tape|math|fraction|area|scale) models?\b|\bmodel(?:s|ed|ing)? (?:appropriate|behavior|kindness)/,
  );
  return rest;
}

function levelOf(words: string): SupportLevel {
  const kinds = kindPatterns.filter(([, pattern]) => pattern.test(words)).map(([level]) => level);
  const listed: readonly string[] = supportKinds;
  const most = kinds.sort((a, b) => listed.indexOf(b) - listed.indexOf(a))[0];
  return most ?? amountPatterns.find(([, pattern]) => pattern.test(words))?.[0] ?? "any";
}

/** Of several kinds of help, the one later from independent to full physical counts; a kind goes before an amount. */
function rank(level: SupportLevel): number {
  const listed: readonly string[] = supportKinds;
  const at = listed.indexOf(level);
  if (level === "independent") return 0;
  return at === -1 ? (level === "any" ? 1 : 2) : 10 + at;
}

const independence = new RegExp(
  [
    "\\bind[a-z]{0,3}p[a-z]{0,3}nd?[a-z]{0,3}tly\\b|\\bindepend[a-z]*ly\\b|\\bindepentent?ly\\b",
    "\\bwith (?:\\d+ ?% )?(?:full |complete |total |increasing )?independence\\b",
    "\\bunprompted\\b|\\bunassisted\\b|\\bwithout being (?:prompted|reminded|cued|asked|told)\\b",
    `(?<!\\bor )\\b(?:without(?: any)?|with no|with zero|no|zero|0)(?: need for)? ${between}{0,4}${help}\\b(?: or ${between}{0,3}${help})?`,
  ].join("|"),
);

const limit =
  "(?:(?:no|not) more than|fewer than|less than|under|at most|a maximum of|maximum of|max(?: of)?|up to|only|just|no greater than|<=?|≤)";

/**
 * The help that the wording allows: its kind, or its amount where no kind is named, and the number of prompts if one is
 * stated.
 */
export function readSupport(text: WorkingText): { support: ReadSupport | null; rest: WorkingText } {
  const free = findAll(text, independence);
  let rest = withoutOtherHelp(maskAll(text, independence));
  const counted = new RegExp(
    `(?<limit>${limit} )?(?<n>(?:${n} ?(?:-|to|or) ?)?${n})(?<after> or (?:fewer|less|no))? (?<words>${between}{0,5}${help})\\b`,
  );
  const plain = new RegExp(
    `(?:\\b(?:with|given|after|following|provided|using|requiring|needing|from|when|by|and|or|receiving|through|via|upon|on|during|despite|under|level of|levels of|amounts? of|the|an?|to|in response to|fading)\\b|,) ?(?<words>${between}{0,5}${help})\\b`,
  );
  const bare = new RegExp(
    `(?<words>${between}{1,5}${help}|\\bhand[- ]over[- ]hand\\b|\\bhoh\\b|\\bprompted\\b|\\bre-?direct(?:ion|ions|s)\\b)`,
  );
  // Any word may say what sort of assistance it is: "with standby assistance".
  const sorted =
    /\b(?:with|given|using|after|following) (?<words>(?!the |an? )[a-z-]+ (?:assistance|assist|prompt(?:s|ing)?|cue(?:s|ing)?|reminders?|re-?directions?))\b/;
  const found: ReadSupport[] = free.map(({ span }) => ({ level: "independent", atMost: null, span }));
  for (const pattern of [counted, plain, sorted, bare]) {
    const here = findAll(rest, pattern).filter(({ groups }) => {
      const words = groups["words"] ?? "";
      // A bare "model" is help only after a word that gives it.
      return !/^models?$/.test(words) || pattern !== bare;
    });
    for (const { groups, span } of here) {
      const numbers = (groups["n"] ?? "").match(new RegExp(n, "g")) ?? [];
      const last = numbers.at(-1);
      const below = /^(?:fewer|less) than|^under|^<(?!=)/.test(groups["limit"] ?? "");
      found.push({
        level: levelOf(groups["words"] ?? ""),
        atMost: last === undefined ? null : readNumber(last) - (below ? 1 : 0),
        span,
      });
    }
    rest = here.reduce((masked, { span }) => mask(masked, span), rest);
  }
  // What a person asks for is no help given, and stays to be read: "3 calls for help a day".
  const left = found.reduce((masked, { span }) => mask(masked, span), text);
  const [first, ...others] = found;
  if (!first) return { support: null, rest: left };
  const most = others.reduce((best, one) => (rank(one.level) > rank(best.level) ? one : best), first);
  // "No prompts" and "0 prompts" are independence.
  const support = most.atMost === 0 ? { level: "independent" as const, atMost: null, span: most.span } : most;
  return { support, rest: left };
}
