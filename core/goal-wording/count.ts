import { numberPattern as n, readNumber } from "./numbers.ts";
import { findAll, mask, type Span, type WorkingText } from "./working-text.ts";

export interface ReadCount {
  bound: "atLeast" | "atMost";
  value: number;
  unit: string;
  /** How the wording states it, which tells a latency from a duration and a total from a count. */
  how: "rate" | "points" | "within" | "or less" | "total" | "time" | "event" | "often" | "things";
  span: Span;
}

const lessBefore =
  "(?:at or (?:below|under)|(?:no|not) more than|fewer than|less than|under|at most|a maximum of|maximum of|no (?:longer|greater|later|higher) than|not (?:to )?exceed(?:ing)?|below|shorter than|up to|within(?: a maximum of)?|in under|in less than|<=?|≤)";
const moreBefore =
  "(?:at least|a minimum of|minimum of|no (?:less|lower|fewer) than|not (?:less|fewer) than|more than|over|for(?: at least| a minimum of| up to)?|lasting(?: at least)?|>=?|≥)";
const lessAfter = " ?(?:or (?:less|fewer|under|below)|max(?:imum)?)\\b";
const moreAfter = "(?: ?\\+| or (?:more|longer|greater|higher|better|above)\\b)";

const reducing = /\b(?:reduc|decreas|lower|lessen|limit|cut down|diminish|fewer)[a-z]*\b/;

/** "fewer than 3" of whole things is at most 2; of time it stays what it is. */
function boundOf(
  before: string,
  after: string,
  value: number,
  { whole, less }: { whole: boolean; less: boolean },
): Pick<ReadCount, "bound" | "value"> {
  if (value === 0 || new RegExp(`${lessAfter}$`).test(after)) return { bound: "atMost", value };
  if (new RegExp(`${moreAfter}$`).test(after)) return { bound: "atLeast", value };
  if (/at or (?:below|under)/.test(before)) return { bound: "atMost", value };
  if (
    /fewer than|less than|under|below|shorter than|<(?!=)/.test(before) &&
    !/no (?:less|fewer)|not (?:less|fewer)/.test(before)
  )
    return { bound: "atMost", value: whole ? value - 1 : value };
  if (/(?:no|not) (?:less|fewer|lower)/.test(before)) return { bound: "atLeast", value };
  if (/more than|over\b|>(?!=)/.test(before) && !/(?:no|not) more than/.test(before))
    return { bound: "atLeast", value: whole ? value + 1 : value };
  if (new RegExp(lessBefore).test(before) && !/^for|up to/.test(before.trim()))
    return { bound: "atMost", value };
  if (/up to/.test(before) && less) return { bound: "atMost", value };
  return { bound: less && !/at least|minimum/.test(before) ? "atMost" : "atLeast", value };
}

const head = `(?<before>(?:${lessBefore}|${moreBefore}) )?(?:an average of |about |approximately |a )?(?:${n} ?(?:-|to) ?)?(?<n>${n})`;
const after = `(?<after>${lessAfter}|${moreAfter})?`;

/** Words, letters, sounds or digits a minute. */
function rate(text: WorkingText): ReadCount | null {
  const short =
    "(?<short>w ?c ?p ?m|c ?w ?p ?m|w ?r ?c ?p ?m|wrc|cwrc|wpm|wcm|clspm|lspm|lnpm|cdpm|dcpm|clpm)";
  const long =
    "(?:[a-z]+ ){0,3}?(?<what>words?|letter[- ]sounds?|letter[- ]names?|letters?|sounds?|digits?|phonemes?)(?: [a-z-]+){0,4}? ?(?:per|a|an|in 1_*|each|/|in a|within 1_*|within a)[ -]?min(?:ute)?s?\\b";
  for (const { groups, span } of findAll(text, new RegExp(`${head}${after} (?:${short}\\b|${long})`))) {
    const what = groups["what"] ?? "";
    const abbreviation = (groups["short"] ?? "").replaceAll(" ", "");
    const unit =
      /sound|phoneme/.test(what) || /ls/.test(abbreviation)
        ? "sounds"
        : /letter/.test(what) || /^(?:lnpm|clpm)$/.test(abbreviation)
          ? "letters"
          : /digit/.test(what) || /d/.test(abbreviation)
            ? "digits"
            : "words";
    const value = readNumber(groups["n"] ?? "");
    return {
      ...boundOf(groups["before"] ?? "", groups["after"] ?? "", value, { whole: false, less: false }),
      unit: `${unit} per minute`,
      how: "rate",
      span,
    };
  }
  return null;
}

