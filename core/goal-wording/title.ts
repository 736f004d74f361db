/** Verbs of change and of showing: what follows them is what the goal is about. */
const leading =
  /^(?:(?:be able to|independently|consistently|correctly|accurately|appropriately|verbally|successfully|also|then|continue to|learn to|begin to|attempt to|in order to|to|increase|decrease|reduce|improve|lower|lessen|limit|develop|demonstrate|show|display|exhibit|engage in|maintain|achieve|have|work on|refrain from|avoid|abstain from|stop|exceed|(?:begin|start)(?= \w+ing\b))\s+|(?:(?:his|her|their|its|the|an?|any|zero|no)\s+)(?=\S)|(?:(?:number|rate|frequency|amount|percentage|percent|duration|length|instances?|incidents?|episodes?|occurrences?|ability)(?:\s+of|\s+to)\s+))/i;
/** Those that change nothing about the verb that follows. */
const auxiliary =
  /^(?:be able to|independently|consistently|correctly|accurately|appropriately|verbally|successfully|also|then|continue to|learn to|begin to|attempt to|in order to|to|begin|start)\s/i;

const amount =
  "(?:\\d+(?:\\.\\d+)?(?:-\\d+)?|one|two|three|four|five|six|seven|eight|nine|ten|twelve|fifteen|twenty|thirty|forty|fifty)";
/** "at least 4 of 5", "no more than three", "18 out of 20", "80% of": how much, which a short name leaves out. */
const howMuch = new RegExp(
  `(?<![$\\d.,-])\\b(?:(?:at least|at most|no (?:more|fewer|less) than|(?:fewer|less|more) than|up to|a minimum of|a maximum of|a total of|an average of) )?(?:all (?=${amount}))?${amount}(?! ?-|[- ](?:step|digit|word|letter|sentence|paragraph|syllable|part|point|minute|second|inch))(?: ?%| percent)?(?: of (?=[a-z]))?(?:(?: ?/ ?| out of (?:the )?| of (?:the )?)(?:${amount}(?! ?-))?)? +`,
  "gi",
);

