import type { RevisedContent, Revision } from "../model/revision.ts";
import { criterionWords } from "../criteria/criterion-words.ts";
import { criterionEn, type CriterionWords } from "../words/en/criterion.ts";
import { goalHistoryEn, type GoalHistoryWords } from "../words/en/goal-history.ts";

/** One version of a goal as its history keeps it. */
export type GoalVersion = Pick<Revision<"goal">, "revision" | "act" | "by" | "on" | "reason" | "content">;
type SetUp = RevisedContent["goal"]["setUp"];

export interface HistoryLine {
  revision: number;
  on: string;
  by: string | null;
  reason: string;
  /** "Criterion since Oct 12: 80% in 3 of 4 sessions; before: 70% in one session." */
  said: string;
}

/** The areas of a language that say it. */
interface Words {
  goalHistory: GoalHistoryWords;
  criterion: CriterionWords;
}

const criterionOf = ({ criterion, measure }: SetUp, words: Words) =>
  criterion && criterionWords(criterion, measure, words.criterion);

function changes(before: SetUp, now: SetUp, since: string, words: Words): string[] {
  const says = words.goalHistory;
  const isSame = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
  const [was, is] = [criterionOf(before, words), criterionOf(now, words)];
  return [
    before.wording === now.wording ? "" : says.wording(since, before.wording),
    was === is ? "" : says.criterion(since, is, was),
    before.measure.kind !== now.measure.kind
      ? says.kind(since, now.measure.kind, before.measure.kind)
      : isSame(before.measure, now.measure)
        ? ""
        : says.measure(since),
    before.dueOn === now.dueOn ? "" : says.due(now.dueOn, before.dueOn),
    before.number === now.number ? "" : says.number(now.number, before.number),
    before.title === now.title ? "" : says.title(now.title, before.title),
  ].filter(Boolean);
}

/** What happened to a goal, latest first, each step with what was before. */
export function goalHistory(
  versions: readonly GoalVersion[],
  words: Words = { goalHistory: goalHistoryEn, criterion: criterionEn },
): HistoryLine[] {
  const says = words.goalHistory;
  return versions
    .map(({ revision, act, by, on, reason, content: { fromOn, setUp } }, index) => {
      const before = versions[index - 1]?.content.setUp;
      const changed = before ? changes(before, setUp, fromOn, words) : [];
      const steps =
        act === "made"
          ? [says.setUp(criterionOf(setUp, words))]
          : act === "changed"
            ? changed.length > 0
              ? changed
              : [says.changed()]
            : [says.act(act, fromOn)];
      return { revision, on, by, reason: reason ?? "", said: `${steps.join(". ")}.` };
    })
    .reverse();
}
