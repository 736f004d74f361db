const formats = {
  and: new Intl.ListFormat("en-GB", { type: "conjunction" }),
  or: new Intl.ListFormat("en-GB", { type: "disjunction" }),
};

/** A list in a sentence: "shouting", "shouting and crying", "shouting, crying and hitting". */
export function listed(words: readonly string[], last: "and" | "or" = "and"): string {
  return formats[last].format(words);
}
