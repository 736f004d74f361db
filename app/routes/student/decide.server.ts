import { defineForm, type Submitted } from "#app/kit/define-action.server.ts";
import * as z from "zod/mini";
import { redirect } from "react-router";
import { type DecisionKind, decisionKinds, phaseKinds } from "#core/model/decision-kinds.ts";
import { dateOfDay, dayNumber } from "#core/dates/day-number.ts";
import { isId, type PersonScope } from "#server/access/scope.ts";
import { Invalid, notFound } from "#server/errors.ts";
import { addDecision } from "#server/db/decisions.ts";
import { date, id, optionalText, type Problems, readForm } from "#app/ui/form-data.ts";

const form = z.object({
  decisionId: id,
  phaseId: id,
  kind: z.enum(decisionKinds, "Choose what is decided."),
  on: date,
  reason: optionalText(2000),
  phaseName: optionalText(100),
});
/** A phase may be planned for the weeks ahead. */
const daysAhead = 60;

/** What is wrong with the day or the reason of a decision. */
export function problemsOfDecision(
  kind: DecisionKind,
  { on, reason }: { on: string; reason: string | null },
  today: string,
): Problems {
  const isPhase = phaseKinds.includes(kind);
  const problems: Problems = {};
  if (on > (isPhase ? dateOfDay(dayNumber(today) + daysAhead) : today))
    problems["on"] = isPhase ? "A phase can begin at most two months from now." : "This day is yet to come.";
  if (reason === null && kind !== "taught as planned")
    problems["reason"] = "Give a reason: it appears in the report.";
  return problems;
}

/**
 * Adds what a form decides about a goal.
 *
 * @throws Invalid with what is wrong beside its field
 */
export async function saveDecision(
  scope: PersonScope,
  ids: { studentId: string; goalId: string },
  posted: FormData,
): Promise<void> {
  const read = readForm(posted, form);
  const problems: Problems = read.ok ? {} : read.problems;
  if (read.ok) {
    const { kind, on, reason, phaseName } = read.values;
    Object.assign(problems, problemsOfDecision(kind, { on, reason }, scope.today));
    if (phaseName === null && phaseKinds.includes(kind)) problems["phaseName"] = "Name the phase.";
  }
  if (!read.ok || Object.keys(problems).length > 0) throw new Invalid(problems);
  const { decisionId, phaseId, kind, on, reason, phaseName } = read.values;
  await addDecision(scope, ids, {
    ...{ decisionId, kind, on, reason: reason ?? "" },
    phase: phaseKinds.includes(kind) && phaseName !== null ? { phaseId, name: phaseName } : null,
  });
}

/** Keeps what was decided at a goal's chart. */
export const decide = defineForm({
  permission: ({ form: posted }: Submitted<{ studentId: string; goalId?: string }>) =>
    posted.get("kind") === "taught as planned" ? "taught.note" : "goal.edit",
  async run(scope, { params: { studentId, goalId }, form: posted }) {
    const ids = { studentId, goalId: isId(goalId) ? goalId : notFound() };
    await saveDecision(scope, ids, posted);
    return redirect(`/students/${ids.studentId}/goals/${ids.goalId}`);
  },
});
