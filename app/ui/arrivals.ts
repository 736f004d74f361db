import { useEffect, useRef, useState } from "react";

/** Which ids came since the first look, so that the eye is led to them: newly saved here, or by someone else meanwhile. */
export function useArrivals(ids: readonly string[], savedId: string | null): ReadonlySet<string> {
  const known = useRef<ReadonlySet<string> | null>(null);
  const [arrived, setArrived] = useState<ReadonlySet<string>>(() => new Set(savedId ? [savedId] : []));
  const key = ids.join(" ");
  useEffect(() => {
    const current = key.split(" ");
    const before = known.current;
    known.current = new Set(current);
    if (before === null) return;
    const fresh = current.filter((id) => !before.has(id));
    if (fresh.length > 0) setArrived(new Set(fresh));
  }, [key]);
  useEffect(() => {
    if (savedId) setArrived(new Set([savedId]));
  }, [savedId]);
  return arrived;
}
