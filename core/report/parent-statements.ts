import type { ParentStatement } from "../retention/rights-request.ts";
import type { Catalogue } from "../words/en.ts";
import type { ReportSection } from "./document.ts";

/** Which parts of a record a report holds. */
export interface HeldParts {
  goals: readonly { goalId: string; number: string; title: string }[];
  incidents: boolean;
}

/**
 * What parents stated of the parts of the record that a report holds, as they wrote it: 34 CFR 99.21(c)(2) asks that a statement is disclosed
 * whenever the part is that it is about. No setting of an audience leaves it out.
 *
 * @returns null where there is none
 */
export function parentStatementsSection(
  statements: readonly ParentStatement[],
  { goals, incidents }: HeldParts,
  words: Catalogue,
): ReportSection | null {
  const says = words.report.parents;
  const lists = statements.flatMap(({ statementId, part, goalId, byWhom, words: text, receivedOn }) => {
    const goal = goals.find((one) => one.goalId === goalId);
    if ((part === "goal" && !goal) || (part === "incidents" && !incidents)) return [];
    const about = goal ? `${words.report.goal()} ${goal.number} ${goal.title}` : null;
    const paragraphs = text.split(/\n+/).filter((one) => one.trim() !== "");
    return {
      label: says.by(byWhom, receivedOn, part === "incidents" ? says.incidents : about),
      items: paragraphs.map((one, at) => ({
        ...{ id: `${statementId} ${at}`, text: one, aside: "", page: "rights#statements" },
      })),
    };
  });
  return lists.length === 0
    ? null
    : { name: "parents", label: says.title, blocks: [{ kind: "meeting", lists }] };
}
