import { useEffect, useRef } from "react";

function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName))
  );
}

/**
 * Keyboard shortcuts: `"u"`, `"mod+k"` (Ctrl or ⌘), or two in a row such as `"g c"`. Single letters never fire while
 * typing, with a modifier held, or while a dialog is open.
 */
export function useKeys(keys: Record<string, () => void>): void {
  const latest = useRef(keys);
  useEffect(() => {
    latest.current = keys;
  });
  useEffect(() => {
    let before = "";
    let beforeAt = 0;
    function onKey(event: KeyboardEvent) {
      if (event.defaultPrevented || event.isComposing) return;
      const key = event.key.toLowerCase();
      const modified = event.ctrlKey || event.metaKey;
      if (!modified && (isTyping(event.target) || document.querySelector("dialog[open]"))) return;
      if (event.altKey) return;
      const chord = event.timeStamp - beforeAt < 1500 ? latest.current[`${before} ${key}`] : undefined;
      const act = modified ? latest.current[`mod+${key}`] : (chord ?? latest.current[key]);
      before = key;
      beforeAt = event.timeStamp;
      if (!act) return;
      event.preventDefault();
      act();
    }
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);
}
