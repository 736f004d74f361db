import { useEffect, useRef, useState } from "react";
import { say } from "./say.ts";

/**
 * Which lines came since the first look, so that the eye is led to them: newly saved here, or by someone else meanwhile. Assistive
 * technology is told each of them once, in its sentence.
 *
 * @param savedId the line that was saved just now on this device
 */
export function useArrivals(
  lines: readonly { entryId: string; sentence: string; revision: number }[],
  savedId: string | null,
): ReadonlySet<string> {
  const known = useRef<ReadonlyMap<string, number>>(null);
  const [arrived, setArrived] = useState<ReadonlySet<string>>(() => new Set(savedId ? [savedId] : []));
  useEffect(() => {
    const before = known.current;
    known.current = new Map(lines.map(({ entryId, revision }) => [entryId, revision]));
    // On the first look only what was saved just now is new; what was corrected here is said again.
    const fresh = lines.filter(({ entryId, revision }) =>
      entryId === savedId ? before?.get(entryId) !== revision : before && !before.has(entryId),
    );
    if (fresh.length === 0) return;
    setArrived(new Set(fresh.map(({ entryId }) => entryId)));
    for (const { entryId, sentence } of fresh) say(`${entryId === savedId ? "Saved" : "New"}: ${sentence}`);
  }, [lines, savedId]);
  return arrived;
}
