import { yearsLater } from "../dates/a-year-later.ts";
import { recordKinds, type RecordKind, type RetentionRules } from "./record-kinds.ts";

/**
 * The last day on which a kind of record has to be there: so many years after the day the student left. The whole record stays for as long as
 * the part of it that stays longest.
 *
 * @param leftOn `YYYY-MM-DD`
 * @returns a day for each kind that has a rule; the rules are the school's, of the law of its state
 */
export function keptUntil(leftOn: string, rules: RetentionRules): Partial<Record<RecordKind, string>> {
  const until: Partial<Record<RecordKind, string>> = {};
  for (const kind of recordKinds) {
    const rule = rules[kind];
    if (rule) until[kind] = yearsLater(leftOn, rule.years);
  }
  if (until.record !== undefined) until.record = Object.values(until).sort().at(-1) ?? until.record;
  return until;
}
