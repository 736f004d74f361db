import { numberPattern as n } from "./numbers.ts";
import { maskAll, type WorkingText } from "./working-text.ts";

const masked = "\u00b7";

/**
 * Puts aside the numbers that are no target: baselines and interim benchmarks, allowed errors, what the task or material
 * is made of, and the length that defines an episode. The final target is what counts.
 */
export function withoutAsides(text: WorkingText): WorkingText {
  let rest = text;
  // A bracket that holds a baseline, a date of its own or a definition: "(baseline 12)", "(7 of 10 days by …)".
  rest = maskAll(
    rest,
    new RegExp(
      `\\((?=[^)]*(?:baseline|current|present level|defined|benchmark|e\\.g\\.|i\\.e\\.|such as|${masked}))[^)]*\\)`,
    ),
  );
  // "from 42 to 75": the first number is where it starts, and so is any "baseline of 3 out of 10".
  const amount = `${n}(?: ?%| percent)?(?: ?(?:/|of|out of) ?${n})?`;
  rest = maskAll(
    rest,
    new RegExp(
      `\\bfrom (?:a |an |the )?(?:baseline |average |current (?:level|rate|average) |mean |[a-z]+ing )*(?:of )?(?<out>${amount})(?=[^.;]{0,60}?\\bto\\b)`,
    ),
  );
  rest = maskAll(
    rest,
    new RegExp(
      `\\b(?:baseline|present level|current(?:ly)?(?: level| rate| performance)?)(?: data| score| average)?(?: is| was| are| of|:| at| shows?| =|,)*(?:(?! to )[^.;,()${masked}]){0,30}?(?<out>${amount})`,
    ),
  );
  // "by 3 per day", "by 50% over baseline" is how far, not where to: it is asked for.
  rest = maskAll(
    rest,
    new RegExp(
      `\\b(?:increas|decreas|reduc|improv|lower|rais|grow)[a-z]*\\b[^.;]{0,80}?\\bby (?<out>(?:at least |an average of |approximately )?${n}(?: ?%| percent)?(?: [a-z-]+){0,3}?)(?=[,.;]|$| (?:over|from|above|below|compared|relative|as measured|in|on|across|within|per|each|a)\\b)`,
    ),
  );
  // Interim benchmarks end in a date of their own and another target follows.
  rest = maskAll(
    rest,
    new RegExp(
      `(?<out>${amount})[^.;,()]{0,50}?\\bby ${masked}+(?=[,;]? (?:(?:and|then|to|with|increasing|or) )*(?:at least )?(?:${n} ?(?:%|percent|/|of|out of)|${n}[^.;,()]{0,50}? by ${masked}))`,
    ),
  );
  // What is allowed to go wrong.
  rest = maskAll(
    rest,
    new RegExp(
      `(?:no more than|at most|fewer than|less than|up to|only|a maximum of)? ?${n}(?: ?%| percent)?(?: or (?:fewer|less))? (?:[a-z-]+ ){0,2}(?:errors?|mistakes?|miscues?)\\b`,
    ),
  );
  // "a 4 point rubric": what the scale holds.
  rest = maskAll(
    rest,
    new RegExp(`(?<out>${n}[- ]points?) (?:[a-z]+ ){0,2}(?:rubrics?|scales?|scoring guide)\\b`),
  );
  // "five-sentence paragraph", "2-step directions", "10-minute lesson", "3-4 word phrases", "a 15 minute period".
  rest = maskAll(
    rest,
    new RegExp(
      `(?<out>${n}(?:(?: ?(?:-|to|or) ?)${n})?-(?!in-a-row|consecutive|halves|thirds?|fourths?|quarters?|fifths?|sixths?|eighths?|tenths?)[a-z]+)`,
    ),
  );
  rest = maskAll(
    rest,
    new RegExp(`(?<out>${n} ?(?:-|to|or) ?${n}) (?:words?|syllables?|steps?|digits?|parts?) [a-z]+s\\b`),
  );
  rest = maskAll(
    rest,
    new RegExp(
      `(?<out>${n} (?:second|minute|hour)s?) (?:[a-z]+ )?(?:period|block|session|lesson|class|activity|activities|timer|break|window|sample|probe|wait|delay|timed|observation|intervals?|task|stretch|segment|rotation|group|video|passage|work)s?\\b`,
    ),
  );
  rest = maskAll(
    rest,
    new RegExp(
      `\\b(?:every|each|during (?:a|the|each)|in (?:a|each)(?: given)?|after|wait(?:ing)? time of|given|a delay of|delay of) (?<out>${n} (?:second|minute|hour)s?)\\b(?! or (?:less|fewer|more))`,
    ),
  );
  // What the material holds: "given 10 problems", "a list of 50 words", "within 20", "up to $5", "grade 3", "1:1".
  rest = maskAll(
    rest,
    new RegExp(
      `\\b(?:given|when (?:given|shown|presented with)|provided(?: with)?|presented with|(?:list|set|field|group|array|bank|choice|pool)s? of|from|out of a (?:set|field|list) of|choice of|shown|using|between) (?:a |an |the |at least |up to )?(?:(?:set|list|field|array|group|choice)s? of )?(?<out>${n})(?! ?(?:%|percent|/|of\\b|out of|(?:words?|letters?|sounds?|digits?) (?:correct(?:ly)? )?(?:in|per) (?:a |1_*)? ?min|(?:or fewer |or less )?(?:[a-z/]+ ){0,3}(?:prompt|cue|reminder|redirect|model|assist|support)))`,
    ),
    (found) =>
      !/^from\b/.test(found[0]) ||
      !/\bto\b/.test(text.slice(found.index, found.index + found[0].length + 20)),
  );
  rest = maskAll(
    rest,
    new RegExp(
      `\\b(?:within|up to|(?:count|numbers?|sums?|facts?)[a-z ]{0,12} to) (?<out>\\$?${n})(?= ?(?:,|\\.|;|$|with\\b|in\\b|on\\b|using\\b))`,
    ),
  );
  rest = maskAll(rest, /\$ ?\d+(?:\.\d+)?/);
  rest = maskAll(
    rest,
    new RegExp(
      `\\b(?:grade|level|lexile|page|step|unit|chapter|tier|numbers?|digits?) (?<out>${n}(?: ?(?:-|to|through) ?${n})?)`,
    ),
    // "level 3 of 4" is a level of a rubric to be reached.
    (found) =>
      !/^level/.test(found[0]) ||
      !/^ ?(?:of|\/|out of|or (?:higher|above|better)|on )/.test(text.slice(found.index + found[0].length)),
  );
  rest = maskAll(rest, /\b\d+(?:st|nd|rd|th)\b/);
  rest = maskAll(rest, /\b(?:1:1|1_*[- ](?:on|to)[- ]1_*)\b/);
  rest = maskAll(
    rest,
    /(?<!\d)\d+\/\d+ ?(?:an? )?(?:inch|inches|cups?|miles?|foot|feet|hours?|pages?|teaspoons?)\b/,
  );
  rest = maskAll(
    rest,
    new RegExp(
      `\\b(?:(?:lasting|lasts?|that last|which last|longer than|exceeding|of)(?: for)?(?: longer than| more than| over| at least)) (?<out>${n} (?:second|minute|hour)s?)`,
    ),
    (found) =>
      new RegExp(
        `(?:outburst|tantrum|episode|incident|instance|meltdown|occurrence|disruption|behavior|elopement|refusal)s?\\b[^.;]{0,40}$`,
      ).test(text.slice(0, found.index)),
  );
  return rest;
}
