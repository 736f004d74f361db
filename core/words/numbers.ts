const noBreak = "\u00a0";
const words = ["none", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"];

/** A count in a sentence: in words up to ten, in digits after. */
export function countWord(count: number): string {
  return words[count] ?? String(count);
}

export function capitalise(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

export function plural(count: number, one: string, many = `${one}s`): string {
  return count === 1 ? one : many;
}

/** A percentage as shown: whole, with a space that does not break. 66.67 → "67 %". */
export function percent(value: number): string {
  return `${Math.round(value)}${noBreak}%`;
}

/** A percentage with the counts it came from: "70 % (7 of 10)". */
export function percentWithCounts(score: {
  value: number | null;
  numerator: number | null;
  denominator: number | null;
}): string {
  if (score.value === null) return "not scored";
  if (score.numerator === null || score.denominator === null) return percent(score.value);
  return `${percent(score.value)} (${counts(score.numerator, score.denominator)})`;
}

export function counts(numerator: number, denominator: number): string {
  return `${numerator} of ${denominator}`.replaceAll(" ", noBreak);
}

/** A slope in points a week, to the half point while it is small: 5.4 → "5½", 0.2 → "0". */
export function points(value: number): string {
  const halves = Math.round(Math.abs(value) * 2);
  if (halves > 40) return String(Math.round(Math.abs(value)));
  const whole = Math.floor(halves / 2);
  if (halves % 2 === 0) return String(whole);
  return whole === 0 ? "½" : `${whole}½`;
}
