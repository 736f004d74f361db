import { useEffect, useRef } from "react";
import { useLocation, useMatches, useRevalidator } from "react-router";
import { shownBy } from "./what-is-read.ts";

/**
 * Reads the page's data again when a student it shows changed, or when everything has to be read again.
 *
 * @param page whom the page was made for, and the server's moment at which it was made, in milliseconds of the epoch
 */
export function useLiveUpdates({ personId, madeAt }: { personId: string; madeAt: number }): void {
  const { revalidate, state } = useRevalidator();
  const shown = shownBy(useMatches(), useLocation().search);
  const shownNow = useRef(shown);
  const firstMade = useRef(madeAt);
  useEffect(() => {
    shownNow.current = shown;
  });
  useEffect(() => {
    if (!("locks" in navigator)) return;
    let leave: (() => void) | null = null;
    let over = false;
    // Not part of what a page needs to be shown. Where the network is gone by now, the page stays as it is.
    import("./follow-page.ts")
      .then(({ followPage }) => {
        const page = { personId, madeAt: firstMade.current, shown: () => shownNow.current, read: revalidate };
        if (!over) leave = followPage(page);
      })
      .catch(() => undefined);
    return () => {
      over = true;
      leave?.();
    };
  }, [personId, revalidate]);
  useEffect(() => {
    document.documentElement.dataset["live"] = state;
  }, [state]);
}
