const units =
  "zero one two three four five six seven eight nine ten eleven twelve thirteen fourteen fifteen sixteen seventeen eighteen nineteen".split(
    " ",
  );
const tens = "twenty thirty forty fifty sixty seventy eighty ninety".split(" ");

const small = [...units].reverse().join("|");
const underHundred = `(?:(?:${tens.join("|")})(?:[- ](?:${small}))?|${small})`;
const hundreds = `(?:a|${units.slice(1, 10).join("|")}) hundred(?:(?: and)? ${underHundred})?`;
const inWords = new RegExp(`\\b(?:${hundreds}|${underHundred})\\b`, "g");

function valueOf(words: string): number {
  const hundred = /^(\w+) hundred(?:(?: and)? (.+))?$/.exec(words);
  if (hundred) {
    const many = hundred[1] === "a" ? 1 : units.indexOf(hundred[1] ?? "");
    return 100 * many + (hundred[2] ? valueOf(hundred[2]) : 0);
  }
  const [first = "", second] = words.split(/[- ]/);
  const ten = tens.indexOf(first);
  if (ten === -1) return units.indexOf(first);
  return 20 + 10 * ten + (second ? units.indexOf(second) : 0);
}

/** Writes numbers in words as digits, filled up to the length they had: "thirty-five" → "35_________". */
export function digitsForWords(text: string): string {
  return text.replace(inWords, (words) => String(valueOf(words)).padEnd(words.length, "_"));
}

/** A number as part of a pattern, after `digitsForWords`: `12`, `1,200`, `2.5`, `35_________`. */
export const numberPattern =
  "(?:(?<![\\d./])\\d{1,3}(?:,\\d{3})+(?![\\d/])|(?<![\\d.,/])\\d+(?:\\.\\d+)?_*(?![\\d/_]))";

/** The value of text that `numberPattern` matched. */
export function readNumber(text: string): number {
  return Number(text.replaceAll(/[,_]/g, ""));
}
