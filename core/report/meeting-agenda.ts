import { dateOfDay, dayNumber } from "../dates/day-number.ts";
import type { StandingKey } from "../progress/standing.ts";

/** Why a goal is talked of first: its criterion is reached, it is behind, or it is due soon. */
export type AgendaReason = "reached" | "behind" | "due" | "other";

/** What the agenda asks of a goal. */
export interface AgendaGoal {
  goalId: string;
  /** Null where nothing was measured. */
  standing: StandingKey | null;
  /** `YYYY-MM-DD` */
  dueOn: string | null;
}

/** So many days ahead a due date is soon. */
const soonDays = 45;

const reached: readonly StandingKey[] = ["reached", "met"];
const behind: readonly StandingKey[] = ["behind", "lost", "past-due"];

function reasonOf({ standing, dueOn }: AgendaGoal, today: string): AgendaReason {
  if (standing && reached.includes(standing)) return "reached";
  if (standing && behind.includes(standing)) return "behind";
  return dueOn !== null && dueOn <= dateOfDay(dayNumber(today) + soonDays) ? "due" : "other";
}

/**
 * The goals of a meeting in the order in which they are talked of: those that need a decision first (criterion reached, behind, due within
 * 45 days), then the others. Within each the order of the IEP stays.
 *
 * @param today the school's own date, `YYYY-MM-DD`
 */
export function meetingAgenda<Goal extends AgendaGoal>(
  goals: readonly Goal[],
  today: string,
): { goal: Goal; reason: AgendaReason }[] {
  const order: readonly AgendaReason[] = ["reached", "behind", "due", "other"];
  const all = goals.map((goal) => ({ goal, reason: reasonOf(goal, today) }));
  return order.flatMap((reason) => all.filter((one) => one.reason === reason));
}
