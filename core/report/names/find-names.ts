import { isThirdPersonVerb, takesOnlyPerson, takesPerson } from "./classroom-verbs.ts";
import {
  isNoNameHere,
  isTitle,
  leadsToPerson,
  nameLikeWords,
  saysHowSomebodyIs,
  schoolAbbreviations,
} from "./name-contexts.ts";
import type { NameKind } from "./name-forms.ts";
import { normaliseName } from "./normalise-name.ts";

/** Who is asked for: a form of another student's name, whether it is an ordinary word too, and names that do not count. */
export interface NameIndex {
  /** Is this normalised form a name of that kind of a student of the school, the one the text is about among them? */
  has: (kind: NameKind, form: string) => boolean;
  /** Is it such a name of the student the text is about? */
  isOwn: (kind: NameKind, form: string) => boolean;
  /** Is it a family name of an adult of the school? */
  isStaff: (form: string) => boolean;
  /** Is the form an ordinary word as well, as "grace" and "mark" are? */
  isWord: (form: string) => boolean;
  /** Was it said that this form names nobody here? */
  isNoName: (form: string) => boolean;
}

/** A place in a text where another student seems to be named. */
export interface NameFind {
  /** Offsets in the text, the end not included. */
  from: number;
  to: number;
  /** As it is written there. */
  text: string;
  /** Normalised: what is remembered where it names nobody. */
  form: string;
}

interface Token {
  from: number;
  to: number;
  text: string;
  form: string;
  isCapital: boolean;
  isPossessive: boolean;
  /** Does a sentence begin with it, so that its capital tells nothing? */
  isFirst: boolean;
  isAfterColon: boolean;
}

