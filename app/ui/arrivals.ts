import { useEffect, useRef, useState } from "react";
import { say } from "./say.ts";

/** More arrivals at one time are said by their number. */
const mostSaid = 3;

/**
 * Which lines came since the first look, so that the eye is led to them: newly saved here, or by someone else meanwhile. Assistive
 * technology is told each of them once, in its sentence.
 *
 * @param savedId the line that was saved just now on this device
 * @param of what list it is; where it is another one, nothing in it has arrived
 */
export function useArrivals(
  lines: readonly { entryId: string; sentence: string }[],
  savedId: string | null,
  of = "",
): ReadonlySet<string> {
  const known = useRef<{ of: string; ids: ReadonlySet<string> } | null>(null);
  const [arrived, setArrived] = useState<ReadonlySet<string>>(() => new Set(savedId ? [savedId] : []));
  const saidSaved = useRef<string | null>(null);
  useEffect(() => {
    const before = known.current;
    known.current = { of, ids: new Set(lines.map(({ entryId }) => entryId)) };
    const saved = lines.find(({ entryId }) => entryId === savedId);
    if (saved && saidSaved.current !== saved.entryId) {
      saidSaved.current = saved.entryId;
      say(`Saved: ${saved.sentence}`);
      setArrived(new Set([saved.entryId]));
    }
    if (before?.of !== of) return;
    const fresh = lines.filter(({ entryId }) => !before.ids.has(entryId) && entryId !== savedId);
    if (fresh.length === 0) return;
    setArrived(new Set(fresh.map(({ entryId }) => entryId)));
    if (fresh.length > mostSaid) say(`${fresh.length} new lines in the report`);
    else for (const { sentence } of fresh) say(`New in the report: ${sentence}`);
  }, [lines, savedId, of]);
  return arrived;
}