const scores =
  "\\b(?:scor(?:e|es|ing)|earn(?:s|ing)?|receiv(?:e|es|ing)|rated|rating|achiev(?:e|es|ing)|obtain(?:s|ing)?|level|averag(?:e|es|ing))(?: an?| the| of| average| score| rating| total| overall| or| in| each| area| category| level)* ";
const outOf = `(?:(?: ?/ ?| (?:out )?of (?:a possible )?)(?:\\d+|${n}))?`;

/** Points on a rubric or scale: "a score of 3", "12 of 16 points", "at least a 3 on a 4-point rubric". */
function points(text: WorkingText): ReadCount | null {
  const onRubric = /rubric|\bscale\b|\bscoring guide\b/.test(text);
  const thenRubric = "(?= on (?:a|an|the|his|her|each|our)[^.;,]{0,40}(?:rubric|scale))";
  const patterns = [
    `${head}${outOf} points?\\b${after}`,
    ...(onRubric
      ? [
          `${scores}${head}${outOf}${after}`,
          `${head}${outOf}${after}${thenRubric}`,
          `\u00b7 to (?:an? )?${head}${after}`,
        ]
      : []),
  ];
  for (const pattern of patterns) {
    for (const { groups, span } of findAll(text, new RegExp(pattern))) {
      const value = readNumber(groups["n"] ?? "");
      const total = !onRubric && /\btotal of (?:at least )?$/.test(text.slice(0, span[0]));
      return {
        ...boundOf(groups["before"] ?? "", groups["after"] ?? "", value, { whole: true, less: false }),
        unit: "points",
        how: total ? "total" : "points",
        span,
      };
    }
  }
  return null;
}

const timeUnit = "(?<unit>sec(?:ond)?s?|min(?:ute)?s?|hours?|hrs?)\\b\\.?";
const spelled = (unit: string) => (/^s/.test(unit) ? "seconds" : /^m/.test(unit) ? "minutes" : "hours");

/** A length of time with a bound: "within 30 seconds", "for 10 minutes", "in 5 minutes or less", "a total of 1200 minutes". */
function time(text: WorkingText): ReadCount | null {
  const pattern = new RegExp(
    `(?<lead>\\ba total of |\\bin |\\bto |\\bwith |\\bof |\\bby )?${head} ?(?:(?:out )?of ${n} )?(?:consecutive |continuous |uninterrupted |sustained )?${timeUnit}${after}`,
  );
  const less = reducing.test(text);
  const found = findAll(text, pattern).flatMap(({ groups, span }): ReadCount[] => {
    const { lead = "", before = "", unit = "" } = groups;
    const afterwards = groups["after"] ?? "";
    const value = readNumber(groups["n"] ?? "");
    const total = lead.includes("total");
    const stated = before !== "" || afterwards !== "" || total || /^to /.test(lead);
    // A bare length right after what is done is a target; elsewhere it describes something.
    const bareTarget =
      !stated &&
      /\b(?:will|and|to) (?:[a-z]+ ){1,4}$/.test(text.slice(0, span[0])) &&
      !/^(?:in|with|of|by) /.test(lead);
    if (!stated && !bareTarget) return [];
    const within = /within|in under|in less than/.test(before);
    const orLess = /^in /.test(lead) && afterwards !== "";
    return [
      {
        ...boundOf(before, afterwards, value, { whole: false, less }),
        unit: spelled(unit),
        how: total ? "total" : within ? "within" : orLess ? "or less" : "time",
        span,
      },
    ];
  });
  return (
    found.find(({ how }) => how === "total") ??
    found.find(({ how }) => how === "within") ??
    found.at(-1) ??
    null
  );
}

const behavior =
  "(?:outbursts?|incidents?|instances?|occurrences?|episodes?|call-?outs?|tantrums?|elopements?|aggressions?|referrals?|refusals?|disruptions?|meltdowns?|behaviors?|times?|interruptions?|blurt-?outs?|infractions?|violations?|acts?|attempts?)";
const period =
  "(?:(?:per|a|an|each|every|in an?|in 1_*|in each|during an?|during each|during the|during|within an?|over an?|within 1_*)[ -](?:(?:\\d+|[a-z]+)-(?:minute|hour) |school |instructional |full |academic |single |given |therapy |observation )*(?<period>minute|hour|session|class(?:es)?(?: period)?|period|school day|day|week|month)s?\\b|(?<adverb>daily|weekly|hourly|monthly)\\b|/ ?(?<short>wk|week|day|mo|month|hr|hour|session|class)\\b)";
