import { useEffect, useRef, useState } from "react";
import { say } from "./say.ts";

/** More arrivals at one time are said by their number. */
const mostSaid = 3;

/**
 * Which lines came since the first look, so that the eye is led to them: newly saved here, or by someone else meanwhile. Assistive
 * technology is told each of them once, in its sentence.
 *
 * @param savedId the line that was saved just now on this device
 */
export function useArrivals(
  lines: readonly { entryId: string; sentence: string }[],
  savedId: string | null,
): ReadonlySet<string> {
  const known = useRef<ReadonlySet<string>>(null);
  const [arrived, setArrived] = useState<ReadonlySet<string>>(() => new Set(savedId ? [savedId] : []));
  useEffect(() => {
    const before = known.current;
    known.current = new Set(lines.map(({ entryId }) => entryId));
    // On the first look only what was saved just now is new.
    const fresh = lines.filter(({ entryId }) => (before ? !before.has(entryId) : entryId === savedId));
    if (fresh.length === 0) return;
    setArrived(new Set(fresh.map(({ entryId }) => entryId)));
    if (fresh.length > mostSaid) say(`${fresh.length} new lines in the report`);
    else
      for (const { entryId, sentence } of fresh)
        say(`${entryId === savedId ? "Saved" : "New in the report"}: ${sentence}`);
  }, [lines, savedId]);
  return arrived;
}
