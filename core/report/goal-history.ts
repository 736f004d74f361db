import { kindNames } from "../measures/kind-names.ts";
import type { RevisedContent, Revision } from "../model/revision.ts";
import { criterionWords } from "../criteria/criterion-words.ts";
import { shortDate } from "../words/dates.ts";

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

const criterionOf = ({ criterion, measure }: SetUp) =>
  criterion ? criterionWords(criterion, measure) : "none";

function changes(before: SetUp, now: SetUp, since: string): string[] {
  const from = `since ${shortDate(since)}`;
  const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
  const [was, is] = [criterionOf(before), criterionOf(now)];
  return [
    before.wording === now.wording ? "" : `Wording changed ${from}; before: “${before.wording}”`,
    was === is ? "" : `Criterion ${from}: ${is}; before: ${was}`,
    before.measure.kind === now.measure.kind
      ? same(before.measure, now.measure)
        ? ""
        : `Measure put differently ${from}`
      : `Measured as ${kindNames[now.measure.kind].name.toLowerCase()} ${from}; before: ${kindNames[before.measure.kind].name.toLowerCase()}`,
    before.dueOn === now.dueOn
      ? ""
      : `Due ${now.dueOn ? shortDate(now.dueOn) : "on no date"}; before: ${before.dueOn ? shortDate(before.dueOn) : "no date"}`,
    before.number === now.number ? "" : `Number ${now.number}; before: ${before.number}`,
    before.title === now.title ? "" : `Named “${now.title}”; before: “${before.title}”`,
  ].filter(Boolean);
}

/** What happened to a goal, latest first, each step with what stood before. */
export function goalHistory(versions: readonly GoalVersion[]): HistoryLine[] {
  return versions
    .map(({ revision, act, by, on, reason, content: { fromOn, setUp } }, index) => {
      const before = versions[index - 1]?.content.setUp;
      const changed = before ? changes(before, setUp, fromOn) : [];
      const said =
        act === "made"
          ? `Set up: ${criterionOf(setUp) === "none" ? "no criterion yet" : criterionOf(setUp)}.`
          : act === "changed"
            ? `${changed.length > 0 ? changed.join(". ") : "Set-up changed"}.`
            : `${act.charAt(0).toUpperCase()}${act.slice(1)} on ${shortDate(fromOn)}.`;
      return { revision, on, by, reason: reason ?? "", said };
    })
    .reverse();
}