/** Words after which a short name says nothing more. */
const ending =
  /[,.;:(\n]|\sof (?:the )?(?:time|opportunities|trials|intervals)\b|\s(?:within|without|given|when|while|during|across|no more than|no fewer than|at least|at most|or (?:more|higher|better|fewer|less)|as|that|which|using|after|until|per|each|every|scoring|earning|lasting|this|these|at a time)\s|\s(?:to|in|on|at|for|by|from|with|of|and|or)$|\s\d(?![\d,.]*-)|\s(?:in|for|within|over|to) (?:consecutive |school )?(?:minutes?|seconds?|hours?|days?|weeks?|sessions?)\b|\sfollowing\s|\sfor a total\b|\s(?:for )?up to\s|\sin (?:trials|opportunities|attempts|sessions|occasions|transitions|problems)\b|\s(?:to|in|on|at|for|by|from|with|of)(?=\s(?:to|in|on|at|for|by|from|with|of)\b)/i;
/** Prepositions end a name too, where something stands before them already. */
const preposition = /\s(?:with|in|on|for|by|from|to|at)\s/i;

const isVowel = (letter = "") => /[aeiou]/i.test(letter);

/** "solve" → "solving", "sit" → "sitting", "tie" → "tying", "read" → "reading". */
function gerund(verb: string): string {
  if (/ie$/.test(verb)) return `${verb.slice(0, -2)}ying`;
  if (/[^eoy]e$/.test(verb) && verb !== "be") return `${verb.slice(0, -1)}ing`;
  const doubles =
    /^[^aeiou]*[aeiou][^aeiouwxy]$/i.test(verb) || /(?:begin|submit|permit|refer|transfer)$/.test(verb);
  return doubles && !isVowel(verb.at(-1)) ? `${verb}${verb.at(-1) ?? ""}ing` : `${verb}ing`;
}

/** Words that begin a phrase and are no verb of doing. */
const notAVerb =
  /^(?:oral|reading|writing|math|self|on|off|in|at|out|safe|social|hand|eye|peer|physical|verbal|task|time|work|sight|letter|word|number|multiplication|subtraction|addition|division|independent|appropriate|positive|aggressive|disruptive|attention|behavior|compliance|engagement|fluency|comprehension|conversation|turns?|outbursts?|tardies|absences|elopements?|tantrums?|requests?)$/i;

const be =
  /^(?:be|remain|stay)\s+(?=(?:on|off|in|at|seated|engaged|calm|present|safe|quiet|ready|within)(?:\b|_))/i;

/** What a rate is usually called. */
function ofRate(wording: string): string | null {
  if (/\b(?:letter[- ]?sounds?|clspm|lspm)\b[^.]*\bminute|\bclspm\b/i.test(wording)) return "Letter sounds";
  if (/\b(?:letter[- ]?names?|letters)\b[^.]*\bminute/i.test(wording)) return "Letter naming";
  if (/\bdigits?\b[^.]*\bminute|\b(?:cdpm|dcpm)\b/i.test(wording)) return "Math facts";
  return /\b(?:wcpm|cwpm|wpm|wrcpm|words? (?:read )?(?:correct(?:ly)? )?(?:per|a|in one) minute|words? read correctly in (?:one|1) minute)\b/i.test(
    wording,
  ) && /\bread|\bpassage|\boral/i.test(wording)
    ? "Oral reading"
    : null;
}

/** A behavior that is the subject itself: "Elopements will not exceed 1 per month", "Wren's tantrums will last …". */
function subjectOf(wording: string): string | null {
  const found =
    /(?:^|[,.;]\s+|\d{4},?\s+)(?:the |all )?(?:(?:student|child)[’']s |[A-Z][\w-]*[’']s |\{student\}[’']s |his |her |their )?((?:[A-Za-z-]+ ){0,3}[A-Za-z-]+)\s+(?:will|shall)\s+(?:not\s+)?(?:exceed|drop|decrease|decline|be (?:at|below|under|no|reduced|less|fewer|limited)|last|occur|happen|remain (?:at|below|under)|stay (?:at|below|under)|increase to|reach)\b/.exec(
      wording.trim(),
    );
  const named = found?.[1]?.trim() ?? "";
  // One word with a capital is a person.
  const isPerson =
    /^(?:[A-Z][a-z]+|student|the student|he|she|they)$/.test(named) && !/(?:s|ion|ment|ing)$/.test(named);
  return named === "" || isPerson ? null : named.charAt(0).toUpperCase() + named.slice(1);
}

const most = 60;
const mostWords = 6;

/**
 * A short name for the goal, as a noun phrase: "Oral reading", "Calling out", "Solving one-step equations". Never the bare verb of change.
 *
 * @example titleFrom("Wren will decrease calling out to fewer than 3 times per class.") // "Calling out"
 */
export function titleFrom(wording: string): string {
  const rate = ofRate(wording);
  if (rate) return rate;
  const subject = subjectOf(wording);
  if (subject) return subject;
  const after = /\b(?:will|shall)\s+(?:not\s+)?(.+)$/is.exec(wording)?.[1] ?? wording;
  let text = after
    .replace(/\s+/g, " ")
    .replaceAll(/[{}"“”]/g, "")
    .replace(howMuch, "")
    // These belong together.
    .replace(/\b(on|off|in) (task|line|seat)\b/gi, "$1_$2")
    .replace(/\bto (himself|herself|themselves|themself|others)\b/gi, "to_$1")
    .trim();
  let isChanged = false;
  const isBe = be.test(text);
  if (isBe) text = text.replace(/^be\s+/i, "");
  for (let found = leading.exec(text); found && found[0].length < text.length; found = leading.exec(text)) {
    isChanged ||= !auxiliary.test(found[0]);
    text = text.slice(found[0].length);
  }
  const whole = (text.split(ending)[0] ?? text).trim();
  const short = (whole.split(preposition)[0] ?? whole).trim();
  // "Staying" alone says nothing: "Staying in his assigned area".
  const clause = isChanged || /[\s_]/.test(short) ? short : whole;
  const words = clause.split(" ").filter(Boolean).slice(0, mostWords);
  const [first = "", ...rest] = words;
  const isNoun = isChanged || notAVerb.test(first) || /ing$/i.test(first) || first.includes("_");
  const named =
    first === "" || isNoun || (isBe && !/^(?:remain|stay)$/i.test(first)) || !/^[a-z-]+$/i.test(first)
      ? words
      : [gerund(first.toLowerCase()), ...rest];
  const title = named
    .join(" ")
    .replaceAll("_", " ")
    .replace(/(?:\s(?:and|or|the|an?|to|of|for|from|with|in|on|at|by|over|than|instead|rather))+$/i, "")
    .slice(0, most)
    .trim();
  return title.charAt(0).toUpperCase() + title.slice(1);
}
