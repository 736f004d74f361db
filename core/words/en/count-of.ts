import { countWord, plural } from "../numbers.ts";

/** A count with what is counted: "no points", "one point", "two points", "12 points". */
export const countOf = (count: number, one: string, many = `${one}s`): string =>
  `${count === 0 ? "no" : countWord(count)} ${plural(count, one, many)}`;
