import { findingsEn, type FindingWords } from "../words/en/findings.ts";
import type { Rate, RateChange } from "./rate.ts";

const schoolWeek = 5;

/** "0.57 a day (95% interval 0.38 to 0.81, widened because bad days cluster), 2.8 in five days" */
export const rateWords = (rate: Rate, words: FindingWords = findingsEn): string =>
  words.rate({ ...rate, perWeek: schoolWeek * rate.perDay });

/** Two spans in words, how many times as often, and what the test says; null where a span has no observed day. */
export const changeWords = (rates: RateChange | null, words: FindingWords = findingsEn): string =>
  rates === null ? words.notCompared() : words.change(rates.before, rates.after, rates.ratio, rates.p);
