/**
 * Where a word that can be a name is none, by what stands before and after it. What is not listed here is judged by its capital and by
 * the verb that follows.
 *
 * Source: ours; the labelled sentences of the tests hold it.
 */
interface WordContext {
  before: ReadonlySet<string>;
  after: ReadonlySet<string>;
}

const words = (...lists: string[]) => new Set(lists.flatMap((list) => list.split(" ")));

const numbers = /^\d+(?:st|nd|rd|th)?$/;
const months = words("january february march april may june july august september october november december");

const month: WordContext = {
  before: words(
    "in since until till during last next this early late mid through before after every of from by each on to",
  ),
  after: words("to through and or"),
};
const subject: WordContext = {
  before: words(
    "in to during at after before enjoys enjoyed likes liked loves loved music gym pe of language for missed skipped",
  ),
  after: words(
    "class room teacher project projects table lesson lessons time supplies cart show studio work is was period fair gallery paper",
  ),
};
const place: WordContext = {
  before: words("in north south east west near visited visiting visit new"),
  after: words("street st road rd avenue ave river lake county city"),
};
const modal: WordContext = {
  before: words("we they it he she you who that which goals free good his her"),
  after: words(
    "i he she we they it you the a an his her their our this that these those be do have need try continue not also always keep start",
    "work meet discuss ask send call check make see take give use get go retry review revisit add follow bring practice observe monitor",
    "probe reteach repeat update contact schedule stop move come begin help want like focus let look talk read write finish wait probably",
  ),
};

const contexts = new Map<string, WordContext>([
  ...["april", "june", "august", "january", "july"].map((word) => [word, month] as const),
  ["may", { before: month.before, after: new Set([...month.after, ...modal.after]) }],
  ["will", modal],
  ["art", subject],
  ["music", subject],
  ...[
    ...[
      "austin",
      "jordan",
      "georgia",
      "carolina",
      "virginia",
      "dakota",
      "madison",
      "brooklyn",
      "paris",
      "london",
    ],
    ...[
      "jackson",
      "lincoln",
      "houston",
      "charlotte",
      "florence",
      "israel",
      "china",
      "india",
      "asia",
      "kenya",
    ],
    ...[
      "chelsea",
      "sydney",
      "savannah",
      "denver",
      "dallas",
      "phoenix",
      "jersey",
      "montana",
      "nevada",
      "vienna",
    ],
  ].map((word) => [word, place] as const),
]);

/** Words that are names as often as they are something else, though no dictionary has them in lower case, and Spanish ones. */
export const nameLikeWords: ReadonlySet<string> = new Set([
  ...contexts.keys(),
  ...months,
  ...words(
    "luz paz sol flor mar cruz rosa reina rey angel esperanza dulce cielo luna estrella perla marina consuelo amparo blanca",
    "leon domingo julio abril salvador rico santos campos flores rios torres iglesias guerra castillo reyes",
  ),
]);

const determiners = words(
  "the a an this that these those his her my our their your its each every some any no",
  "el la los las un una su sus mi este esta",
);
const places = words(
  "street st avenue ave road rd school elementary academy center centre hall house park room library hospital lake river",
  "bridge day award book books team group groups club period county cottage island bay beach middle",
);
const titles = words(
  "mr mrs ms miss mx dr coach principal nurse officer teacher sr sra srta senor senora maestra maestro professor",
);

/** Is the next word a number or a year, as after a month? */
const isNumber = (word: string) => numbers.test(word);

/** After an article or a possessive, and before the kind of thing that is named after people, a word is no student's name. */
export function isNoNameHere(word: string, before: string, after: string): boolean {
  if (determiners.has(before) || places.has(after)) return true;
  const context = contexts.get(word);
  if (!context) return false;
  if (months.has(word) && (isNumber(after) || isNumber(before) || months.has(after))) return true;
  return context.before.has(before) || context.after.has(after);
}

/** Do these words lead up to a person, as "next to", "with", "from"? */
export const leadsToPerson: ReadonlySet<string> = words(
  "with to beside near behind by from at for and against toward towards con a de y",
);

/** Does a title stand before the word, so that an adult is meant? */
export const isTitle = (word: string): boolean => titles.has(word);

/** Abbreviations of a school that look like initials. */
export const schoolAbbreviations: ReadonlySet<string> = words(
  "tv pe ot pt slp iep am pm id us uk ok ps la dc ed pa ac cd pc bc ad it la sel esl ell ela eld ld asd adhd abc bip fba aac",
  "mtss rti ss ta sped lre esy dvd nb vs diy faq gps rn md phd hr ir vp ap ib ai ar vr",
);

/** What somebody feels or is doing after "was": "May was crying". */
export const saysHowSomebodyIs = (word: string): boolean =>
  /ing$/.test(word) ||
  words(
    "angry upset sad tired mad happy hurt absent nearby there next calm ready sick late scared bored excited frustrated quiet loud",
    "kind rude helpful gone back out with unable able not also very so too",
  ).has(word);