const shortPeriods: Record<string, string> = { wk: "week", mo: "month", hr: "hour" };
const adverbs: Record<string, string> = { daily: "day", weekly: "week", hourly: "hour", monthly: "month" };

function periodOf(groups: Record<string, string | undefined>): string | null {
  const short = groups["short"];
  const found =
    groups["period"] ?? adverbs[groups["adverb"] ?? ""] ?? (short && (shortPeriods[short] ?? short));
  if (found === undefined) return null;
  return /^class|^period/.test(found) ? "class" : found.replace(/^school /, "");
}

const oftenWords: Record<string, number> = { once: 1, twice: 2, thrice: 3 };

/** Events in a period: "3x per day", "twice a week", "fewer than 3 outbursts per day", "no more than 2 times per week". */
function events(text: WorkingText): ReadCount | null {
  const less = reducing.test(text);
  const often = `(?:${head}${after} ?(?:x\\b|times?\\b)|(?<before2>(?:${lessBefore}|${moreBefore}) )?(?<often>once|twice|thrice)\\b)`;
  const times = new RegExp(`${often}${after.replace("after", "after2")}(?:[^.;,·]{0,40}? )??${period}`);
  const named = new RegExp(
    `${head}${after} (?<noun>(?:[a-z'-]+ ){0,4}?(?:[a-z'-]+s|${behavior}))\\b(?:[^.;,·]{0,40}? )??${period}`,
  );
  const bare = new RegExp(`${head}${after} ${period}`);
  for (const pattern of [times, named, bare]) {
    for (const { groups, span } of findAll(text, pattern)) {
      const value =
        groups["often"] === undefined ? readNumber(groups["n"] ?? "") : (oftenWords[groups["often"]] ?? 1);
      const unit = periodOf(groups);
      const noun = groups["noun"] ?? "";
      if (
        unit === null ||
        /\b(?:seconds|minutes|hours|days|weeks|sessions|points|settings|percent)$/.test(noun)
      )
        continue;
      const before = groups["before"] ?? groups["before2"] ?? "";
      return {
        ...boundOf(before, groups["after"] ?? groups["after2"] ?? "", value, { whole: true, less }),
        unit: `times per ${unit}`,
        // "for 15 minutes, three times a week": how often it is practiced, where the time is the target.
        how: pattern === times && before === "" ? "often" : "event",
        span,
      };
    }
  }
  return null;
}

/** "no incidents of …", "zero instances", "without any outbursts": at most none. */
function none(text: WorkingText, lead: string): ReadCount | null {
  const pattern = new RegExp(`\\b(?:${lead})(?: [a-z-]+){0,3}? ${behavior}\\b(?:[^.;,·]{0,30}? ${period})?`);
  for (const { groups, span, text: said } of findAll(text, pattern)) {
    if (/\b(?:no|zero) (?:more|less|fewer|greater|longer)\b|\btimes?\b/.test(said)) continue;
    const unit = periodOf(groups);
    return { bound: "atMost", value: 0, unit: unit ? `times per ${unit}` : "times", how: "event", span };
  }
  return null;
}

const notThings =
  /^(?:trials?|opportunities|times|occasions|attempts|sessions|days|weeks|months|probes|settings|environments|adults|staff|people|peers|partners|teachers|classrooms|contexts|activities|locations|places|minutes|seconds|hours|points|prompts|cues|reminders|steps|grades|levels|years|subjects|situations|materials|periods|data|communication|percent)$/;
const thingStop =
  /^(?:in|on|at|with|for|from|to|by|across|over|during|when|while|given|and|or|as|per|within|without|using|that|which|of|correctly|accurately|each|is|are|about|after|before|including|containing|related|toward|towards|appropriately|verbally)$/;