const wordPattern = /[\p{L}\p{N}][\p{L}\p{M}\p{N}’'ʼ-]*/gu;
const initialsPattern =
  /(?<![\p{L}\p{N}])\p{Lu}\.[ -]?\p{Lu}(?:\.|(?![\p{L}\p{N}]))|(?<![\p{L}\p{N}.])\p{Lu}{2,3}(?![\p{L}\p{N}])/gu;
const sentenceEnd = /(?:^|[.!?:…\n\r•]|(?:^|\s)[-–—*])["“”'‘(\s]*$/u;

function tokensOf(text: string): Token[] {
  return [...text.matchAll(wordPattern)].map(({ 0: found, index }) => {
    // The ending of a possessive stays where the name is replaced.
    const written = found.replace(/[’'ʼ-]+$/u, "").replace(/[’'ʼ]s$/u, "");
    return {
      ...{ from: index, to: index + written.length, text: written, form: normaliseName(found) },
      isCapital: /^\p{Lu}/u.test(written),
      isPossessive: /[’'ʼ]s$|s[’'ʼ]$/u.test(found),
      isFirst: sentenceEnd.test(text.slice(0, index)),
      isAfterColon: /:\s*$/.test(text.slice(0, index)),
    };
  });
}

/** A name without its apostrophe, as hasty writers leave it out: "Priyas book". */
const withoutS = (form: string) => (/.{4,}s$/.test(form) ? form.slice(0, -1) : null);

/** A text as its words, and what is known of names. */
interface Reading {
  tokens: readonly Token[];
  index: NameIndex;
  /** Without any small or any capital letter, capitals tell nothing. */
  hasCase: boolean;
}

const formAt = ({ tokens }: Reading, at: number): string => tokens[at]?.form ?? "";

const isWordLike = ({ index }: Reading, form: string) => nameLikeWords.has(form) || index.isWord(form);

/** The form under which the word is a name of that kind; null where it is none. */
function nameAt(reading: Reading, at: number, kind: NameKind): string | null {
  const { index } = reading;
  const form = formAt(reading, at);
  if (form === "" || index.isNoName(form)) return null;
  if (index.has(kind, form)) return form;
  const stem = withoutS(form);
  return stem !== null && !isWordLike(reading, form) && !isWordLike(reading, stem) && index.has(kind, stem)
    ? stem
    : null;
}

/** Does what follows say what somebody did, so that the word before is a person? */
function actsAfter(reading: Reading, at: number): boolean {
  const next = formAt(reading, at + 1);
  if (next === "was" || next === "is")
    return saysHowSomebodyIs(formAt(reading, at + 2)) || !nameLikeWords.has(formAt(reading, at));
  return next !== "" && isThirdPersonVerb(next);
}

/** "Grace and him", "Will and Tobias" */
function isJoined({ tokens, index }: Reading, at: number): boolean {
  const other = tokens[at + 2];
  if (tokens[at + 1]?.form !== "and" || !other) return false;
  return (
    ["he", "she", "i", "they", "another"].includes(other.form) ||
    index.isOwn("given", other.form) ||
    index.has("given", other.form)
  );
}

const social = new Set([
  "took",
  "takes",
  "grabbed",
  "snatched",
  "stole",
  "borrowed",
  "gave",
  "gives",
  "handed",
  "passed",
  "talked",
  "talks",
  "spoke",
  "said",
  "yelled",
  "threw",
  "spat",
  "laughed",
  "apologized",
  "sat",
  "stood",
  "next",
  "played",
  "plays",
  "works",
  "worked",
  "fought",
  "argued",
  "shared",
  "away",
  "waited",
  "ran",
  "waved",
]);

/** Was something taken from or said to somebody just before: "took the ball from May", "yelled at Art"? */
const isAboutPeople = (reading: Reading, at: number) =>
  leadsToPerson.has(formAt(reading, at - 1)) &&
  [2, 3, 4, 5, 6].some((back) => social.has(formAt(reading, at - back)));

const mostWords = 3;

/** How many words from here on are one name of several: "Mary Ann", "de la Cruz"; 0 where none are. */
function wordsOfName({ tokens, index }: Reading, at: number): number {
  for (let many = mostWords; many > 1; many -= 1) {
    const together = tokens.slice(at, at + many);
    const form = together.map((token) => token.form).join("");
    const isOther = (["given", "family"] as const).some(
      (kind) => index.has(kind, form) && !index.isOwn(kind, form),
    );
    if (together.length === many && isOther && together.some(({ isCapital }) => isCapital)) return many;
  }
  return 0;
}

const hasInnerCapitals = ({ tokens }: Reading) =>
  tokens.some(({ isCapital, isFirst, form }) => isCapital && !isFirst && form !== "i");

/** A word that is a name and an ordinary word: is it the name here? */
function isNameHere(reading: Reading, at: number): boolean {
  const { tokens, index, hasCase } = reading;
  const token = tokens[at];
  if (!token) return false;
  const [before, after] = [formAt(reading, at - 1), formAt(reading, at + 1)];
  const isBesideFamily = [at - 1, at + 1].some(
    (place) => tokens[place]?.isCapital && index.has("family", formAt(reading, place)),
  );
  const isBeforeFamily = wordsOfName(reading, at + 1) > 0;
  if ((isBesideFamily || isBeforeFamily) && token.isCapital) return true;
  // Nothing but a person comes after such a verb without an article: "hit will".
  const isObject = takesPerson(before) && !isNoNameHere(token.form, "", after);
  if (!hasCase || !token.isCapital)
    return isObject && takesOnlyPerson(before) && after !== "of" && !hasInnerCapitals(reading);
  if (token.isPossessive) return !isNoNameHere(token.form, before, "");
  // "Line leader today: Grace."
  if (token.isAfterColon && (tokens[at + 1]?.isFirst ?? true)) return true;
  if (token.isFirst)
    return (actsAfter(reading, at) && !isNoNameHere(token.form, "", after)) || isJoined(reading, at);
  return isObject || !isNoNameHere(token.form, before, after) || isAboutPeople(reading, at);
}

/** The student's own name, unless another's family name follows: two may be called the same. */
function isOwnHere(reading: Reading, at: number): boolean {
  const { index } = reading;
  const form = formAt(reading, at);
  if (!index.isOwn("given", form) && !index.isOwn("family", form)) return false;
  const next = formAt(reading, at + 1);
  return !(index.has("family", next) && !index.isOwn("family", next));
}

/** An adult's full name: a given name that a student has too, before a family name of the staff. */
function isStaffHere(reading: Reading, at: number): boolean {
  const next = formAt(reading, at + 1);
  return next !== "" && reading.index.isStaff(next) && !reading.index.has("family", next);
}

function isNamed(reading: Reading, at: number): boolean {
  const { index, tokens } = reading;
  const isTitled = isTitle(formAt(reading, at - 1));
  const given = nameAt(reading, at, "given");
  if (given !== null && !isTitled && !isOwnHere(reading, at) && !isStaffHere(reading, at))
    if (!isWordLike(reading, given) || isNameHere(reading, at)) return true;
  const family = nameAt(reading, at, "family");
  if (family === null || index.isStaff(family) || index.isOwn("family", family)) return false;
  if (!isWordLike(reading, family)) return true;
  return (isTitled && tokens[at]?.isCapital === true) || isNameHere(reading, at);
}

/** "Lopez-Reyes", of which one part is a student's. */
function hasNamedPart(reading: Reading, { text }: Token): boolean {
  const parts = text.split("-").map(normaliseName);
  return (
    parts.length > 1 &&
    parts.some((form) =>
      (["given", "family"] as const).some(
        (kind) =>
          reading.index.has(kind, form) &&
          !reading.index.isOwn(kind, form) &&
          !reading.index.isNoName(form) &&
          !isWordLike(reading, form),
      ),
    )
  );
}

/** Initials name a student where they are written with points, or where somebody stands. */
function initialsIn(text: string, reading: Reading): NameFind[] {
  const { index, tokens } = reading;
  return [...text.matchAll(initialsPattern)].flatMap(({ 0: found, index: from }) => {
    const form = normaliseName(found);
    if (!index.has("initials", form) || index.isOwn("initials", form)) return [];
    const to = from + found.length;
    const first = tokens.findIndex((token) => token.from >= from);
    const after = tokens.findIndex((token) => token.from >= to);
    const before = formAt(reading, first - 1);
    const next = after < 0 ? "" : formAt(reading, after);
    const hasPoints = found.includes(".");
    const acts = next !== "" && isThirdPersonVerb(next) && next !== "was" && next !== "is";
    const isReached = takesPerson(before) || (leadsToPerson.has(before) && !schoolAbbreviations.has(form));
    const isNamed = acts || isReached || (hasPoints && !schoolAbbreviations.has(form));
    return isNamed ? [{ from, to, text: found, form }] : [];
  });
}

/** Puts finds in order, and those that touch or overlap into one: given and family name are one find. */
function joined(finds: readonly NameFind[], text: string): NameFind[] {
  const all: NameFind[] = [];
  for (const find of [...finds].sort((a, b) => a.from - b.from || b.to - a.to)) {
    const last = all.at(-1);
    if (last && find.from < last.to) continue;
    if (
      last &&
      /^[\s-]+$/u.test(text.slice(last.to, find.from)) &&
      !/\n/.test(text.slice(last.to, find.from))
    ) {
      last.to = find.to;
      last.text = text.slice(last.from, last.to);
      last.form = normaliseName(last.text);
    } else all.push({ ...find });
  }
  return all;
}

/**
 * Where a text seems to name another student: by given or family name, a short form, initials where somebody stands, with accents,
 * hyphens and possessives or without. A name that is an ordinary word too ("May", "Will", "Grace") counts where its capital, the verb after it or the
 * words before it say that a person is meant. It errs towards a mark too many: nothing is blocked by it.
 *
 * @param index the names that count; on a device only their hashes are known
 *
 * Source: ours. A labelled set of sentences in the tests holds how much is found and how much is marked in vain.
 */
export function findNames(text: string, index: NameIndex): NameFind[] {
  const tokens = tokensOf(text);
  const reading = { tokens, index, hasCase: /\p{Ll}/u.test(text) && /\p{Lu}/u.test(text) };
  const named = tokens
    .filter((token, at) => isNamed(reading, at) || hasNamedPart(reading, token))
    .map(({ from, to, text: written, form }) => ({ from, to, text: written, form }));
  const several = tokens.flatMap(({ from }, at) => {
    const last = tokens[at + wordsOfName(reading, at) - 1];
    if (!last || wordsOfName(reading, at) === 0) return [];
    const written = text.slice(from, last.to);
    return [{ from, to: last.to, text: written, form: normaliseName(written) }];
  });
  // What names nobody here may be two words, as it was marked.
  return joined([...named, ...several, ...initialsIn(text, reading)], text).filter(
    ({ form }) => !index.isNoName(form),
  );
}
