import type { WeekGoal } from "./week-goal.ts";

/** How far a statement is, as a shape: full, half full, empty; dashed where nothing was measured. The word stands beside it. */
export function StateMark({ state, isEmpty }: { state: WeekGoal["state"]; isEmpty: boolean }) {
  return (
    <svg viewBox="0 0 16 16" className="size-3 shrink-0 self-center text-base-content" aria-hidden="true">
      <circle
        cx="8"
        cy="8"
        r="6.8"
        fill={state === "ready" ? "currentColor" : "none"}
        stroke="currentColor"
        strokeWidth="1.6"
        strokeDasharray={isEmpty && state === "to write" ? "2.6 2.4" : undefined}
      />
      {state === "drafted" ? <path d="M8 1.2a6.8 6.8 0 0 0 0 13.6Z" fill="currentColor" /> : null}
    </svg>
  );
}
