import { isThirdPersonVerb, takesPerson } from "./classroom-verbs.ts";
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
  /** Is this normalised form a name of that kind of a student other than the one the text is about? */
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
}

const wordPattern = /[\p{L}\p{N}][\p{L}\p{M}\p{N}’'ʼ-]*/gu;
const initialsPattern =
  /(?<![\p{L}\p{N}])\p{Lu}\.[ -]?\p{Lu}(?:\.|(?![\p{L}\p{N}]))|(?<![\p{L}\p{N}.])\p{Lu}{2,3}(?![\p{L}\p{N}])/gu;
const sentenceEnd = /(?:^|[.!?:…\n\r•]|(?:^|\s)[-–—*])["“”'‘(\s]*$/u;

function tokensOf(text: string): Token[] {
  return [...text.matchAll(wordPattern)].map(({ 0: found, index }) => {
    const written = found.replace(/[’'ʼ-]+$/u, "");
    return {
      ...{ from: index, to: index + written.length, text: written, form: normaliseName(found) },
      isCapital: /^\p{Lu}/u.test(written),
      isPossessive: /[’'ʼ]s$|s[’'ʼ]$/u.test(found),
      isFirst: sentenceEnd.test(text.slice(0, index)),
    };
  });
}

/** A name without its apostrophe, as hasty writers leave it out: "Priyas book". */
const withoutS = (form: string) => (/.{4,}s$/.test(form) ? form.slice(0, -1) : null);

class Reading {
  constructor(
    readonly tokens: readonly Token[],
    readonly index: NameIndex,
    /** Without any small or any capital letter, capitals tell nothing. */
    readonly hasCase: boolean,
  ) {}

  formAt(at: number): string {
    return this.tokens[at]?.form ?? "";
  }

  isWordLike(form: string): boolean {
    return nameLikeWords.has(form) || this.index.isWord(form);
  }

  /** The form under which the word is a name of that kind; null where it is none. */
  nameAt(at: number, kind: NameKind): string | null {
    const { index } = this;
    const form = this.formAt(at);
    if (form === "" || index.isNoName(form)) return null;
    if (index.has(kind, form)) return form;
    const stem = withoutS(form);
    return stem !== null && !this.isWordLike(form) && !this.isWordLike(stem) && index.has(kind, stem)
      ? stem
      : null;
  }

  /** Does what follows say what somebody did, so that the word before is a person? */
  actsAfter(at: number): boolean {
    const [next, afterIt] = [this.formAt(at + 1), this.formAt(at + 2)];
    if (next === "") return false;
    if (next === "was" || next === "is")
      return saysHowSomebodyIs(afterIt) || !nameLikeWords.has(this.formAt(at));
    return isThirdPersonVerb(next);
  }

  /** Does what stands before lead to a person: "hit Will", "next to Grace"? */
  isReached(at: number): boolean {
    const before = this.formAt(at - 1);
    return takesPerson(before) || leadsToPerson.has(before);
  }

  /** A word that is a name and an ordinary word: is it the name here? */
  isNameHere(at: number): boolean {
    const token = this.tokens[at];
    if (!token) return false;
    const [before, after] = [this.formAt(at - 1), this.formAt(at + 1)];
    const neighbours = [at - 1, at + 1].some(
      (place) => this.index.has("family", this.formAt(place)) && this.tokens[place]?.isCapital,
    );
    if (neighbours && token.isCapital) return true;
    // "hit will": nothing but a person comes after it without an article.
    const isHit = takesPerson(before) && !leadsToPerson.has(after);
    if (!this.hasCase || !token.isCapital)
      return (
        isHit &&
        !isNoNameHere(token.form, "", after) &&
        after !== "of" &&
        (!this.hasCase || !this.someCapitals())
      );
    if (token.isPossessive && !isNoNameHere(token.form, before, "")) return true;
    if (token.isFirst)
      return this.actsAfter(at) && !isNoNameHere(token.form, "", after) ? true : this.isJoined(at);
    if (isHit) return true;
    return !isNoNameHere(token.form, before, after) || (this.isReached(at) && this.isAboutPeople(at));
  }

  /** "Grace and him", "Will, Tobias and Wren" */
  isJoined(at: number): boolean {
    const next = this.tokens[at + 1];
    const other = this.tokens[at + 2];
    if (next?.form !== "and" || !other) return false;
    return (
      ["he", "she", "i", "they", "another"].includes(other.form) ||
      this.index.isOwn("given", other.form) ||
      this.index.has("given", other.form)
    );
  }

  /** Was something taken from or said to somebody just before: "took the ball from May", "yelled at Art"? */
  isAboutPeople(at: number): boolean {
    const socially =
      /^(?:took|takes|grabbed|snatched|stole|borrowed|gave|gives|handed|passed|talked|talks|spoke|said|yelled|threw|spat|laughed|apologized|sat|stood|next|played|plays|works|worked|fought|argued|shared|away|waited|ran|waved)$/;
    return [1, 2, 3, 4, 5].some((back) => socially.test(this.formAt(at - 1 - back)));
  }

  someCapitals(): boolean {
    return this.tokens.some(({ isCapital, isFirst, form }) => isCapital && !isFirst && form !== "i");
  }

  isNamed(at: number): NameKind | null {
    const { index } = this;
    const token = this.tokens[at];
    if (!token) return null;
    const titled = isTitle(this.formAt(at - 1));
    const given = this.nameAt(at, "given");
    if (given !== null && !titled && !this.isOwnHere(at) && !this.isStaffHere(at)) {
      if (!this.isWordLike(given) || this.isNameHere(at)) return "given";
    }
    const family = this.nameAt(at, "family");
    if (family === null || index.isStaff(family) || index.isOwn("family", family)) return null;
    if (!this.isWordLike(family)) return "family";
    return (titled && token.isCapital) || this.isNameHere(at) ? "family" : null;
  }

  /** The student's own name, unless another's family name follows: two may be called the same. */
  isOwnHere(at: number): boolean {
    const { index } = this;
    if (!index.isOwn("given", this.formAt(at)) && !index.isOwn("family", this.formAt(at))) return false;
    const next = this.formAt(at + 1);
    return !(index.has("family", next) && !index.isOwn("family", next));
  }

  /** An adult's full name: "Grace Lindqvist" of the staff. */
  isStaffHere(at: number): boolean {
    const next = this.formAt(at + 1);
    return next !== "" && this.index.isStaff(next) && !this.index.has("family", next);
  }
}

/** Initials name a student where they are written with points, or where somebody stands. */
function initialsIn(text: string, reading: Reading): NameFind[] {
  const { index, tokens } = reading;
  return [...text.matchAll(initialsPattern)].flatMap(({ 0: found, index: from }) => {
    const form = normaliseName(found);
    if (!index.has("initials", form) || index.isOwn("initials", form) || index.isNoName(form)) return [];
    const to = from + found.length;
    const first = tokens.findIndex((token) => token.from >= from);
    const after = tokens.findIndex((token) => token.from >= to);
    const before = reading.formAt(first - 1);
    const next = after < 0 ? "" : reading.formAt(after);
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
  const reading = new Reading(tokens, index, /\p{Ll}/u.test(text) && /\p{Lu}/u.test(text));
  const named = tokens.flatMap((token, at): NameFind[] => {
    if (reading.isNamed(at) !== null)
      return [{ from: token.from, to: token.to, text: token.text, form: token.form }];
    // "Lopez-Reyes" of which one part is a student's.
    const parts = token.text.split("-");
    if (parts.length < 2) return [];
    return parts.some((part) => {
      const form = normaliseName(part);
      return (["given", "family"] as const).some(
        (kind) =>
          index.has(kind, form) &&
          !index.isOwn(kind, form) &&
          !index.isNoName(form) &&
          !reading.isWordLike(form),
      );
    })
      ? [{ from: token.from, to: token.to, text: token.text, form: token.form }]
      : [];
  });
  return joined([...named, ...initialsIn(text, reading)], text);
}
