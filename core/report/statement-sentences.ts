import type { Catalogue } from "../words/en.ts";
import type { StatementFacts } from "./statement-facts.ts";

type Words = Pick<Catalogue, "statement" | "family">;

/** Is it enough to reach the goal by its date? Or what stands in place of the answer. */
function answer(facts: StatementFacts, name: string, isPlain: boolean, words: Words): string[] {
  const { standing, metOn, dueOn, target, unit, direction, pace, gain, needed } = facts;
  const says = words.statement;
  if (standing === "met" || standing === "reached" || standing === "lost")
    return [
      isPlain
        ? words.family.standing(standing, name)
        : standing === "met"
          ? says.met(metOn)
          : says[standing](),
    ];
  if (standing === "past-due" && dueOn !== null)
    return [isPlain ? words.family.standing(standing, name) : says.pastDue(dueOn)];
  if (isPlain) return dueOn === null || pace === "none" ? [] : [says.plainPace(pace, name, dueOn)];
  if (target === null) return [says.noCriterion()];
  if (dueOn === null) return [says.noDueDate()];
  if (pace === "none") return [];
  return [
    says.pace(pace, { target, unit, direction, dueOn }),
    ...(needed === null ? [] : [says.rate({ gain, needed, unit, direction })]),
  ];
}

/**
 * The sentences of a progress statement that are drafted from the numbers: this period beside the one before and the baseline, the latest
 * point, and whether the pace is enough to reach the goal by its date.
 *
 * @param name what the student is called
 * @param isPlain in plain words for a family, without statistics
 */
export function statementSentences(
  facts: StatementFacts,
  { name, isPlain }: { name: string; isPlain: boolean },
  words: Words,
): string[] {
  const { period, now, latest, unit, occasion, isTotal, baseline, before } = facts;
  const says = words.statement;
  const level = now && {
    ...{ name, period: period.name, isOver: period.isOver, unit, occasion, isTotal, baseline, before },
    ...{ value: now.value, n: now.n, counted: now.counted },
  };
  const measured =
    level === null
      ? says.notMeasured(period.name, period.isOver)
      : now?.isBaseline
        ? (isPlain ? says.plainBaseline : says.baseline)(level)
        : (isPlain ? says.plainLevel : says.level)(level);
  // One session was just given, and a total is its latest.
  const isTold = now !== null && (now.n === 1 || isTotal);
  const last = latest && !isTold ? { ...latest, unit, occasion } : null;
  return [
    measured,
    ...(last ? [(isPlain ? says.plainLatest : says.latest)(last)] : []),
    ...answer(facts, name, isPlain, words),
  ];
}
