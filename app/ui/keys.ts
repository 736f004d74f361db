import { useEffect, useEffectEvent } from "react";

/** A field of a closed dialog keeps the focus until the next frame: a key pressed in between is not typed into it. */
function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName)) &&
    !target.closest("dialog:not([open])")
  );
}

/**
 * Keyboard shortcuts: `"u"`, `"mod+k"` (Ctrl or ⌘), or two in a row such as `"g c"`. Single letters never fire while
 * typing, with a modifier held, or while a dialog is open.
 *
 * Ours: the smallest library for keys is 0.9 kB on every page (measured, gzipped) where this is 0.4, and does not know of dialogs.
 */
export function useKeys(keys: Record<string, () => void>): void {
  const actOf = useEffectEvent((name: string): (() => void) | undefined => keys[name]);
  useEffect(() => {
    let before = "";
    let beforeAt = 0;
    function onKey(event: KeyboardEvent) {
      if (event.defaultPrevented || event.isComposing) return;
      const key = event.key.toLowerCase();
      const modified = event.ctrlKey || event.metaKey;
      if (!modified && (isTyping(event.target) || document.querySelector("dialog[open]"))) return;
      if (event.altKey) return;
      const chord = event.timeStamp - beforeAt < 1500 ? actOf(`${before} ${key}`) : undefined;
      const act = modified ? actOf(`mod+${key}`) : (chord ?? actOf(key));
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