/** "at least 4 turns": the plural that is counted. A bare number counts only where nothing else states a criterion. */
function things(text: WorkingText, alone: boolean): ReadCount | null {
  const less = reducing.test(text);
  for (const { groups, span } of findAll(
    text,
    new RegExp(`${head}${after} (?<words>[a-z'-]+(?: [a-z'-]+){0,4})`),
  )) {
    const before = groups["before"] ?? "";
    const afterwards = groups["after"] ?? "";
    const words = (groups["words"] ?? "").split(" ");
    const end = words.findIndex((word) => thingStop.test(word));
    const counted = end === -1 ? words : words.slice(0, end);
    const at = counted.findLastIndex(
      (word) => /[a-z]s$|^(?:people|children)$/.test(word) && !/ss$|ous$/.test(word),
    );
    const noun = counted[at] ?? "";
    if (noun === "" || notThings.test(noun) || /^(?:for|over|within|more than)/.test(before)) continue;
    const target =
      /^ per\b/.test(text.slice(text.indexOf(noun, span[0]) + noun.length)) ||
      before !== "" ||
      afterwards !== "" ||
      (alone && /\b(?:will|and|to|by) (?:[a-z-]+ ){1,6}$/.test(text.slice(0, span[0])));
    if (!target) continue;
    const value = readNumber(groups["n"] ?? "");
    const isBehavior = new RegExp(`^${behavior}$`).test(noun);
    return {
      ...boundOf(before, afterwards, value, { whole: true, less }),
      unit: isBehavior ? "times" : noun,
      how: "things",
      span: [span[0], text.indexOf(noun, span[0]) + noun.length],
    };
  }
  return null;
}

/** "no more than 2 times", "3 times", with no period. */
function bareTimes(text: WorkingText, alone: boolean): ReadCount | null {
  const less = reducing.test(text);
  for (const { groups, span } of findAll(
    text,
    new RegExp(`${head}${after} ?(?:x\\b|times\\b)${after.replace("after", "after2")}`),
  )) {
    const before = groups["before"] ?? "";
    if (before === "" && !alone && !less) continue;
    const value = readNumber(groups["n"] ?? "");
    return {
      ...boundOf(before, groups["after"] ?? groups["after2"] ?? "", value, { whole: true, less }),
      unit: "times",
      how: "event",
      span,
    };
  }
  return null;
}

/** "an MLU of 4.5", "a mean length of utterance of at least 4 morphemes" */
function utterance(text: WorkingText): ReadCount | null {
  const found = findAll(
    text,
    new RegExp(
      `\\b(?:mlu|mean length of (?:an )?utterances?)(?: \\(?mlu\\)?)?(?:(?: of| to| at| is|:| at least| or) ?)* ?(?<n>${n})`,
    ),
  )[0];
  return found
    ? {
        bound: "atLeast",
        value: readNumber(found.groups["n"] ?? ""),
        unit: "morphemes",
        how: "things",
        span: found.span,
      }
    : null;
}

/** "a total of 20 books" */
function totals(text: WorkingText): ReadCount | null {
  for (const { groups, span } of findAll(
    text,
    new RegExp(
      `\\ba (?:cumulative |combined |grand )?total of (?:at least )?(?<n>${n}) (?<words>[a-z'-]+(?: [a-z'-]+){0,3})`,
    ),
  )) {
    const words = (groups["words"] ?? "").split(" ");
    const end = words.findIndex((word) => thingStop.test(word));
    const noun = (end === -1 ? words : words.slice(0, end)).findLast((word) => /s$/.test(word)) ?? "";
    if (noun === "" || /^(?:points|trials|opportunities|sessions|days)$/.test(noun)) continue;
    return {
      bound: "atLeast",
      value: readNumber(groups["n"] ?? ""),
      unit: noun,
      how: "total",
      span: [span[0], text.indexOf(noun, span[0]) + noun.length],
    };
  }
  return null;
}

function eventsOrTime(text: WorkingText): ReadCount | null {
  const [event, length] = [events(text), time(text)];
  return event?.how === "often" && length ? length : (event ?? length);
}

/**
 * A target in other units than percent: a rate, points, a time, how often, how many.
 *
 * @param text with dates, percentages, opportunities, windows and support out of the way
 * @param alone does nothing else in the wording state a criterion?
 */
export function readCount(text: WorkingText, alone: boolean): { count: ReadCount | null; rest: WorkingText } {
  const count =
    rate(text) ??
    points(text) ??
    totals(text) ??
    utterance(text) ??
    none(text, "(?<!with )(?:no|zero|0)") ??
    eventsOrTime(text) ??
    // "for 2 minutes without aggression": a time that is stated goes before what may not happen in it.
    none(text, "without(?: any)?|with (?:no|zero|0)") ??
    bareTimes(text, alone) ??
    things(text, alone);
  return { count, rest: count ? mask(text, count.span) : text };
}
