import { useNavigation } from "react-router";
import { listed } from "#core/words/lists.ts";
import { plural } from "#core/words/numbers.ts";

/** "2 more presses and 1 taken back" */
export const lateWords = ({ more, fewer }: { more: number; fewer: number }): string =>
  listed([
    ...(more > 0 ? [`${more} more ${plural(more, "press", "presses")}`] : []),
    ...(fewer > 0 ? [`${fewer} taken back`] : []),
  ]);

/** The lead's answer: the entry is changed, or stays. They stand in a form to the page of the entry. */
export function LateAnswers() {
  const busy = useNavigation().state !== "idle";
  return [
    { intent: "late yes", label: "Count them" },
    { intent: "late no", label: "Leave the entry as it is" },
  ].map(({ intent, label }) => (
    <button key={intent} className="btn btn-plain h-11" name="intent" value={intent} disabled={busy}>
      {label}
    </button>
  ));
}
