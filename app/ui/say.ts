import { useEffect, useRef } from "react";

const waiting: string[] = [];

/**
 * Has assistive technology say something that is otherwise only seen: a new view, a mark, what was saved. The root of the page holds
 * the one place for it. What is said within one moment is said together.
 */
export function say(words: string): void {
  if (waiting.push(words) > 1) return;
  setTimeout(() => {
    const place = document.getElementById("said");
    const said = waiting.splice(0).join("; ");
    // The same words twice are a change too.
    if (place) place.textContent = place.textContent === said ? `${said}\u00a0` : said;
  }, 50);
}

/** Gives the focus to the heading of the view, where what had it is gone. */
export function focusHeading(): void {
  document.querySelector<HTMLElement>("main h1")?.focus({ preventScroll: true });
}

/** Says the words when `what` is another one than before, and not when the view is first shown. */
export function useSaid(what: string | number | undefined, words: string): void {
  const before = useRef(what);
  useEffect(() => {
    if (what !== before.current && words !== "") say(words);
    before.current = what;
  }, [what, words]);
}
